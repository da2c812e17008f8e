import fc from "fast-check";
import { readCell } from "./cell";
import { RowScan } from "./rowScan";
import type { LogSettings } from "./logData";
import { readLog } from "./readLog";

const COLUMNS = ["time", "A out", "Sun"];
const settings = (over: Partial<LogSettings> = {}): LogSettings => ({
  delimiter: ";",
  decimal: ".",
  headerRow: 0,
  firstDataRow: 1,
  timeColumns: [0],
  timeFormat: { kind: "calendar", order: "ymd" },
  zone: "UTC",
  columns: COLUMNS.map((header, index) => ({
    index,
    header,
    kind: index === 1 ? "outlet" : index === 2 ? "irradiance" : null,
    lane: index === 1 ? "A" : null,
    unit: index === 1 ? "°C" : index === 2 ? "W/m²" : null,
  })),
  ...over,
});
const file = (rows: readonly string[]) => ["time;A out;Sun", ...rows].join("\n");
const START = Date.UTC(2026, 9, 6, 9);
const stamp = (ms: number) => new Date(ms).toISOString().slice(0, 19).replace("T", " ");
const good = (n: number, stepMs = 10000) =>
  Array.from({ length: n }, (_, i) => `${stamp(START + i * stepMs)};${40 + (i % 7)};800`);
const kinds = (log: ReturnType<typeof readLog>) => log.questions.map((q) => q.kind);
const count = (log: ReturnType<typeof readLog>, kind: string) =>
  log.summary.problemCounts[kind as keyof typeof log.summary.problemCounts] ?? 0;

/** A cell as it is read where it stands in its row; NaN for one that is left to the full way. */
function plainNumber(cell: string): number {
  const scan = new RowScan("|", ".", 3);
  scan.scan(`x|${cell}|x`, 0, cell.length + 4);
  return scan.count === 3 && !scan.isOdd[1] ? scan.values[1] : NaN;
}

describe("one way of writing, one span, each time once", () => {
  test.each(["0001-01-01 00:00:00", "1970-01-01 00:00:12", "2000-01-01 00:03:00", "2062-10-06 09:00:00"])(
    "a row of %s is set aside and named",
    (stray) => {
      const log = readLog(file([...good(300), `${stray};41;800`]), settings());
      expect(log.times.length).toBe(300);
      expect(log.times[299] - log.times[0]).toBe(299 * 10000);
      const why = stray.startsWith("0001") ? "badTime" : "strayTime";
      expect(log.problems).toEqual([expect.objectContaining({ kind: why, row: 302 })]);
      expect(log.summary).toMatchObject({
        rowsRejected: 1,
        rowsKept: 300,
        backwardTimes: stray > "2026" ? 0 : 1 - Number(why === "badTime"),
      });
      expect(log.questions).toEqual([]);
    },
  );

  test("a stamp written twice is no time", () => {
    const twice = stamp(START) + stamp(START);
    const log = readLog(file([...good(20), `${twice};41;800`]), settings());
    expect(log.problems).toEqual([expect.objectContaining({ kind: "badTime", reason: "unreadable" })]);
  });

  test("a clock that was not set for a while is asked about; the answer decides", () => {
    const unset = Array.from({ length: 20 }, (_, i) => `${stamp(Date.UTC(2000, 0, 1) + i * 10000)};20;0`);
    const text = file([...unset, ...good(300)]);
    const asked = readLog(text, settings());
    expect(asked.questions).toEqual([
      expect.objectContaining({ kind: "strayTimes", rows: 20, row: 2, fromMs: Date.UTC(2000, 0, 1) }),
    ]);
    expect(readLog(text, settings({ answers: { strayTimes: "leaveOut" } }))).toMatchObject({
      questions: [],
      summary: { rowsKept: 300 },
    });
    const kept = readLog(text, settings({ answers: { strayTimes: "keep" } }));
    expect(kept).toMatchObject({ questions: [], summary: { rowsKept: 320 } });
  });

  test("two measuring weeks of one summer are one file", () => {
    const later = good(200).map((r) => r.replace("2026-10", "2026-12"));
    expect(readLog(file([...good(300), ...later]), settings())).toMatchObject({
      questions: [],
      summary: { rowsKept: 500 },
    });
  });

  test.each([
    [Date.UTC(2026, 8, 1), "after now"],
    [START, ""],
  ])("readings later than now (%s) are asked about", (now, why) => {
    expect(kinds(readLog(file(good(50)), settings(), now))).toEqual(why ? ["oddDates"] : []);
    expect(kinds(readLog(file(good(50)), settings({ answers: { oddDates: "right" } }), now))).toEqual([]);
  });

  test.each([
    ["the year with two digits in some rows only", (r: string) => r.replace("2026-10-06", "26-10-06"), "otherPattern"],
    ["another mark in some rows only", (r: string) => r.replace("2026-10-06", "2026/10/06"), "otherPattern"],
    ["an offset in some rows only", (r: string) => r.replace(";", "+02:00;"), "otherPattern"],
    ["twelve hours in some rows only", (r: string) => r.replace(";", " PM;"), "otherPattern"],
  ])("%s: set aside and named, above one in a hundred asked", (_, spoil, kind) => {
    const one = readLog(file([...good(300), ...good(301).slice(300).map(spoil)]), settings());
    expect(one.problems).toEqual([expect.objectContaining({ kind, row: 302 })]);
    expect(one.questions).toEqual([]);
    const many = file([...good(300), ...good(340).slice(300).map(spoil)]);
    expect(readLog(many, settings()).questions).toEqual([
      expect.objectContaining({ kind: "otherPattern", rows: 40, row: 302 }),
    ]);
    expect(readLog(many, settings({ answers: { otherPattern: "keep" } })).times.length).toBeGreaterThan(300);
  });
});

test("many rows that do not fit are asked about: what could be read may be read wrongly", () => {
  const days = Array.from({ length: 24 }, (_, i) => `${String(i + 1).padStart(2, "0")}/10/2026 12:00;40;800`);
  const wrong = settings({ timeFormat: { kind: "calendar", order: "mdy" } });
  expect(readLog(file(days), wrong).questions).toContainEqual({ kind: "leftOut", rows: 12, share: 0.5, row: 14 });
  expect(kinds(readLog(file(days), settings({ timeFormat: { kind: "calendar", order: "dmy" } })))).toEqual([]);
});

describe("rows with one time", () => {
  test("said alike or completing each other they are one row; no question", () => {
    const log = readLog(
      file([`${stamp(START)};41;`, `${stamp(START)};;800`, `${stamp(START)};41;800`, ...good(5).slice(1)]),
      settings(),
    );
    expect(log).toMatchObject({ questions: [], problems: [], summary: { joinedRows: 2, duplicateTimes: 0 } });
    expect([log.channels[0].values[0], log.channels[1].values[0]]).toEqual([expect.closeTo(41), 800]);
  });

  test("contradicting each other they are named with both rows; the later does not win", () => {
    const log = readLog(file([...good(300), `${stamp(START + 50000)};99;800`]), settings());
    expect(log.problems).toEqual([{ kind: "sameTime", row: 302, kept: 7 }]);
    expect(log.channels[0].values[5]).toBeCloseTo(45, 6);
    expect(log.questions).toEqual([]);
  });

  test("a column that stands for nothing, a record number say, makes no contradiction", () => {
    const unused = settings();
    unused.columns = unused.columns.map((c) => (c.index === 2 ? { ...c, kind: null, unit: null } : c));
    const log = readLog(file([`${stamp(START)};41;1`, `${stamp(START)};41;2`, ...good(5).slice(1)]), unused);
    expect(log).toMatchObject({ questions: [], problems: [], summary: { joinedRows: 1, duplicateTimes: 0 } });
  });

  test("a clock without seconds is asked about, and can be spread evenly", () => {
    const rows = Array.from({ length: 58 }, (_, i) => `${stamp(START + (i + 2) * 10000).slice(0, 16)};${i};800`);
    expect(readLog(file(rows), settings()).questions).toEqual([expect.objectContaining({ kind: "sameTime" })]);
    const log = readLog(file(rows), settings({ answers: { sameTime: "spread" } }));
    expect(log.questions).toEqual([]);
    expect([...log.times]).toEqual(rows.map((_, i) => START + (i + 2) * 10000));
  });

  test.each([
    ["first", 10],
    ["last", 30],
    ["mean", 20],
  ] as const)("%s: as the person said", (sameTime, expected) => {
    const rows = [10, 20, 30].map((v) => `${stamp(START)};${v};800`);
    const log = readLog(file([...rows, `${stamp(START + 10000)};5;800`]), settings({ answers: { sameTime } }));
    expect(log.channels[0].values[0]).toBeCloseTo(expected, 6);
    expect(log.questions).toEqual([]);
  });

  test("whatever the order of the rows, nothing is lost without a word", () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat({ max: 40 }), fc.nat({ max: 3 })), { minLength: 1, maxLength: 60 }),
        (rows) => {
          const log = readLog(file(rows.map(([t, v]) => `${stamp(START + t * 10000)};${v};800`)), settings());
          const { rowsRead, rowsKept, rowsRejected, duplicateTimes, joinedRows = 0 } = log.summary;
          expect(rowsKept + rowsRejected + duplicateTimes + joinedRows).toBe(rowsRead);
          expect([...log.times]).toEqual([...new Set(rows.map(([t]) => START + t * 10000))].sort((a, b) => a - b));
        },
      ),
      { numRuns: process.env.BRAVEL_LONG ? 10_000 : 300, seed: 26 },
    ));
});

describe("cells", () => {
  test.each([
    "12 5",
    "0x1F",
    "0b11",
    "0o17",
    "\f12",
    "12\f",
    "1.2.3",
    "--5",
    "1e",
    "12 50",
    "1'00",
    "1,2,3",
    "Infinity",
    "1e999",
    "٣",
    "12°",
  ])("%j is no number", (cell) => {
    expect(plainNumber(cell)).toBeNaN();
    expect(readCell(cell, ".").kind).toBe("notANumber");
  });

  test("read quickly or slowly, a number is the same; a strict second reader agrees", () =>
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: fc.constantFrom(..."0123456789.,+-eExX '\t\f"), maxLength: 9 }),
          fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
        ),
        (text) => {
          const quick = plainNumber(text);
          const full = readCell(text, ".");
          if (!Number.isNaN(quick)) expect(full).toEqual({ kind: "number", value: quick });
          if (full.kind !== "number") return;
          // Its parts put together again must be the text.
          const bare = text.replace(/^[ \t]+|[ \t]+$/g, "");
          const [mantissa, exponent] = bare.toLowerCase().split("e");
          expect(mantissa).toMatch(/^[+-]?\d*\.?\d*$/);
          const [whole, fraction = ""] = mantissa.replace(/^[+-]/, "").split(".");
          const value = Number(`${whole || "0"}.${fraction || "0"}e${exponent ?? 0}`);
          expect(full.value).toBeCloseTo(mantissa.startsWith("-") ? -value : value, 9);
        },
      ),
      { numRuns: process.env.BRAVEL_LONG ? 10_000 : 3000, seed: 11 },
    ));

  const sun = (...cells: string[]) =>
    readLog(file(cells.map((c, i) => `${stamp(START + i * 10000)};40;${c}`)), settings());

  test("marks between thousands count where the column shows them, and only if it does throughout", () => {
    expect([...sun("998", "1,002.5", "1,010").channels[1].values]).toEqual([998, 1002.5, 1010]);
    expect([...sun("998", "1 002", "1’010").channels[1].values].slice(0, 1)).toEqual([998]);
    expect(count(sun("998", "1 002", "1’010"), "unevenMarks")).toBe(2);
    expect(count(sun("1100", "1,002.5"), "unevenMarks")).toBe(1);
    expect(sun("1100", "1,002.5").questions).toEqual([]);
  });

  test("one mark before three digits is asked about", () => {
    const log = sun("998", "1,010");
    expect(log.channels[1].values[1]).toBeNaN();
    expect(log.questions).toEqual([{ kind: "thousands", column: "Sun", row: 3, text: "1,010" }]);
    const said = readLog(file([`${stamp(START)};40;1,010`]), settings({ answers: { thousands: "thousands" } }));
    expect(said.channels[1].values[0]).toBe(1010);
  });
});
