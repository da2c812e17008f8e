import { EVERY_LANE } from "@/core/log/channel";
import type { LogLayout } from "@/core/log/sniff";
import { type Inspection } from "@/services/import/imports";
import { importRequestSchema } from "@/services/import/importRequest";
import {
  instantOf,
  changedColumn,
  emptyDraft,
  flowKind,
  mappedLanes,
  oneInlet,
  settingsFrom,
  unitless,
  withColumn,
  withDegrees,
  type ImportDraft,
} from "./draft";
import { buildRequest } from "./request";
import { draftNotes } from "./draftNotes";
import { newLane, WIDE, withLane } from "./laneDraft";

const column = (
  index: number,
  header: string,
  kind: LogLayout["columns"][number]["kind"],
  lane: string | null,
  unit: string | null,
) => ({ index, header, kind, lane, unit, samples: ["1"] });
const LAYOUT: LogLayout = {
  delimiter: ",",
  decimal: ".",
  headerRow: 0,
  firstDataRow: 1,
  timeColumns: [0],
  timeFormat: { kind: "calendar", order: "ymd" },
  timeAmbiguous: false,
  timeHasZone: false,
  columns: [
    column(0, "time", null, null, null),
    column(1, "A in", "inlet", "A", "°C"),
    column(2, "A out", "outlet", "A", "°C"),
    column(3, "A speed", "speed", "A", "ft/min"),
    column(4, "B in", "inlet", "B", "°C"),
    column(5, "B out", "outlet", "B", "°C"),
    column(6, "Sun", "irradiance", null, null),
    column(7, "Outside", "ambient", null, "°C"),
  ],
};
const inspection: Inspection = {
  file: { id: 7, name: "log.csv", bytes: 10, sha256: "x" },
  encoding: "utf-8",
  layout: LAYOUT,
  problem: null,
  rows: [],
  sample: [],
  alreadyIn: [],
};

const draft = (change: Partial<ImportDraft> = {}): ImportDraft => ({
  ...emptyDraft([]),
  name: "Two boxes",
  site: { name: "Terrace", latitude: 46, longitude: 9, altitudeM: 1000, zone: "Europe/Zurich" },
  files: [
    {
      inspection,
      settings: settingsFrom(LAYOUT, "Europe/Zurich"),
      delimiter: ",",
      zoneSet: false,
      dateOrderAsked: false,
      timeHasZone: false,
    },
  ],
  tilt: 55,
  azimuth: 180,
  sunMounting: "plane",
  lanes: {
    A: { ...newLane("A", 1), grossAreaM2: 2, diameterM: 0.125, meterAt: "outlet" },
    B: { ...newLane("B", 2), copyOf: "A", meterAt: "outlet", stated: 0.035 },
  },
  ...change,
});

test("a complete draft is a request the server accepts", () => {
  const request = buildRequest(draft(), []);
  expect(importRequestSchema.safeParse(request).error?.issues ?? []).toEqual([]);
  expect(draftNotes(draft(), []).filter((n) => n.blocking)).toEqual([]);
});

test("a run of a device is any span, typed on the logger's clock; a span that cannot be is named before it is sent", () => {
  const live = { streamId: 7, device: "logger", startMs: 0, firstMs: 5, nowMs: Date.now() };
  const base = draft();
  const spanned = (from: string, until: string) =>
    draft({ files: [{ ...base.files[0], live }], liveFrom: "span", liveSpan: { from, until } });
  const blocking = (d: ImportDraft) => draftNotes(d, []).filter((n) => n.blocking);
  // Zürich keeps summer time in October.
  const request = buildRequest(spanned("2026-10-05T09:30", "2026-10-06T17:00"), []);
  expect([request.liveFromMs, request.liveUntilMs]).toEqual([Date.UTC(2026, 9, 5, 7, 30), Date.UTC(2026, 9, 6, 15)]);
  expect(blocking(spanned("2026-10-05T09:30", "2026-10-06T17:00"))).toEqual([]);
  expect(buildRequest(spanned("2026-10-05T09:30", ""), []).liveUntilMs).toBeNull();
  for (const [from, until] of [
    ["", ""],
    ["2026-10-05T09:30", "2026-10-05T09:00"],
    ["2026-10-05T09:30", "2199-01-01T00:00"],
  ])
    expect(blocking(spanned(from, until))).toHaveLength(1);
  // The hour that summer time leaves out is no time.
  expect(blocking(spanned("2026-03-29T02:30", ""))).toHaveLength(1);
});

test("an identical pair shares one variant, instruments are keyed by their place", () => {
  const request = buildRequest(draft(), []);
  expect(request.newLanes.map((l) => [l.letter, l.variantKey, l.variantName])).toEqual([
    ["A", "A", "Collector A"],
    ["B", "A", "Collector A"],
  ]);
  expect(request.run.lanes.map((l) => [l.setup.inletProbe.key, l.setup.flow.meter.key])).toEqual([
    ["1-in", "1"],
    ["2-in", "2"],
  ]);
});

test("one inlet column for every lane is asked about, and is the outside one too where that is said", () => {
  const [file] = draft().files;
  const columns = file.settings!.columns.flatMap((c) => {
    if (c.kind === "ambient" || (c.kind === "inlet" && c.lane === "B")) return [];
    return c.kind === "inlet" ? [{ ...c, lane: EVERY_LANE }] : [c];
  });
  const shared = draft({ files: [{ ...file, settings: { ...file.settings!, columns } }] });
  expect(oneInlet(shared)).toBe(true);
  expect(oneInlet(draft())).toBe(false);
  const texts = (d: ImportDraft) => draftNotes(d, []).map((n) => n.text);
  expect(texts(shared).join()).toContain("No outside temperature");
  expect(texts({ ...shared, inletOutside: true }).join()).not.toContain("No outside temperature");
  const { setup } = buildRequest({ ...shared, inletOutside: true }, []).run;
  expect(setup).toMatchObject({ inletOutside: true, ambientProbe: { key: "all-in" } });
  // It is said of this log; with an outside column it decides nothing.
  expect(buildRequest({ ...draft(), inletOutside: true }, []).run.setup.inletOutside).toBe(false);
});

test("a lane whose flow is not logged takes one figure for the run", () => {
  expect([flowKind(draft(), "A"), flowKind(draft(), "B")]).toEqual(["speed", "constant"]);
  expect(buildRequest(draft(), []).run.lanes[1].setup.flow).toMatchObject({ kind: "volume", stated: 0.035 });
  const mass = { ...draft().lanes, B: { ...draft().lanes.B, statedAs: "mass" as const, stated: 0.04 } };
  expect(buildRequest(draft({ lanes: mass }), []).run.lanes[1].setup.flow).toMatchObject({
    kind: "constant",
    massFlowKgPerS: 0.04,
  });
});

test("a flow that was set anew is sent with its instants by the logger's clock, and asked for where a line is not whole", () => {
  const b = { ...draft().lanes.B, flowChanges: [{ at: "2026-10-06T13:30", reading: 0.02 }] };
  const with_ = (flowChanges: typeof b.flowChanges | { at: string; reading: null }[]) =>
    draft({ lanes: { ...draft().lanes, B: { ...b, flowChanges } } });
  const zone = draft().files[0].settings!.zone;
  const [at] = [instantOf("2026-10-06T13:30", zone)];
  expect(buildRequest(with_(b.flowChanges), []).run.lanes[1].setup.flow).toMatchObject({
    stated: 0.035,
    changes: [{ fromMs: at, reading: 0.02 }],
  });
  const asked = (d: ImportDraft) => draftNotes(d, []).some((n) => n.text.includes("set anew"));
  expect(asked(with_(b.flowChanges))).toBe(false);
  expect(asked(with_([{ at: "2026-10-06T13:30", reading: null }]))).toBe(true);
  expect(asked(with_([{ at: "", reading: 0.02 }]))).toBe(true);
  expect(asked(with_([...b.flowChanges, { at: "2026-10-06T12:30", reading: 0.03 }]))).toBe(true);
});

describe("nothing is invented", () => {
  const texts = (d: ImportDraft) =>
    draftNotes(d, [])
      .filter((n) => n.blocking)
      .map((n) => n.text)
      .join(" ");
  test("an empty draft is asked for everything that decides a figure", () => {
    const empty = draft({
      tilt: null,
      azimuth: null,
      sunMounting: null,
      lanes: { A: newLane("A", 1), B: newLane("B", 2) },
    });
    for (const words of [
      "tilt",
      "which way the collectors face",
      "in the collector plane or horizontal",
      "Lane A: say its gross area",
      "Lane A: say the duct’s size",
      "Lane B: no flow is logged",
      "Lane A: say whether the flow was metered at the inlet or the outlet",
    ])
      expect(texts(empty)).toContain(words);
    expect(texts(draft())).toBe("");
  });
  test("a temperature, speed or flow without a unit in the file is asked about, in one press for all degrees", () => {
    const [file] = draft().files;
    const bare = { ...file.settings!, columns: file.settings!.columns.map((c) => ({ ...c, unit: null })) };
    expect(texts(draft({ files: [{ ...file, settings: bare }] }))).toContain("log.csv: say the unit of A in");
    const warm = withDegrees(bare, "°F");
    expect(warm.columns.filter((c) => c.unit === "°F").map((c) => c.header)).toEqual([
      "A in",
      "A out",
      "B in",
      "B out",
      "Outside",
    ]);
    expect(unitless(warm).map((c) => c.header)).toEqual(["A speed", "Sun"]);
  });
  test("accuracies left empty are taken widely and named; one that is stated is not", () => {
    const run = buildRequest(draft(), []).run;
    expect(run.setup.assumed).toEqual(["probes", "flowMeter", "profile", "duct", "sunSensor", "outside", "area"]);
    expect(run.lanes[0].setup.inletProbe.limitK).toBe(WIDE.probeK);
    const stated = withLane(draft().lanes, "A", { ...draft().lanes.A, probeLimitK: 0.2 });
    expect(buildRequest(draft({ lanes: stated }), []).run.setup.assumed).not.toContain("probes");
  });
  test("what is typed for one lane the others follow, until they differ", () => {
    const one = withLane(draft().lanes, "A", { ...draft().lanes.A, probeLimitK: 0.2 });
    expect(one.B.probeLimitK).toBe(0.2);
    const other = withLane(one, "B", { ...one.B, probeLimitK: 0.4 });
    expect(other.A.probeLimitK).toBe(0.2);
    expect(withLane(other, "A", { ...other.A, probeLimitK: 0.1 }).B.probeLimitK).toBe(0.4);
    // A flow read by hand is each lane's own.
    expect(withLane(one, "B", { ...one.B, stated: 0.05 }).A.stated).toBeNull();
  });
});

test("what is missing is named, what cannot be is refused", () => {
  const texts = (d: ImportDraft) =>
    draftNotes(d, [])
      .map((n) => n.text)
      .join(" ");
  expect(texts(draft({ files: [] }))).toContain("Drop at least one file");
  expect(texts(draft({ name: " " }))).toContain("Give the experiment a name");
  const [file] = draft().files;
  expect(texts(draft({ files: [{ ...file, dateOrderAsked: true }] }))).toContain("day or the month");
  const without = (kind: string) =>
    draft({
      files: [
        {
          ...file,
          settings: {
            ...file.settings!,
            columns: file.settings!.columns.map((c) => (c.kind === kind ? changedColumn(c, { kind: null }) : c)),
          },
        },
      ],
    });
  expect(texts(without("irradiance"))).toContain("No irradiance column");
  expect(texts(without("ambient"))).toContain("No outside temperature");
  expect(texts(without("outlet"))).toContain("Lane A has no outlet temperature");
  const doubled = draft({
    files: [
      {
        ...file,
        settings: {
          ...file.settings!,
          columns: file.settings!.columns.map((c) => (c.index === 4 ? changedColumn(c, { lane: "A" }) : c)),
        },
      },
    ],
  });
  // Two probes of one stream are one reading with a spread.
  expect(texts(doubled)).toContain("Several probes stand for inlet of lane A");
  // With none left for B it is more likely B's.
  const whose = draftNotes(doubled, []).find((n) => n.text.startsWith("Two inlet columns stand for lane A"));
  expect(whose).toMatchObject({ blocking: true });
  const elapsed = draft({
    files: [{ ...file, settings: { ...file.settings!, timeFormat: { kind: "elapsed", unit: "s", startMs: 0 } } }],
  });
  expect(texts(elapsed)).toContain("say when its time 0 was");
});

test("a unit said of one column is that of its like that have none", () => {
  const flow = (index: number, unit: string | null) => ({
    index,
    header: `f${index}`,
    kind: "volumeFlow" as const,
    lane: "A",
    unit,
  });
  const other = { index: 3, header: "in", kind: "inlet" as const, lane: "A", unit: null };
  const all = withColumn([flow(0, null), flow(1, null), flow(2, "m³/h"), other], flow(0, "L/min"));
  expect(all.map((c) => c.unit)).toEqual(["L/min", "L/min", "m³/h", null]);
});

test("a unit that the header names is not asked for again, and one that contradicts it is named", () => {
  const open = { index: 1, lane: null, unit: null };
  const as = (header: string, kind: "speed" | "outlet" | "volumeFlow") =>
    changedColumn({ ...open, header, kind: null }, { kind }).unit;
  expect(as("Kollektor 1 Luft (m/s)", "speed")).toBe("m/s");
  expect(as("channel 4 [°F]", "outlet")).toBe("°F");
  expect(as("pump lpm", "volumeFlow")).toBe("L/min");
  // What fits another quantity is no unit of this one.
  expect(as("channel 4 (°C)", "speed")).toBeNull();
  expect(as("x", "outlet")).toBeNull();
  const [file] = draft().files;
  const notes = (unit: string) => {
    const columns = file.settings!.columns.map((c) => (c.index === 1 ? { ...c, header: "A in (°C)", unit } : c));
    return draftNotes({ ...draft(), files: [{ ...file, settings: { ...file.settings!, columns } }] }, [])
      .map((n) => n.text)
      .join(" ");
  };
  expect(notes("°F")).toContain("“A in (°C)” names °C, and °F is chosen.");
  expect(notes("°C")).not.toContain("is chosen");
});

test("a column given another meaning gets a unit and lane that fit", () => {
  const speed = changedColumn({ index: 1, header: "x", kind: "inlet", lane: "B", unit: "°F" }, { kind: "speed" });
  expect(speed).toMatchObject({ kind: "speed", lane: "B", unit: null });
  expect(changedColumn(speed, { kind: "irradiance" })).toMatchObject({ lane: null, unit: "W/m²" });
  expect(
    changedColumn({ index: 1, header: "x", kind: null, lane: null, unit: null }, { kind: "outlet" }),
  ).toMatchObject({ lane: "A", unit: null });
  expect(mappedLanes(draft())).toEqual(["A", "B"]);
});

describe("a lane that warms a tank", () => {
  const tanks = (more: ReturnType<typeof column>[]) => {
    const base = draft();
    const layout = settingsFrom(LAYOUT, "Europe/Zurich")!;
    const columns = [
      column(0, "time", null, null, null),
      column(1, "tank A", "tank", "A", "°C"),
      column(2, "tank B", "tank", "B", "°C"),
      ...more,
    ];
    return { ...base, files: [{ ...base.files[0], settings: { ...layout, columns } }] };
  };
  const blocking = (d: ImportDraft) => draftNotes(d, []).filter((n) => n.blocking);
  const withWater = (d: ImportDraft): ImportDraft => ({
    ...d,
    lanes: { A: { ...d.lanes.A, tankKg: 120 }, B: { ...d.lanes.B, tankKg: 120 } },
  });

  test("is asked for its water, and for no flow, inlet or outlet", () => {
    expect(blocking(tanks([])).map((n) => n.text)).toEqual(
      ["A", "B"].map((l) => expect.stringContaining(`Lane ${l}: say how much water`)),
    );
    const told = withWater(tanks([]));
    expect(draftNotes(told, []).filter((n) => /inlet|outlet/.test(n.text))).toEqual([]);
    const request = buildRequest(told, []);
    expect(importRequestSchema.safeParse(request).error?.issues ?? []).toEqual([]);
    expect(request.run.lanes[0].setup.flow).toMatchObject({ kind: "tank", massKg: 120, meter: { limitShare: 0.06 } });
    expect(request.run.setup.assumed).toContain("flowMeter");
  });

  test("with both ends logged is asked by which heat is counted", () => {
    const both = tanks([column(3, "A in", "inlet", "A", "°C"), column(4, "A out", "outlet", "A", "°C")]);
    expect(blocking(both).some((n) => /Lane A: a tank and both ends/.test(n.text))).toBe(true);
    const byTank = withWater({ ...both, lanes: { ...both.lanes, A: { ...both.lanes.A, heatBy: "tank" } } });
    expect(blocking(byTank)).toEqual([]);
    expect(buildRequest(byTank, []).run.lanes[0].setup.flow.kind).toBe("tank");
    const byFlow = { ...both, lanes: { ...both.lanes, A: { ...both.lanes.A, heatBy: "flow" as const, stated: 0.03 } } };
    expect(buildRequest(byFlow, []).run.lanes[0].setup.flow.kind).toBe("volume");
  });
});
