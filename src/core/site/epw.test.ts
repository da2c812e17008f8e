import { inventedEpw, writeEpw } from "../../../scripts/testing/inventedEpw";
import { EPW_FIELDS, epwClimate, parseEpw } from "./epw";

const file = inventedEpw();
const text = writeEpw(file);
const lines = text.split("\r\n");

describe("typical-weather files", () => {
  test("written and parsed, the whole file comes back: headings, stamps, flags, 29 fields of 8,760 hours, missing ones missing", () => {
    const read = parseEpw(text);
    if (!read.ok) throw new Error(read.problem.kind);
    expect(read.file).toEqual(file);
    expect(read.file.flags).toHaveLength(8760);
    expect(Object.keys(read.file.series)).toHaveLength(EPW_FIELDS.length - 1);
    expect(Number.isNaN(read.file.series.snowDepthCm[100])).toBe(true);
    expect(read.file.series.presentWeatherObservation[0]).toBe(9);
    expect(writeEpw(read.file)).toBe(text);
  });
  test("Unix line ends, a byte mark and records without the last fields are read too", () => {
    const short = lines.map((l, i) => (i < 8 || !l ? l : l.split(",").slice(0, 32).join(","))).join("\n");
    const read = parseEpw(`\uFEFF${short}`);
    expect(read.ok && read.file.fieldsPerRecord).toBe(26);
    expect(read.ok && writeEpw(read.file).split("\r\n")[20]).toBe(short.split("\n")[20]);
  });
  test.each([
    ["another kind of file", "month,global\n1,2", { kind: "notEpw" }],
    [
      "a heading lost",
      [lines[0], ...lines.slice(2)].join("\n"),
      { kind: "headingMissing", heading: "DESIGN CONDITIONS", line: 2 },
    ],
    [
      "no latitude",
      [lines[0].replace("46.31", "x"), ...lines.slice(1)].join("\n"),
      { kind: "location", field: "latitude" },
    ],
    ["cut between lines", lines.slice(0, 5000).join("\n"), { kind: "cutShort", records: 4992, expected: 8760 }],
    [
      "cut within a line",
      `${lines.slice(0, 8767).join("\n")}\n2025,12,31,24`,
      { kind: "cutShort", records: 8759, lastLine: 8768 },
    ],
    [
      "a word among the numbers",
      lines.map((l, i) => (i === 100 ? l.replace(/^((?:[^,]*,){13})[^,]*/, "$1sunny") : l)).join("\n"),
      { kind: "notANumber", line: 101, field: "globalHorizontal", text: "sunny" },
    ],
    [
      "hours exchanged",
      [...lines.slice(0, 50), lines[51], lines[50], ...lines.slice(52)].join("\n"),
      { kind: "order", line: 52 },
    ],
    [
      "a short record within",
      lines.map((l, i) => (i === 200 ? "2025,1,9,1,0,x,1" : l)).join("\n"),
      { kind: "fields", line: 201, found: 7 },
    ],
  ])("%s is refused with its place", (_, broken, problem) => {
    expect(parseEpw(broken)).toMatchObject({ ok: false, problem });
  });
  test("its months: irradiation near the climate it was dealt from, clear days counted, and none when light is missing", () => {
    const climate = epwClimate(file)!;
    expect(climate.months.reduce((s, m) => s + m.globalKwhM2, 0) / 12).toBeCloseTo(3.6, 0);
    for (const m of climate.months) {
      expect(m.clearShare).toBeGreaterThan(0.05);
      expect(m.clearShare).toBeLessThan(1);
    }
    const days = new Set(
      Array.from(file.stamps.day, (d, i) =>
        file.stamps.month[i] === 6 && file.series.totalSkyCover[i] === 1 ? d : 0,
      ).filter(Boolean),
    );
    expect(climate.months[5].clearShare).toBeCloseTo(days.size / 30, 6);
    const dark = { ...file, series: { ...file.series, globalHorizontal: new Float64Array(8760).fill(NaN) } };
    expect(epwClimate(dark)).toBeNull();
  });
});
