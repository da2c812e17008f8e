import type { PlaceSetup } from "./schema/run";
import { assembleRun, type LoggedChannel } from "../analysis/assemble";
import { reduceExperiment, wholeRun } from "../analysis/reduce";
import { presetDesign } from "../collector/presets";
import { standardRules } from "../log/windows";
import { CORRUGATED, simulateBench } from "../rig/bench";
import { PLAIN_SITE } from "../site/site";
import { standardUncertainty } from "../uncertainty/uncertain";
import { arrangedSetups, assemblyPlan, lanesOf } from "./arrange";
import type { RunLayer } from "./layers";
import { asBuiltSchema } from "./schema/design";
import type { LayerDetail, LayerKind } from "./schema/layer";
import { experimentSettingsSchema } from "./schema/settings";
import type { Experiment, StoredRun } from "./types";

const SETTINGS = { rules: standardRules("air"), basis: "mean" as const, curvature: "never" as const };
const NOON = (day: number) => Date.UTC(2026, 9, day, 10);

const [first, second] = simulateBench({
  seed: 12,
  stepS: 30,
  hours: [9, 16],
  accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
  inletProgram: [
    { fromHour: 0, aboveAmbientK: 2 },
    { fromHour: 12.5, aboveAmbientK: 20 },
  ],
  specimens: [
    { lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
    { lane: "B", variant: "b", collector: { ...CORRUGATED, tauAlpha: 0.7 }, areaM2: 2, massFlowKgPerS: 0.04 },
  ],
  runs: [
    { run: "1", stations: { A: 1, B: 2 }, days: [{ dateMs: NOON(5), cloudiness: 0, meanAmbientC: 9, meanWind: 1.4 }] },
    { run: "2", stations: { A: 2, B: 1 }, days: [{ dateMs: NOON(6), cloudiness: 0, meanAmbientC: 9, meanWind: 1.4 }] },
  ],
});

/** The two days in one log: channels stay at their places, the boxes changed places overnight. */
function oneLog(): LoggedChannel[] {
  return first.channels.map((c) => {
    const after = second.channels.find((d) => d.kind === c.kind && d.station === c.station)!;
    return {
      ...c,
      times: Float64Array.from([...c.times, ...after.times]),
      values: Float64Array.from([...c.values, ...after.values]),
    };
  });
}

test("a swap inside one run gives the same points as two runs, one an arrangement", () => {
  const midnight = Date.UTC(2026, 9, 6, 0);
  const apart = reduceExperiment(
    [first, second].map((r) => wholeRun(r.setup, assembleRun(r.channels))),
    SETTINGS,
  );
  const together = reduceExperiment(
    [
      {
        assembled: assembleRun(oneLog()),
        arrangements: [
          { setup: first.setup, fromMs: null, untilMs: midnight },
          { setup: { ...second.setup, run: "1" }, fromMs: midnight, untilMs: null },
        ],
      },
    ],
    SETTINGS,
  );
  const seen = (r: typeof apart) =>
    r.points.map((p) => [p.lane, p.station, p.startMs, p.heat.value, standardUncertainty(p.heat)]);
  expect(seen(together).length).toBeGreaterThan(10);
  expect(seen(together)).toEqual(seen(apart));
  // Windows count on over the swap, so that a number names one.
  const numbers = together.points.filter((p) => p.lane === "A").map((p) => p.window);
  expect(new Set(numbers).size).toBe(numbers.length);
  expect(together.runs[0].windows.every((w) => w.endMs <= midnight || w.startMs >= midnight)).toBe(true);
});

const place = first.setup.lanes.map(({ station, inletProbe, outletProbe, flow, fanShare }) => ({
  station,
  setup: { inletProbe, outletProbe, flow: { ...flow, stated: null } as PlaceSetup["flow"], fanShare, fanPowerW: null },
}));
const layer = <K extends LayerKind>(id: number, kind: K, detail: LayerDetail<K>, on = true): RunLayer =>
  ({ id, kind, detail, on, reason: "", createdAt: id }) as RunLayer;
const always = { fromMs: null, untilMs: null };
const KINDS = ["inlet", "outlet", "speed"] as const;
const assignment = layer(1, "assignment", {
  mounts: [1, 2].flatMap((station) =>
    KINDS.map((kind, k) => ({
      streamId: 7,
      channelNo: (station - 1) * 3 + k + 1,
      instrument: kind === "speed" ? String(station) : `${station}-${kind === "inlet" ? "in" : "out"}`,
      station,
      ...always,
    })),
  ),
  stands: [
    { station: 1, lane: "A", ...always },
    { station: 2, lane: "B", ...always },
  ],
});

function experiment(layers: RunLayer[], over: Partial<StoredRun> = {}): Experiment {
  const design = presetDesign("corrugated");
  const asBuilt = asBuiltSchema.parse({ grossAreaM2: 2 });
  return {
    id: 1,
    name: "Two boxes",
    question: "",
    demoKey: null,
    changedAt: 0,
    drawn: [],
    plannedDays: null,
    plannedFrom: null,
    settings: experimentSettingsSchema.parse({
      rules: standardRules("air"),
      basis: "mean",
      areaBasis: "gross",
      operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
      smallestDifference: 15,
      stationShare: 0.004,
    }),
    site: {
      id: 1,
      name: "Ridge",
      latitude: 46.31,
      longitude: 9.05,
      altitudeM: 1120,
      zone: "Europe/Zurich",
      detail: {
        ...PLAIN_SITE,
        turbidity: Array(12).fill(3),
        groundReflectance: Array(12).fill(0.2),
        climate: null,
      } as never,
    },
    lanes: ["A", "B"].map((letter, i) => ({
      letter,
      specimenId: i + 1,
      specimenNumber: 1,
      variantId: i + 1,
      variant: letter,
      revision: 1,
      design: letter === "B" ? { ...presetDesign("tubeSheet"), fluid: { kind: "glycol", massFraction: 0.4 } } : design,
      asBuilt,
    })),
    runs: [
      {
        id: 3,
        number: 1,
        note: "",
        setup: {
          plane: { tilt: 55, azimuth: 180 },
          sunSensor: { key: "sun", limitShare: 0.03, mounting: "plane" },
          groundReflectance: null,
          snow: null,
          ambientProbe: { key: "ambient", limitK: 0.3, resolutionK: 0.1 },
          pressurePa: null,
          relativeHumidity: 0.5,
          assumed: [],
          accepted: [],
          byHand: false,
          inletOutside: false,
        },
        places: place,
        specimens: ["A", "B"].map((letter) => ({
          letter,
          setup: { fluid: null, areaLimitShare: 0.01, timeConstantS: 220, b0: 0.1, b0Across: null, b0Limit: 0.03 },
        })),
        streams: [
          {
            id: 7,
            name: "log.csv",
            frames: 10,
            startMs: 1000,
            endMs: 9000,
            summary: {} as never,
            channels: [1, 2].flatMap((station) =>
              KINDS.map((kind, k) => ({
                channelNo: (station - 1) * 3 + k + 1,
                name: `${station} ${kind}`,
                kind,
                unit: null,
              })),
            ),
          },
        ],
        layers,
        ...over,
      },
    ],
  };
}

describe("one column of outside air for every inlet", () => {
  const everywhere = (detail: LayerDetail<"assignment">) => ({
    ...detail,
    mounts: detail.mounts.map((m) => (m.channelNo === 1 ? { ...m, station: null } : m)),
  });
  const kinds = (inletOutside: boolean) => {
    const shared = { ...assignment, detail: everywhere(assignment.detail as LayerDetail<"assignment">) } as RunLayer;
    const [run] = experiment([shared]).runs;
    const plan = assemblyPlan({ ...run, setup: { ...run.setup, inletOutside } });
    return plan.channels.filter((c) => c.channelNo === 1).map((c) => [c.kind, c.station]);
  };
  test("is the outside temperature too where a person says so, and not otherwise", () => {
    expect(kinds(false)).toEqual([
      ["inlet", 1],
      ["inlet", 2],
    ]);
    expect(kinds(true)).toEqual([
      ["ambient", null],
      ["inlet", 1],
      ["inlet", 2],
    ]);
  });
});

describe("from what is kept to what is reduced", () => {
  test("a lane's fluid is its drawing's unless the run says otherwise: a glycol box is not measured as water", () => {
    const e = experiment([assignment]);
    const [{ setup }] = arrangedSetups(e, e.runs[0]);
    expect(setup.lanes.map((l) => l.fluid)).toEqual([{ kind: "air" }, { kind: "glycol", massFraction: 0.4 }]);
    const water = experiment([assignment], {
      specimens: e.runs[0].specimens.map((s) => ({ ...s, setup: { ...s.setup, fluid: { kind: "water" } } })),
    });
    expect(arrangedSetups(water, water.runs[0])[0].setup.lanes[1].fluid).toEqual({ kind: "water" });
  });
  test("specimens carry their area and time constant, places keep probes and meters", () => {
    const swap = layer(2, "assignment", {
      mounts: [],
      stands: [
        { station: 1, lane: "B", fromMs: 5000, untilMs: null },
        { station: 2, lane: "A", fromMs: 5000, untilMs: null },
      ],
    });
    const e = experiment([assignment, swap]);
    const [before, after] = arrangedSetups(e, e.runs[0]);
    const at = (s: typeof before, lane: string) => s.setup.lanes.find((l) => l.lane === lane)!;
    expect([before.untilMs, after.fromMs]).toEqual([5000, 5000]);
    expect(at(after, "A").inletProbe).toEqual(at(before, "B").inletProbe);
    expect(at(after, "A").flow.meter.key).toBe("2");
    expect(at(after, "A").specimen).toBe(at(before, "A").specimen);
    expect(lanesOf(e.runs[0]).map((l) => [l.letter, l.station])).toEqual([
      ["A", 1],
      ["B", 2],
    ]);
  });
  test("a probe that took another's place is that probe, with its own calibration", () => {
    const changed = layer(2, "assignment", {
      mounts: [{ streamId: 7, channelNo: 2, instrument: "spare", station: 1, fromMs: null, untilMs: null }],
      stands: [],
    });
    const e = experiment([assignment, changed]);
    expect(arrangedSetups(e, e.runs[0])[0].setup.lanes[0].outletProbe.key).toBe("spare");
  });
  test("a flow factor goes to the meter it was measured for", () => {
    const flow = layer(4, "flow", { meter: "2", method: "traverse", factor: 0.77, limit: 0.005 });
    const e = experiment([assignment, flow]);
    const factors = arrangedSetups(e, e.runs[0])[0].setup.lanes.map((l) =>
      l.flow.kind === "speed" ? l.flow.profileFactor : null,
    );
    expect(factors[1]).toBe(0.77);
    expect(factors[0]).not.toBe(0.77);
  });
  test("a span set aside of a lane follows it from place to place", () => {
    const swap = layer(2, "assignment", {
      mounts: [],
      stands: [
        { station: 1, lane: "B", fromMs: 5000, untilMs: null },
        { station: 2, lane: "A", fromMs: 5000, untilMs: null },
      ],
    });
    const aside = layer(3, "exclusion", { lane: "A", fromMs: 4000, toMs: 6000 });
    const { exclusions } = assemblyPlan(experiment([assignment, swap, aside]).runs[0]);
    expect(exclusions.map((e) => [e.station, e.fromMs, e.toMs])).toEqual([
      [1, 4000, 5000],
      [2, 5000, 6000],
    ]);
  });
  test("clock shifts reach every channel of their logger, and only those", () => {
    const clock = layer(2, "clock", { streamId: 7, offsetMs: 90000 });
    const { channels } = assemblyPlan(experiment([assignment, clock]).runs[0]);
    expect(new Set(channels.map((c) => c.clockOffsetMs))).toEqual(new Set([90000]));
    const off = assemblyPlan(experiment([assignment, { ...clock, on: false }]).runs[0]);
    expect(off.channels.every((c) => c.clockOffsetMs === 0)).toBe(true);
  });
});

describe("a flow column is what it is", () => {
  test("a set-up that reads a speed does not take a volume flow for it: the flow is missing, and said to be", () => {
    const channels = first.channels.map((c) => (c.kind === "speed" ? { ...c, kind: "volumeFlow" as const } : c));
    const { runs, points } = reduceExperiment([wholeRun(first.setup, assembleRun(channels))], SETTINGS);
    expect(points).toEqual([]);
    expect(runs[0].missing).toContainEqual({ lane: "A", what: "flow" });
  });
  test("readings that a person knows to be right are not cleaned away", () => {
    const stuck = first.channels.map((c) =>
      c.kind === "inlet" && c.station === 1
        ? { ...c, values: c.values.map((v, i) => (i > 100 && i < 400 ? 21 : v)) }
        : c,
    );
    const found = (keep: ReadonlySet<"stuck">) =>
      assembleRun(stuck, [], keep)
        .cleaning.flatMap((c) => c.findings)
        .some((f) => f.reason === "stuck");
    expect(found(new Set())).toBe(true);
    expect(found(new Set(["stuck"]))).toBe(false);
  });
});
