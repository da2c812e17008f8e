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
  const field = (name: string, value: string, rows = [100]) =>
    lines
      .map((l, i) => {
        const column = 6 + EPW_FIELDS.findIndex(([n]) => n === name);
        return rows.includes(i)
          ? l
              .split(",")
              .map((c, k) => (k === column ? value : c))
              .join(",")
          : l;
      })
      .join("\n");
  test.each([
    ["dryBulbC", "-9999"],
    ["dryBulbC", "999.9"],
    ["globalHorizontal", "99999"],
    ["globalHorizontal", "-999"],
    ["windSpeed", ""],
    ["windSpeed", "NA"],
    ["relativeHumidity", "999.0"],
  ])("%s of “%s” is missing, in whatever style", (name, marker) => {
    const read = parseEpw(field(name, marker));
    if (!read.ok) throw new Error(read.problem.kind);
    expect(read.file.series[name as "windSpeed"][92]).toBeNaN();
    expect(read.setAside).toEqual({});
  });
  test.each([
    ["dryBulbC", "85"],
    ["globalHorizontal", "2400"],
    ["globalHorizontal", "-5"],
    ["windSpeed", "120"],
    ["relativeHumidity", "180"],
    ["pressurePa", "1013"],
  ])("%s of %s cannot be: left out and counted", (name, value) => {
    const read = parseEpw(field(name, value, [100, 101]));
    if (!read.ok) throw new Error(read.problem.kind);
    expect(read.file.series[name as "windSpeed"][92]).toBeNaN();
    expect(read.setAside).toEqual({ [name]: 2 });
  });
  test.each(["0x1F", "12 5", "1,2.", "12\f"])("a value of “%s” is no number", (value) =>
    expect(parseEpw(field("dryBulbC", value)).ok).toBe(false),
  );
  test.each(["2025,2,30,1,0", "2025,13,1,1,0", "2025,1,1,25,0", "x,1,1,1,0", "2025,,1,1,0"])(
    "a record of %s is no hour",
    (stamp) => {
      const spoilt = lines.map((l, i) => (i === 8 ? [stamp, ...l.split(",").slice(5)].join(",") : l)).join("\n");
      expect(parseEpw(spoilt)).toMatchObject({ ok: false, problem: { kind: "stamp", line: 9 } });
    },
  );
  test("a month with an hour missing is made of its whole days; with too few days there is none", () => {
    const whole = epwClimate(file)!.months[0];
    const one = parseEpw(field("globalHorizontal", "9999", [20]));
    expect(one.ok && epwClimate(one.file)!.months[0].globalKwhM2).toBeCloseTo(whole.globalKwhM2, 0);
    const many = parseEpw(
      field(
        "globalHorizontal",
        "9999",
        Array.from({ length: 15 }, (_, d) => 20 + 24 * d),
      ),
    );
    expect(many.ok && epwClimate(many.file)).toBeNull();
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
