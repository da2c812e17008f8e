import fc from "fast-check";
import { CLEAN, cleanChannel } from "./clean";
import { detectEncoding } from "./decode";
import { gridMean, medianInterval } from "./grid";
import type { LogSettings } from "./logData";
import { readLog, LogReader } from "./readLog";
import { HEAD_LENGTH, sniffLog } from "./sniff";
import { guessTimeFormat, parseTimestamp, TimestampReader } from "./timestamp";
import { fromWall, isZone, localDay, startOfDay, toWall, zoneOffset } from "./zone";

const ZURICH = "Europe/Zurich";

describe("zones", () => {
  test("summer and winter time of the site", () => {
    expect(zoneOffset(Date.UTC(2026, 6, 1), ZURICH)).toBe(7200000);
    expect(zoneOffset(Date.UTC(2026, 11, 1), ZURICH)).toBe(3600000);
    expect(zoneOffset(0, "UTC+05:30")).toBe(19800000);
    expect(zoneOffset(0, "UTC−3")).toBe(-10800000);
  });
  test("the hour that clocks show twice has two instants, the skipped one none", () => {
    expect(fromWall(Date.UTC(2026, 9, 25, 2, 30), ZURICH)).toEqual({
      kind: "repeated",
      utcMs: [Date.UTC(2026, 9, 25, 0, 30), Date.UTC(2026, 9, 25, 1, 30)],
    });
    expect(fromWall(Date.UTC(2026, 2, 29, 2, 30), ZURICH)).toEqual({ kind: "skipped" });
    expect(fromWall(Date.UTC(2026, 2, 29, 3, 30), ZURICH)).toEqual({
      kind: "single",
      utcMs: Date.UTC(2026, 2, 29, 1, 30),
    });
  });
  test("wall clock and back, for any instant outside the repeated hour", () => {
    for (const zone of [ZURICH, "America/New_York", "Australia/Adelaide", "Asia/Kathmandu", "UTC-04:00"]) {
      fc.assert(
        fc.property(fc.integer({ min: Date.UTC(2015, 0), max: Date.UTC(2035, 0) }), (ms) => {
          const back = fromWall(toWall(ms, zone), zone);
          if (back.kind === "repeated") expect(back.utcMs).toContain(ms);
          else expect(back).toEqual({ kind: "single", utcMs: ms });
        }),
        { numRuns: 60 },
      );
    }
  });
  test("days begin at the site's midnight", () => {
    expect(startOfDay(Date.UTC(2026, 9, 6, 10), ZURICH)).toBe(Date.UTC(2026, 9, 5, 22));
    expect(localDay(Date.UTC(2026, 9, 5, 23), ZURICH)).toBe("2026-10-06");
    expect([isZone(ZURICH), isZone("UTC+01:00"), isZone("Mars/Base")]).toEqual([true, true, false]);
  });
});

describe("timestamps", () => {
  const at = (text: string, order: "ymd" | "dmy" | "mdy", zone = ZURICH) => {
    const t = parseTimestamp(text, { kind: "calendar", order }, zone);
    return t.ok ? new Date(t.utcMs).toISOString() : t.reason;
  };
  test.each([
    ["2026-10-06 12:47:30", "ymd", "2026-10-06T10:47:30.000Z"],
    ["06.10.2026 12:47", "dmy", "2026-10-06T10:47:00.000Z"],
    ["10/06/2026 12:47:30 PM", "mdy", "2026-10-06T10:47:30.000Z"],
    ["10/6/26 1:05 am", "mdy", "2026-10-05T23:05:00.000Z"],
    ["2026-10-06T12:47:30Z", "ymd", "2026-10-06T12:47:30.000Z"],
    ["2026-10-06T12:47:30.250+05:30", "ymd", "2026-10-06T07:17:30.250Z"],
    ["20261006T124730", "ymd", "2026-10-06T10:47:30.000Z"],
    ["2026-10-06 12:47:30,5", "ymd", "2026-10-06T10:47:30.500Z"],
    ["2026/12/06 12:00", "dmy", "2026-12-06T11:00:00.000Z"],
    ["31.02.2026 12:00", "dmy", "noSuchDate"],
    ["13/13/2026 12:00", "mdy", "noSuchDate"],
    ["hello", "ymd", "unreadable"],
    ["2026-03-29 02:30:00", "ymd", "skippedHour"],
  ] as const)("%s read %s", (text, order, expected) => expect(at(text, order)).toBe(expected));

  test("Unix seconds, milliseconds and elapsed time", () => {
    expect(parseTimestamp("1791283200", { kind: "unix", unit: "s" }, "UTC")).toMatchObject({
      ok: true,
      utcMs: 1791283200000,
    });
    expect(parseTimestamp("1791283200123", { kind: "unix", unit: "ms" }, "UTC")).toMatchObject({
      ok: true,
      utcMs: 1791283200123,
    });
    expect(parseTimestamp("2,5", { kind: "elapsed", unit: "min", startMs: 1000 }, "UTC")).toMatchObject({
      ok: true,
      utcMs: 151000,
    });
    expect(parseTimestamp("", { kind: "unix", unit: "s" }, "UTC").ok).toBe(false);
  });
  test("day or month first is asked, not guessed, unless a date decides", () => {
    expect(guessTimeFormat(["05/06/2026 10:00", "06/06/2026 10:00"])).toMatchObject({ ambiguous: true });
    expect(guessTimeFormat(["05/06/2026 10:00", "13/06/2026 10:00"])).toEqual({
      format: { kind: "calendar", order: "dmy" },
      ambiguous: false,
    });
    expect(guessTimeFormat(["06/13/2026 10:00"])).toEqual({
      format: { kind: "calendar", order: "mdy" },
      ambiguous: false,
    });
    expect(guessTimeFormat(["05.06.2026 10:00"])).toMatchObject({ ambiguous: false, format: { order: "dmy" } });
    expect(guessTimeFormat(["21.4", "21.5", "21.6"])).toBeNull();
  });
});

describe("encodings", () => {
  const bytes = (...b: number[]) => Uint8Array.from(b);
  test("byte-order marks, UTF-16 without one, single-byte degree sign, binaries", () => {
    expect(detectEncoding(bytes(0xef, 0xbb, 0xbf, 65))).toMatchObject({ encoding: "utf-8", byteOrderMark: 3 });
    expect(detectEncoding(bytes(0xff, 0xfe, 65, 0))).toMatchObject({ encoding: "utf-16le" });
    expect(
      detectEncoding(Uint8Array.from("Time;T\n1;2\n".split("").flatMap((c) => [c.charCodeAt(0), 0]))),
    ).toMatchObject({ encoding: "utf-16le", byteOrderMark: 0 });
    expect(detectEncoding(Buffer.from("T (\xb0C)\n", "latin1"))).toMatchObject({ encoding: "windows-1252" });
    expect(detectEncoding(Buffer.from("T (°C)\n"))).toMatchObject({ encoding: "utf-8" });
    expect(detectEncoding(bytes())).toEqual({ kind: "empty" });
    expect(detectEncoding(bytes(0x50, 0x4b, 3, 4))).toEqual({ kind: "binary", what: "zip" });
    expect(detectEncoding(bytes(1, 2, 3, 0, 5, 0, 0, 7, 200, 3))).toMatchObject({ kind: "binary" });
  });
});

const LOG = [
  "Station 7 logger",
  "Serial 0012",
  "Time;A in (°C);A out (°C);A speed (m/s);Sun [W/m2];Remark",
  "06.10.2026 12:00:00;15,4;39,3;3,21;958,1;",
  "06.10.2026 12:00:10;15,5;39,2;3,20;957,0;door shut",
  "06.10.2026 12:00:20;15,4;39,4;3,22;959,9;",
].join("\r\n");

describe("sniffing", () => {
  const sniff = (text: string) => {
    const r = sniffLog(text, { whole: true });
    if (!r.ok) throw new Error(r.problem.kind);
    return r.layout;
  };
  test("a text longer than a head is looked at as its head is, with the last line cut off", () => {
    const row = LOG.split("\r\n").at(-1)!;
    const long = `${LOG}\r\n${`${row}\r\n`.repeat(HEAD_LENGTH / row.length)}what;is;not;looked;at`;
    expect(long.length).toBeGreaterThan(HEAD_LENGTH);
    const read = sniffLog(long, { whole: true });
    const kinds = (l: ReturnType<typeof sniff>) => l.columns.map((c) => [c.kind, c.lane, c.unit]);
    expect(read.ok && kinds(read.layout)).toEqual(kinds(sniff(LOG)));
    expect(read.rows.length).toBeLessThan(HEAD_LENGTH / row.length);
    expect(read.rows.at(-1)).toEqual(row.split(";"));
  });
  test("semicolons, decimal comma, two lines of preamble, units from the header", () => {
    const l = sniff(LOG);
    expect(l).toMatchObject({
      delimiter: ";",
      decimal: ",",
      headerRow: 2,
      firstDataRow: 3,
      timeColumns: [0],
      timeFormat: { kind: "calendar", order: "dmy" },
    });
    expect(l.columns.map((c) => [c.kind, c.lane, c.unit])).toEqual([
      [null, null, null],
      ["inlet", "A", "°C"],
      ["outlet", "A", "°C"],
      ["speed", "A", "m/s"],
      ["irradiance", null, "W/m²"],
      [null, null, null],
    ]);
  });
  test.each([
    ["T_in_B (F)", "inlet", "B", "°F"],
    ["Box 2 outlet [degC]", "outlet", "B", "°C"],
    ["laneC_Tout", "outlet", "C", null],
    ["Tin3", "inlet", "C", null],
    ["Ambient temp (C)", "ambient", null, "°C"],
    ["Pyranometer W/m2", "irradiance", null, "W/m²"],
    ["T_in%20A%20%28%C2%B0C%29", "inlet", "A", "°C"],
    ["flow_B_lpm", "volumeFlow", "B", "L/min"],
    ["Box A flow temperature (°C)", "outlet", "A", "°C"],
    ["A return flow (°C)", "inlet", "A", "°C"],
    ["A Vorlauf (°C)", "outlet", "A", "°C"],
    ["B Rücklauf [°C]", "inlet", "B", "°C"],
    ["Außentemperatur (°C)", "ambient", null, "°C"],
    ["A Volumenstrom (m3/h)", "volumeFlow", "A", "m³/h"],
    ["Einstrahlung [W/m2]", "irradiance", null, "W/m²"],
    ["A entrée (°C)", "inlet", "A", "°C"],
    ["B sortie (°C)", "outlet", "B", "°C"],
    ["A départ °C", "outlet", "A", "°C"],
    ["A retour °C", "inlet", "A", "°C"],
    ["A débit (L/min)", "volumeFlow", "A", "L/min"],
    ["A vitesse (m/s)", "speed", "A", "m/s"],
    ["température extérieure (°C)", "ambient", null, "°C"],
    ["Rayonnement (W/m²)", "irradiance", null, "W/m²"],
    ["A ingresso (°C)", "inlet", "A", "°C"],
    ["B uscita (°C)", "outlet", "B", "°C"],
    ["A mandata (°C)", "outlet", "A", "°C"],
    ["A ritorno (°C)", "inlet", "A", "°C"],
    ["A portata (L/h)", "volumeFlow", "A", "L/h"],
    ["radiazione solare (W/m2)", "irradiance", null, "W/m²"],
    ["A entrada (°C)", "inlet", "A", "°C"],
    ["B salida (°C)", "outlet", "B", "°C"],
    ["A caudal (L/min)", "volumeFlow", "A", "L/min"],
    ["temperatura exterior (°C)", "ambient", null, "°C"],
    ["A velocidad (m/s)", "speed", "A", "m/s"],
    ["D airspeed (fpm)", "speed", "D", "ft/min"],
    ["flow A (L/min)", "volumeFlow", "A", "L/min"],
    ["Wind (m/s)", "wind", null, "m/s"],
    ["RH (%)", "humidity", null, "%"],
    ["Battery (V)", null, null, "V"],
  ])("header %s", (header, kind, lane, unit) => {
    const l = sniff(`time,${header},x\n2026-10-06 12:00:00,1,2\n2026-10-06 12:00:10,1,2\n2026-10-06 12:00:20,1,3\n`);
    expect([l.columns[1].kind, l.columns[1].lane, l.columns[1].unit]).toEqual([kind, lane, unit]);
  });
  test("a letter that ends every temperature is their unit, never a lane", () => {
    const head = (names: string) =>
      sniff(`time,${names}\n2026-10-06 12:00:00,1,2,3\n2026-10-06 12:00:10,1,2,4\n2026-10-06 12:00:20,1,3,5\n`);
    expect(
      head("T_in_C,T_out_C,T_amb_C")
        .columns.slice(1)
        .map((c) => [c.kind, c.lane, c.unit]),
    ).toEqual([
      ["inlet", null, "°C"],
      ["outlet", null, "°C"],
      ["ambient", null, "°C"],
    ]);
    expect(
      head("A_in_F,A_out_F,amb_F")
        .columns.slice(1)
        .map((c) => [c.lane, c.unit]),
    ).toEqual([
      ["A", "°F"],
      ["A", "°F"],
      [null, "°F"],
    ]);
    // A unit's letter is one whatever stands beside it.
    expect(
      head("T in 1 C,T out 1 C,Flow 1 m3/h")
        .columns.slice(1)
        .map((c) => [c.kind, c.lane, c.unit]),
    ).toEqual([
      ["inlet", "A", "°C"],
      ["outlet", "A", "°C"],
      ["volumeFlow", "A", "m³/h"],
    ]);
    expect(
      head("T in 2 C,T out 2 C,Flow 2 l/min")
        .columns.slice(1)
        .map((c) => [c.lane, c.unit]),
    ).toEqual([
      ["B", "°C"],
      ["B", "°C"],
      ["B", "L/min"],
    ]);
    // Letters that differ are lanes.
    expect(
      head("T_in_B,T_in_C,T_out_C")
        .columns.slice(1)
        .map((c) => c.lane),
    ).toEqual(["B", "C", "C"]);
  });
  test("date and time in two columns, units in a row of their own", () => {
    const l = sniff("Date,Clock,A in,A out\n,,°C,°C\n2026-10-06,12:00:00,15.1,30.2\n2026-10-06,12:00:10,15.2,30.1\n");
    expect(l).toMatchObject({ timeColumns: [0, 1], headerRow: 0, firstDataRow: 2 });
    expect(l.columns[2]).toMatchObject({ kind: "inlet", unit: "°C" });
  });
  test.each([
    ["", "empty"],
    ["   \n\n", "empty"],
    ["Time;A in;A out\n", "headerOnly"],
    ["words\nmore\nwords\n", "noColumns"],
    ["a,b\n1,2\n3,4\n5,6\n", "noTime"],
    ["x".repeat(70000), "longLine"],
  ])("what cannot be a log says why (%#)", (text, kind) =>
    expect(sniffLog(text, { whole: true })).toMatchObject({ ok: false, problem: { kind } }),
  );
});

const SETTINGS: LogSettings = {
  delimiter: ",",
  decimal: ".",
  headerRow: 0,
  firstDataRow: 1,
  timeColumns: [0],
  timeFormat: { kind: "calendar", order: "ymd" },
  zone: ZURICH,
  columns: [
    { index: 0, header: "time", kind: null, lane: null, unit: null },
    { index: 1, header: "A in", kind: "inlet", lane: "A", unit: "°C" },
    { index: 2, header: "A out", kind: "outlet", lane: "A", unit: "°F" },
  ],
};
const row = (s: number, a = "15", b = "68") => `2026-10-06 12:00:${String(s).padStart(2, "0")},${a},${b}`;

describe("reading a log", () => {
  test("values come in SI", () => {
    const log = readLog(`time,A in,A out\n${row(0)}\n${row(10)}\n`, SETTINGS);
    expect([...log.channels[1].values]).toEqual([expect.closeTo(20, 9), expect.closeTo(20, 9)]);
  });
  test("a bad cell is a gap, a bad row is left out; both are named by row and column, the good ones stay", () => {
    const log = readLog(
      [
        "time,A in,A out",
        row(0),
        row(10, "warm"),
        "not a time,1,2",
        "2026-10-06 12:00:30,1",
        row(40, "", "---"),
        row(50),
      ].join("\n"),
      SETTINGS,
    );
    expect(log.times.length).toBe(4);
    expect(log.problems).toEqual([
      { kind: "notANumber", row: 3, column: "A in", text: "warm" },
      { kind: "badTime", row: 4, column: "time", text: "not a time", reason: "unreadable" },
      { kind: "fieldCount", row: 5, found: 2, expected: 3 },
    ]);
    expect(log.channels[0].values[1]).toBeNaN();
    expect(log.summary).toMatchObject({ rowsRead: 6, rowsKept: 4, rowsRejected: 2, cellsUnreadable: 1 });
  });
  test("rows are numbered as an editor shows them, blank lines and all", () => {
    const log = readLog(`time,A in,A out\n\n${row(0)}\n\n\n${row(10, "x")}\n`, SETTINGS);
    expect(log.problems).toEqual([expect.objectContaining({ row: 6 })]);
  });
  test("mixed line ends and a byte-order mark change nothing", () => {
    const clean = readLog(`time,A in,A out\n${row(0)}\n${row(10)}\n${row(20)}\n`, SETTINGS);
    const mixed = readLog(`\uFEFFtime,A in,A out\r\n${row(0)}\r${row(10)}\n${row(20)}`, SETTINGS);
    expect(mixed.times).toEqual(clean.times);
    expect(mixed.problems).toEqual([]);
  });
  test("cut into pieces anywhere, it reads the same", () => {
    const text = `time,A in,A out\r\n${[0, 10, 20, 30].map((s) => row(s, String(s))).join("\r\n")}\r\n"2026-10-06 12:00:40","1","2"`;
    const whole = readLog(text, SETTINGS);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: text.length }), { maxLength: 8 }), (cuts) => {
        const reader = new LogReader(SETTINGS);
        const at = [0, ...cuts.sort((a, b) => a - b), text.length];
        for (let i = 1; i < at.length; i++) reader.push(text.slice(at[i - 1], at[i]));
        const log = reader.finish();
        expect(log.times).toEqual(whole.times);
        expect(log.channels[0].values).toEqual(whole.channels[0].values);
      }),
    );
  });
  test("times running backwards are sorted; of repeated times no reading wins for coming later; both are counted and named", () => {
    const log = readLog(
      ["time,A in,A out", row(20, "3"), row(0, "1"), row(10, "2"), row(10, "9")].join("\n"),
      SETTINGS,
    );
    expect([...log.channels[0].values]).toEqual([1, 2, 3]);
    expect(log.summary).toMatchObject({
      backwardTimes: 3,
      largestBackwardStepMs: 20000,
      duplicateTimes: 1,
      rowsKept: 3,
    });
  });
  test("the hour that clocks show twice is told apart by its order", () => {
    const lines = ["01:59:50", "02:00:00", "02:30:00", "02:59:50", "02:00:00", "02:30:00", "03:00:00"].map(
      (t) => `2026-10-25 ${t},1,2`,
    );
    const log = readLog(["time,A in,A out", ...lines].join("\n"), SETTINGS);
    expect(log.times.length).toBe(7);
    expect(log.summary.repeatedHourRows).toBe(5);
    for (let i = 1; i < 7; i++) expect(log.times[i]).toBeGreaterThan(log.times[i - 1]);
    expect(log.times[6] - log.times[0]).toBe(7210000);
  });
  test("a line longer than any log's is left out with its number, in one piece or in many", () => {
    const text = ["time,A in,A out", row(0), `2026-10-06 12:00:05,${"1 ".repeat(60_000)},2`, row(10), row(20)].join(
      "\n",
    );
    for (const piece of [text.length, 10_000]) {
      const reader = new LogReader(SETTINGS);
      for (let at = 0; at < text.length; at += piece) reader.push(text.slice(at, at + piece));
      const log = reader.finish();
      expect(log.times.length).toBe(3);
      expect(log.problems).toEqual([expect.objectContaining({ kind: "longLine", row: 3 })]);
    }
    expect(sniffLog(text, { whole: true })).toMatchObject({ ok: true, layout: { headerRow: 0, firstDataRow: 1 } });
  });
  test("twelve thousand columns are refused, not read", () => {
    const line = Array.from({ length: 12_000 }, (_, i) => i % 10).join(",");
    expect(sniffLog(`${line}\n${line}\n`, { whole: true })).toMatchObject({
      problem: { kind: "tooManyColumns", columns: 12_000 },
    });
  });
  test("a header written again with other columns is followed by name", () => {
    const log = readLog(
      ["time,A in,A out", row(0, "15", "68"), "time,A out,A in", "2026-10-06 12:00:10,68,16"].join("\n"),
      SETTINGS,
    );
    expect([...log.channels[0].values]).toEqual([15, 16]);
    expect(log.problems).toEqual([{ kind: "columnsChanged", row: 3, missing: [] }]);
  });
  test("a column that disappears is named, and empty from there on", () => {
    const log = readLog(["time,A in,A out", row(0), "time,A in", "2026-10-06 12:00:10,16"].join("\n"), SETTINGS);
    expect(log.problems).toEqual([{ kind: "columnsChanged", row: 3, missing: ["A out"] }]);
    expect(log.channels[1].values[1]).toBeNaN();
  });
  test("a ten megabyte line is refused, not held", () => {
    const reader = new LogReader(SETTINGS);
    reader.push(`time,A in,A out\n${row(0)}\n`);
    for (let i = 0; i < 40; i++) reader.push("9".repeat(1 << 18));
    reader.push(`\n${row(10)}\n`);
    const log = reader.finish();
    expect(log.summary.problemCounts.longLine).toBeGreaterThan(0);
    expect(log.times.length).toBe(2);
  });
  test("the end of a line that was dropped is no row, however much it looks like one", () => {
    const reader = new LogReader(SETTINGS);
    reader.push(`time,A in,A out\n${row(0)}\n`);
    for (let i = 0; i < 5; i++) reader.push("9".repeat(1 << 18));
    reader.push(row(5));
    reader.push(`\n${row(10)}\n`);
    const log = reader.finish();
    expect(log.times.map((t) => (t - log.times[0]) / 1000)).toEqual(Float64Array.of(0, 10));
    expect(log.problems.map((p) => p.kind)).toEqual(["longLine"]);
    expect(log.summary.rowsRejected).toBe(1);
  });
  test("problems are listed to a hundred of a kind and counted in full", () => {
    const log = readLog(
      ["time,A in,A out", ...Array.from({ length: 150 }, () => "x,1,2"), row(0)].join("\n"),
      SETTINGS,
    );
    expect(log.problems.length).toBe(100);
    expect(log.summary.problemCounts.badTime).toBe(150);
  });
});

describe("cleaning", () => {
  const times = (n: number, step = 10000) => Float64Array.from({ length: n }, (_, i) => i * step);
  const noisy = (n: number) =>
    Float64Array.from({ length: n }, (_, i) => 20 + 0.1 * Math.sin(i) + 0.05 * Math.cos(3.7 * i));
  test("error codes of digital probes, and 85.0 only where it is a power-up", () => {
    const v = noisy(60);
    v[10] = -127;
    v[20] = 85;
    const { codes, findings } = cleanChannel(times(60), v, "outlet");
    expect([codes[10], codes[20], codes[30]]).toEqual([CLEAN.errorCode, CLEAN.errorCode, CLEAN.kept]);
    expect(findings).toEqual([{ reason: "errorCode", count: 2, firstMs: 100000, lastMs: 200000 }]);
    const hot = Float64Array.from([84.6, 84.8, 85, 85.2, 85.3, 85.4]);
    expect([...cleanChannel(times(6), hot, "outlet").codes]).toEqual([0, 0, 0, 0, 0, 0]);
  });
  test("a probe that holds one value for half an hour is stuck; a coarse one in calm air is not", () => {
    const v = noisy(600);
    v.fill(21.3, 200, 400);
    const { findings } = cleanChannel(times(600), v, "inlet");
    expect(findings).toEqual([expect.objectContaining({ reason: "stuck", count: 200 })]);
    const coarse = Float64Array.from({ length: 600 }, (_, i) => Math.round(20 + i / 200));
    expect(cleanChannel(times(600), coarse, "inlet").findings).toEqual([]);
  });
  test("no sun all night is no fault", () =>
    expect(cleanChannel(times(4000), new Float64Array(4000), "irradiance").findings).toEqual([]));
  test("a lone spike goes, a real step stays", () => {
    const v = noisy(100);
    v[50] = 35;
    for (let i = 70; i < 100; i++) v[i] += 8;
    const { codes } = cleanChannel(times(100), v, "outlet");
    expect(codes[50]).toBe(CLEAN.spike);
    expect([...codes.subarray(68, 74)]).toEqual([0, 0, 0, 0, 0, 0]);
  });
  test("raw values are never touched", () => {
    const v = Float64Array.from([1, -127, 3]);
    cleanChannel(times(3), v, "inlet", { exclude: [{ fromMs: 0, toMs: 5000 }] });
    expect([...v]).toEqual([1, -127, 3]);
  });
});

describe("one clock for all", () => {
  test("a constant stays constant, a straight line keeps its mean, whatever the intervals", () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 30, maxLength: 80 }),
        fc.double({ min: -0.1, max: 0.1, noNaN: true }),
        (gaps, slope) => {
          let t = 0;
          const times = Float64Array.from([0, ...gaps].map((g) => (t += g * 1000)));
          const values = times.map((x) => 5 + (slope * x) / 1000);
          const grid = { startMs: 0, stepMs: 30000, count: Math.floor(t / 30000) };
          const mean = gridMean(times, values, null, grid, 60000);
          mean.forEach((m, i) => expect(m).toBeCloseTo(5 + slope * (i * 30 + 15), 6));
        },
      ),
    );
  });
  test("a burst of quick readings does not outvote the rest of the cell", () => {
    const times = Float64Array.from([0, 10000, 20000, 20001, 20002, 20003, 30000, 40000]);
    const values = Float64Array.from([0, 0, 0, 9, 9, 9, 0, 0]);
    expect(gridMean(times, values, null, { startMs: 0, stepMs: 40000, count: 1 }, 60000)[0]).toBeLessThan(1.3);
  });
  test("a gap stays a gap", () => {
    const times = Float64Array.from([0, 10000, 20000, 200000, 210000, 220000]);
    const mean = gridMean(times, times, null, { startMs: 0, stepMs: 20000, count: 11 });
    expect(mean[0]).toBeCloseTo(10000, 6);
    expect([...mean.subarray(2, 10)].every(Number.isNaN)).toBe(true);
    expect(medianInterval(times)).toBe(10000);
  });
});

describe("times of a log", () => {
  test("a second number over twelve is a day: the month comes first", () => {
    expect(guessTimeFormat(["05/13/2026 10:00", "05/13/2026 10:01"])).toMatchObject({
      format: { kind: "calendar", order: "mdy" },
      ambiguous: false,
    });
    expect(guessTimeFormat(["13/05/2026 10:00", "13/05/2026 10:01"])).toMatchObject({
      format: { kind: "calendar", order: "dmy" },
      ambiguous: false,
    });
  });

  test("what is of the day read last is read where it stands, and nothing else is", () => {
    const reader = new TimestampReader({ kind: "calendar", order: "ymd" }, "Europe/Zurich");
    const at = (text: string) => reader.quickAt(text, 0, text.length);
    const first = reader.read("2026-10-05 10:00:00");
    expect(first).toMatchObject({ ok: true, utcMs: Date.UTC(2026, 9, 5, 8) });
    expect(at("2026-10-05 10:00:19")).toBe(Date.UTC(2026, 9, 5, 8, 0, 19));
    expect(at("2026-10-05 23:59:59")).toBe(Date.UTC(2026, 9, 5, 21, 59, 59));
    for (const other of [
      "2026-10-06 10:00:19",
      "2026-10-05 10:00:1",
      "2026-10-05 24:00:00",
      "2026-10-05 10:60:00",
      "2026-10-05 1a:00:00",
      "2026-10-05 10-00-00",
    ])
      expect(at(other)).toBeNaN();
    // A day whose clock is changed is not read so: its hours are not all an hour long.
    reader.read("2026-10-25 10:00:00");
    expect(at("2026-10-25 10:00:19")).toBeNaN();
    expect(reader.read("2026-10-25 10:00:19")).toMatchObject({ ok: true, utcMs: Date.UTC(2026, 9, 25, 9, 0, 19) });
  });
});
