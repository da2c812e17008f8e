import { assembleRun, type LoggedChannel } from "../../analysis/assemble";
import { wholeRun } from "../../analysis/reduce";
import type { LaneSetup, RunSetup } from "../../analysis/setup";
import { backyardRules } from "../../log/windows";
import { CORRUGATED, simulateBench, type BenchPlan } from "../../rig/bench";
import { exact, withSource } from "../../uncertainty/uncertain";
import { analyseExperiment } from "../../../../scripts/testing/analyse";
import { bench, day, SETTINGS } from "../../../../scripts/testing/threeLanes";
import { judgeReduction } from "../judgeReduction";
import { DOUBT_KINDS, type DoubtKind } from "./list";

/** What is wrong at a bench: how it is built, what its loggers write, what is said of it, and what is known beside. */
interface Wrong {
  plan?: Partial<BenchPlan>;
  /** One entry a channel; several or none may come back. */
  channels?: (channel: LoggedChannel) => LoggedChannel[];
  lane?: (lane: LaneSetup) => Partial<LaneSetup>;
  setup?: (setup: RunSetup) => Partial<RunSetup>;
  settings?: Settings | ((firstMs: number, middleMs: number) => Settings);
  /** Inlet temperatures the question is asked at, °C; left out: that of the settings. */
  inlets?: readonly number[];
}
type Settings = Partial<typeof SETTINGS>;

/** One on which nothing is to be doubted as it is. */
const SEED = 1;
/** Every lane at two places, so that nothing is left to doubt there. */
const SWAPPED: BenchPlan["runs"] = [
  { run: "1", days: [day(5), day(6)], stations: { A: 1, B: 2, C: 3 } },
  { run: "2", days: [day(8), day(9)], stations: { A: 2, B: 3, C: 1 } },
];

const doubtsOf = (wrong: Wrong) => {
  const { plan = {}, channels = (c) => [c], lane = () => ({}), setup = () => ({}), settings = {}, inlets } = wrong;
  const runs = simulateBench(bench(SEED, { runs: SWAPPED, ...plan })).map((r) => {
    const made: RunSetup = { ...r.setup, lanes: r.setup.lanes.map((l) => ({ ...l, ...lane(l) })) };
    const logged = r.channels.flatMap(channels).map((c, i) => ({ ...c, id: i + 1 }));
    return wholeRun({ ...made, ...setup(made) }, assembleRun(logged));
  });
  const times = runs[0].assembled.cleaning[0].channel.times;
  const own = typeof settings === "function" ? settings(times[0], times[Math.floor(times.length / 2)]) : settings;
  const asked = { ...SETTINGS, ...own };
  const { judgement, ...reduction } = analyseExperiment(runs, asked);
  return inlets
    ? inlets.flatMap((inletC) => {
        const operatingPoint = { ...asked.operatingPoint, inletC };
        return judgeReduction(reduction, { ...asked, operatingPoint }).doubts;
      })
    : judgement.doubts;
};

const of = (c: LoggedChannel, kind: LoggedChannel["kind"], station: number) => c.kind === kind && c.station === station;
/** Readings of a kind at a place, changed. */
const at =
  (kind: LoggedChannel["kind"], station: number, change: (v: number, i: number, c: LoggedChannel) => number) =>
  (c: LoggedChannel): LoggedChannel[] =>
    of(c, kind, station) ? [{ ...c, values: c.values.map((v, i) => change(v, i, c)) }] : [c];
const specimens = (change: Record<string, object>) =>
  bench(3).specimens.map((s) => ({ ...s, ...(change[s.lane] ?? {}) }));
const oneInlet = [{ fromHour: 0, aboveAmbientK: 0 }];
const expectedAs = (efficiency: number, lane = "A") =>
  new Map([
    [
      lane,
      {
        efficiency: withSource(efficiency, 0.02, { kind: "streamTransfer", owner: "", dof: Infinity }),
        a1: exact(5),
        flowPower: { eta0: 0.1, a1: 0 },
        ownFlow: 0.02,
        fanW: 8,
      },
    ],
  ]);
/** Smooths a channel by a time constant, as a probe in a thick sleeve does. */
const lagged = (lagS: number) => {
  let state = NaN;
  let last = NaN;
  return (v: number, i: number, c: LoggedChannel) => {
    if (i === 0 || c.times[i] - last > 3600_000) state = v;
    else state += (v - state) * (1 - Math.exp(-(c.times[i] - last) / 1000 / lagS));
    last = c.times[i];
    return state;
  };
};

const hourOf = (ms: number) => new Date(ms).getUTCHours() + 2;

/** Lanes that are said to stand where another does. */
const notedAs = (lanes: readonly LaneSetup[], places: Record<string, string>): LaneSetup[] =>
  lanes.map((l) => {
    const there = lanes.find((o) => o.lane === (places[l.lane] ?? l.lane))!;
    return { ...there, lane: l.lane, variant: l.variant, specimen: l.specimen };
  });

/** For each kind a bench whose readings, or what is said of them, hold its cause. */
const PROVOKED: Record<DoubtKind, Wrong> = {
  aboveOpticalLimit: { lane: () => ({ opticalLimit: 0.45 }) },
  negativeFlow: { channels: (c) => (c.name === "A speed" ? [{ ...c, values: c.values.map((v) => -v) }] : [c]) },
  impossible: {
    channels: (c) => [of(c, "inlet", 1) ? { ...c, kind: "outlet" } : of(c, "outlet", 1) ? { ...c, kind: "inlet" } : c],
  },
  unlikePrediction: { settings: { expected: expectedAs(0.2) } },
  differenceUnlike: { settings: { expected: new Map([...expectedAs(0.55), ...expectedAs(0.42, "B")]) } },
  otherFlow: { settings: { operatingPoint: { ...SETTINGS.operatingPoint, flowPerArea: 0.04 } } },
  identicalPairApart: { plan: { specimens: specimens({ C: { collector: { ...CORRUGATED, tauAlpha: 0.7 } } }) } },
  noIdenticalPair: {
    plan: {
      specimens: specimens({}).slice(0, 2),
      runs: [
        { run: "1", days: [day(5), day(6)], stations: { A: 1, B: 2 } },
        { run: "2", days: [day(8), day(9)], stations: { A: 2, B: 1 } },
      ],
    },
  },
  testedInTurn: {
    plan: {
      runs: ["A", "B", "C", "A", "B", "C"].map((l, d) => ({
        run: String(d + 1),
        days: [day(5 + d)],
        stations: { [l]: 1 },
      })),
    },
  },
  neverSwapped: { plan: { runs: [{ run: "1", days: [day(5), day(6), day(8)], stations: { A: 1, B: 2, C: 3 } }] } },
  // Noted for the second run, and not done: what stood at the first place still does.
  swapUnlike: {
    plan: {
      accuracy: { ...bench(SEED).accuracy, speedShare: 0.01, profileLimit: 0.005, probeK: 0.1 },
      runs: SWAPPED.map((r) => ({ ...r, stations: { A: 1, B: 2, C: 3 } })),
    },
    setup: ({ run, lanes }) => ({ lanes: run === "2" ? notedAs(lanes, { A: "B", B: "A" }) : lanes }),
  },
  // In the shade of a post every morning: no window lies there, every day does.
  methodsApart: {
    plan: {
      inletProgram: oneInlet,
      runs: [{ run: "1", days: [5, 6, 8, 9].map((d) => day(d)), stations: { A: 1, B: 2, C: 3 } }],
    },
    channels: at("outlet", 2, (v, i, c) => v - (hourOf(c.times[i]) < 11 ? 9 : 0)),
  },
  unequalFlow: { plan: { specimens: specimens({ B: { massFlowKgPerS: 0.033 } }) } },
  scatterUnexplained: { channels: at("outlet", 2, (v, i, c) => v + 5 * Math.sin(c.times[i] / 1.3e6)) },
  flowAssumed: {
    channels: (c) => (c.kind === "speed" ? [] : [c]),
    lane: ({ flow }) => ({ flow: { kind: "constant", massFlowKgPerS: 0.04, meter: flow.meter } }),
  },
  accuracyAssumed: { setup: () => ({ assumed: ["probes"] }) },
  inletsDiffer: {
    plan: { inletProgram: oneInlet },
    channels: (c) =>
      c.station === 2 && (c.kind === "inlet" || c.kind === "outlet")
        ? [{ ...c, values: c.values.map((v) => v + 6) }]
        : [c],
  },
  extrapolated: { settings: { operatingPoint: { ...SETTINGS.operatingPoint, inletC: 44 } } },
  fewDays: { plan: { runs: [{ run: "1", days: [day(5)], stations: { A: 1, B: 2, C: 3 } }] } },
  daysDiffer: { channels: at("outlet", 2, (v, i, c) => v + (new Date(c.times[i]).getUTCDate() % 2 ? 1.5 : -1.5)) },
  hottestIsNotBest: { plan: { specimens: specimens({ A: { massFlowKgPerS: 0.018 }, C: { massFlowKgPerS: 0.018 } }) } },
  riseAtDark: { plan: { hours: [0, 24] }, channels: at("outlet", 1, (v) => v + 3) },
  probeInSun: {
    plan: { stepS: 30, runs: SWAPPED.map((r) => ({ ...r, days: [day(5, 0.5), day(6, 0.5)] })) },
    channels: (() => {
      let sun: Float64Array = new Float64Array();
      return (c: LoggedChannel) => {
        if (c.kind === "irradiance") sun = c.values;
        return c.kind === "ambient" ? [{ ...c, values: c.values.map((v, i) => v + 0.006 * sun[i]) }] : [c];
      };
    })(),
  },
  probeLags: {
    plan: {
      stepS: 10,
      hours: [9, 16],
      runs: [{ run: "1", days: [day(5, 0.5), day(6, 0.5)], stations: { A: 1, B: 2, C: 3 } }],
    },
    channels: at("inlet", 2, lagged(240)),
  },
  modelledSun: { setup: (s) => ({ sunSensor: { ...s.sunSensor, mounting: "modelled" } }) },
  orderFlips: {
    plan: {
      seed: 3,
      specimens: specimens({ B: { collector: { ...CORRUGATED, tauAlpha: 0.76, frontLoss: 3.4 } } }),
    },
    inlets: Array.from({ length: 40 }, (_, i) => 6 + i),
  },
  readEarly: { lane: () => ({ timeConstantS: 400 }), settings: { rules: backyardRules("air") } },
  // Too few windows for a curve that would count it.
  heatStored: {
    plan: {
      hours: [9.5, 12],
      runs: SWAPPED.map((r) => ({ ...r, days: r.days.slice(0, 1) })),
      inletProgram: Array.from({ length: 90 }, (_, i) => ({ fromHour: 9 + i / 10, aboveAmbientK: 0.24 * i })),
    },
    lane: () => ({ timeConstantS: 800 }),
    settings: { rules: backyardRules("air") },
  },
  leak: {
    channels: (c) => (of(c, "speed", 1) ? [c, { ...c, kind: "massFlow", values: c.values.map(() => 0.03) }] : [c]),
  },
  windApart: {
    channels: (c) =>
      c.kind === "wind" ? [c, { ...c, name: "second wind", values: c.values.map((v) => 2.5 * v + 1) }] : [c],
  },
  timeConstantAssumed: { settings: { sketchedTimeConstants: ["A"] } },
  changedMidway: {
    settings: (_, atMs) => ({ events: [{ run: "1", kind: "coverCleaned", lane: "A", atMs }] }),
  },
  disturbed: {
    settings: (firstMs) => ({
      events: Array.from({ length: 40 }, (_, i) => ({
        run: "1",
        kind: "door" as const,
        lane: null,
        atMs: firstMs + i * 12 * 60_000,
      })),
    }),
  },
  fanHeatUnknown: { lane: () => ({ fanShare: 1 }) },
  stratified: {
    channels: (c) =>
      of(c, "outlet", 1) ? [c, { ...c, name: "A outlet low", values: c.values.map((v) => v - 9) }] : [c],
  },
  mirrorUncounted: { settings: { mirrored: ["A"] } },
  cleaned: { channels: at("outlet", 1, (v, i) => (i > 60 && i < 240 ? 31.25 : v)) },
};

describe.each(DOUBT_KINDS)("%s", (kind) => {
  test("is found from readings, through every stage to the verdict", () => {
    expect(doubtsOf(PROVOKED[kind]).map((d) => d.kind)).toContain(kind);
  });
});

test("a good bench raises none", () => {
  expect(doubtsOf({}).map((d) => d.kind)).toEqual([]);
});
