import { LogReader } from "@/core/log/readLog";
import { importRequestSchema } from "@/services/import/importRequest";
import { newLane } from "../laneDraft";
import {
  asImport,
  displayStep,
  emptyRow,
  isTable,
  minutesOfDay,
  pastedRows,
  readRow,
  sheetFile,
  sheetNotes,
  sheetRequest,
  type SheetDraft,
} from "./sheetDraft";
import { sheetResult } from "./sheetResult";
import { nextRow } from "./Rows";
import { newSheet } from "./useSheet";

const ZONE = "Europe/Zurich";
const place = { latitude: 46.31, longitude: 9.05, altitudeM: 1120, zone: ZONE };
const lane = { grossAreaM2: 2, diameterM: 0.125, meterAt: "outlet" } as const;

function sheet(change: Partial<SheetDraft> = {}): SheetDraft {
  const fresh = newSheet([], [], {}, "new");
  return {
    ...fresh,
    base: {
      ...fresh.base,
      name: "Two boxes",
      siteId: "new",
      site: { name: "Terrace", ...place },
      tilt: 55,
      azimuth: 180,
      lanes: { A: { ...newLane("A", 1), ...lane }, B: { ...newLane("B", 2), ...lane } },
    },
    date: "2026-10-06",
    degrees: "°C",
    flow: "speed",
    flowUnit: "m/s",
    thermometers: "one",
    meter: "one",
    rows: pastedRows(
      "time\tbox\tin\tout\tspeed\n13:00\tA\t18.0\t40.0\t3.5\n13:00\tB\t18.0\t37.0\t3.5\n13:10\tb\t18.2\t37.1\t690 fpm\n1:14 pm\ta\t64.4 F\t40.2\t3.5\n13:20\tA\t18\t40.1\t3,5\n13:25\tB\t18.1\t37.2\t3.5",
      1,
    ),
    ...change,
  };
}
const read = (draft: SheetDraft) => draft.rows.map((r) => readRow(r, draft, ZONE));

test.each([
  ["13:05", 785],
  ["1305", 785],
  ["9.05", 545],
  ["1:05 pm", 785],
  ["12:10 am", 10],
  ["13:05:30", 785.5],
  ["24:00", null],
  ["13:60", null],
  ["13", null],
  ["noon", null],
  ["13:05 pm", null],
])("%s is a time of day: %s", (text, minutes) => expect(minutesOfDay(text)).toBe(minutes));

test("a pasted table becomes rows; cells may name their own unit", () => {
  const rows = read(sheet());
  expect(rows.map((r) => r.problems)).toEqual(rows.map(() => ({})));
  expect(rows[2].values).toMatchObject({ lane: "B", inletC: 18.2, outletC: 37.1 });
  expect(rows[2].values!.flow).toBeCloseTo(3.505, 3);
  expect(rows[3].values!.inletC).toBeCloseTo(18, 9);
  expect(rows[0].values!.atMs).toBe(Date.UTC(2026, 9, 6, 11));
});

test("an hour of the night without am or pm is asked about; with it, or with a leading zero, it stands", () => {
  const times = (time: string) =>
    readRow({ ...emptyRow(1, "A", time), inlet: "18", outlet: "40", flow: "3" }, sheet(), ZONE);
  expect(times("1:11").problems.time).toMatch(/1:11 pm, or 1:11 am/);
  expect(times("1:11").values).toBeNull();
  for (const sure of ["1:11 pm", "1:11 am", "01:11", "13:11", "5:40"])
    expect(times(sure).problems.time).toBeUndefined();
});

test("a table pasted with commas becomes rows; decimal commas are left for a person to part", () => {
  const rows = pastedRows("time,box,in,out,flow\n13:05,A,18.2,41.0,3.4\n13:11,B,18.4,37.2,3.9", 1);
  expect(rows.map((r) => [r.time, r.lane, r.inlet, r.outlet, r.flow])).toEqual([
    ["13:05", "A", "18.2", "41.0", "3.4"],
    ["13:11", "B", "18.4", "37.2", "3.9"],
  ]);
  expect(isTable("13:05,A,18.2,41.0")).toBe(true);
  expect(isTable("a\tb")).toBe(true);
  expect(isTable("18,2")).toBe(false);
});

test("what cannot be read says why, at its cell, and is not lost", () => {
  const draft = sheet({ rows: pastedRows("13:00\tX\twarm\t400\t3.5\n25:00\tA\t18\t\t3.5", 1) });
  const [a, b] = read(draft);
  expect(Object.keys(a.problems).sort()).toEqual(["inlet", "lane", "outlet"]);
  expect(Object.keys(b.problems).sort()).toEqual(["outlet", "time"]);
  expect([a.values, b.values]).toEqual([null, null]);
  expect(sheetNotes(draft, [], ZONE).map((n) => n.text)).toContain("2 rows cannot be read yet: see its marked cell.");
});

test("nothing is taken in a unit that nobody has said", () => {
  const open = sheet({ degrees: null, flowUnit: null, thermometers: null, meter: null });
  expect(read(open).map((r) => r.values)).toEqual(open.rows.map(() => null));
  const notes = sheetNotes(open, [], ZONE).map((n) => n.text);
  for (const said of [/°C or °F/, /unit the flow/, /how many thermometers/, /one flow meter/])
    expect(notes.some((n) => said.test(n))).toBe(true);
  expect(sheetNotes(sheet(), [], ZONE)).toEqual([]);
});

test("the display's step is the finest that was typed", () => {
  expect(displayStep(sheet().rows, "°C")).toBeCloseTo(0.1, 9);
  expect(displayStep(pastedRows("13:00\tA\t70\t100\t3", 1), "°F")).toBeCloseTo(5 / 9, 9);
});

test("the file reads back to what was typed, in order of time and with two boxes in one minute", () => {
  const draft = sheet();
  const reader = new LogReader(asImport(draft, ZONE).files[0].settings!, Date.UTC(2026, 10, 26));
  reader.push(sheetFile(draft, ZONE));
  const { times, channels, questions, summary } = reader.finish();
  expect(questions).toEqual([]);
  expect(summary.rowsRejected).toBe(0);
  expect([...times].map((t) => (t - Date.UTC(2026, 9, 6, 11)) / 1000)).toEqual([0, 1, 600, 840, 1200, 1500]);
  const column = (name: string) => [...channels.find((c) => c.use.header === name)!.values];
  expect(column("A out (°C)")).toEqual([40, NaN, NaN, 40.2, 40.1, NaN]);
  expect(column("B flow (m/s)")[2]).toBeCloseTo(3.505, 3);
});

test("the request is an import of a run read by hand, with what was carried", () => {
  const request = importRequestSchema.parse(sheetRequest(sheet(), [], ZONE, 7));
  expect(request.run.setup.byHand).toBe(true);
  const [a, b] = request.run.lanes.map((l) => l.setup);
  expect([a.inletProbe.key, a.outletProbe.key, b.outletProbe.key]).toEqual(Array(3).fill("thermometer"));
  expect([a.flow.meter.key, b.flow.meter.key]).toEqual(["carried", "carried"]);
  expect(a.inletProbe.resolutionK).toBeCloseTo(0.1, 9);
  const own = importRequestSchema
    .parse(sheetRequest(sheet({ thermometers: "ends", flow: "constant", meter: null }), [], ZONE, 7))
    .run.lanes.map((l) => l.setup);
  expect(own.map((s) => s.outletProbe.key)).toEqual(["thermometer-out", "thermometer-out"]);
  // A rating is each fan's own.
  expect(new Set(own.map((s) => s.flow.meter.key)).size).toBe(2);
});

test("rows give heat and a paired answer at once, with the rule of thumb beside", () => {
  const { readings, lanes, pairs, rounds, implausible } = sheetResult(sheet(), [], place);
  expect(readings).toHaveLength(6);
  expect(rounds).toBe(3);
  expect(implausible).toEqual([]);
  expect(pairs[0].ratio.ratio).toBeGreaterThan(1.1);
  expect(pairs[0].decision).toBe("aBetter");
  expect(lanes[0].thumb!.share).toBeGreaterThan(0.15);
  expect(sheetResult(sheet(), [], null).readings).toEqual([]);
});

test("a rated flow gives heat with its wide ±", () => {
  const base = sheet();
  const rated = {
    ...base,
    flow: "constant" as const,
    base: {
      ...base.base,
      lanes: Object.fromEntries(
        Object.entries(base.base.lanes).map(([l, own]) => [l, { ...own, stated: 0.06, meterLimitShare: 0.4 }]),
      ),
    },
  };
  const { lanes, pairs } = sheetResult(rated, [], place);
  expect(lanes[0].heat.value).toBeGreaterThan(1000);
  // Two ratings of ± 40 % do not tell 15 % apart.
  expect(pairs[0].decision).toBe("cannotTell");
});

test("the next row goes back and forth", () => {
  let draft = sheet({ rows: [] });
  for (let i = 0; i < 6; i++) draft = { ...draft, rows: [...draft.rows, nextRow(draft, null)] };
  expect(draft.rows.map((r) => r.lane).join("")).toBe("ABBAAB");
});
