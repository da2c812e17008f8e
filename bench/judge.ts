/**
 * Does a verdict hold on the benches people really have? Seeded benches with hidden errors go through the whole chain, from the log to
 * the sentence: with equal boxes (a winner is false), with boxes apart by twice what matters ("equal" is false), and with slips of a
 * careless stranger (each must change nothing, be named, or stop the verdict). Run: `npx tsx bench/judge.ts [benches] [slips] [kind]`.
 */
import { performance } from "node:perf_hooks";
import { assembleRun, type LoggedChannel } from "../src/core/analysis/assemble";
import { reduceExperiment, wholeRun } from "../src/core/analysis/reduce";
import type { RunSetup } from "../src/core/analysis/setup";
import type { Judgement } from "../src/core/judge/judge";
import { judgeReduction } from "../src/core/judge/judgeReduction";
import { backyardRules } from "../src/core/log/windows";
import { seededRandom } from "../src/core/random/seededRandom";
import { CORRUGATED, simulateBench, type BenchAccuracy, type BenchPlan } from "../src/core/rig/bench";
import type { RigCollector } from "../src/core/rig/simulate";

const BENCHES = Number(process.argv[2] ?? 200);
const SLIPS = Number(process.argv[3] ?? 60);
/** Kinds of benches with this in their names; all where it is left out. */
const ONLY = process.argv[4];
/** W/m² */
const MATTERS = 20;
const SETTINGS = {
  rules: backyardRules("air"),
  basis: "mean" as const,
  curvature: "auto" as const,
  operatingPoint: { irradianceWm2: 800, ambientC: 8, inletC: 15, flowPerArea: 0.02 },
  smallestDifference: MATTERS,
  stationShare: 0.005,
  seed: 1,
};

const LOOP_POINT = { ...SETTINGS.operatingPoint, flowPerArea: 0.015 };

interface Kind {
  name: string;
  accuracy: BenchAccuracy;
  inlets: BenchPlan["inletProgram"];
  /** Runs, the second with places exchanged. */
  swapped: boolean;
  /** A loop of water in place of air. */
  water?: boolean;
  /** Each lane warms a tank of its own, and no flow is known. */
  tank?: boolean;
  logged: (channel: LoggedChannel) => boolean;
}
const CHEAP: BenchAccuracy = {
  probeK: 0.5,
  speedShare: 0.05,
  profileLimit: 0.05,
  sunShare: 0.05,
  ambientK: 0.5,
  stationShare: 0.005,
};
const GOOD: BenchAccuracy = { ...CHEAP, probeK: 0.15, speedShare: 0.015, profileLimit: 0.01, sunShare: 0.03 };
const OUTSIDE = [{ fromHour: 0, aboveAmbientK: 0 }];
const STEPS = [
  { fromHour: 0, aboveAmbientK: 2 },
  { fromHour: 12, aboveAmbientK: 12 },
  { fromHour: 13.6, aboveAmbientK: 22 },
];
const KINDS: Kind[] = [
  {
    name: "hobby logger, outside air, no sun sensor, places kept",
    accuracy: CHEAP,
    inlets: OUTSIDE,
    swapped: false,
    logged: (c) => c.kind !== "irradiance" && c.kind !== "humidity",
  },
  {
    name: "the same, places exchanged",
    accuracy: CHEAP,
    inlets: OUTSIDE,
    swapped: true,
    logged: (c) => c.kind !== "irradiance" && c.kind !== "humidity",
  },
  { name: "the same with a sun sensor", accuracy: CHEAP, inlets: OUTSIDE, swapped: true, logged: () => true },
  {
    name: "water, cheap probes, loop warmed by the day, places exchanged",
    accuracy: { ...CHEAP, probeK: 0.2 },
    inlets: [
      { fromHour: 0, aboveAmbientK: 6 },
      { fromHour: 12, aboveAmbientK: 9 },
    ],
    swapped: true,
    water: true,
    logged: (c) => c.kind !== "irradiance" && c.kind !== "humidity",
  },
  {
    name: "water, a proper loop: inlet steps, places exchanged",
    accuracy: { ...GOOD, probeK: 0.05 },
    inlets: STEPS,
    swapped: true,
    water: true,
    logged: () => true,
  },
  {
    name: "two tanks of 120 litres on loops, nothing but their temperatures, sun and outside",
    accuracy: { ...CHEAP, probeK: 0.2 },
    inlets: OUTSIDE,
    swapped: false,
    water: true,
    tank: true,
    logged: (c) => ["tank", "irradiance", "ambient"].includes(c.kind),
  },
  {
    name: "a proper bench: inlet steps, places exchanged",
    accuracy: GOOD,
    inlets: STEPS,
    swapped: true,
    logged: () => true,
  },
];

/** B's transfer from plate to air: with the larger it gives about 45 W/m² more. */
const BETTER: RigCollector = { ...CORRUGATED, streamTransfer: 42 };

/** A tube and sheet with water; the better one by its coating, about 45 W/m². */
const LOOP: RigCollector = { ...CORRUGATED, streamTransfer: 250, referenceFlowPerArea: 0.015, capacity: 8000 };
const BETTER_LOOP: RigCollector = { ...LOOP, tauAlpha: 0.84 };

type Slip = {
  name: string;
  setup?: (s: RunSetup) => RunSetup;
  channels?: (list: LoggedChannel[], laneA: number) => LoggedChannel[];
};
const change = (list: LoggedChannel[], which: (c: LoggedChannel) => boolean, f: (v: Float64Array) => Float64Array) =>
  list.map((c) => (which(c) ? { ...c, values: f(c.values) } : c));
const share = (from: number, to: number, f: (v: number, i: number) => number) => (v: Float64Array) =>
  v.map((x, i) => (i > from * v.length && i < to * v.length ? f(x, i) : x));
const SLIPS_TRIED: Slip[] = [
  {
    name: "A's speed in mph taken for m/s",
    channels: (l, a) =>
      change(
        l,
        (c) => c.kind === "speed" && c.station === a,
        (v) => v.map((x) => x * 2.237),
      ),
  },
  {
    name: "A's speed in ft/min taken for m/min",
    channels: (l, a) =>
      change(
        l,
        (c) => c.kind === "speed" && c.station === a,
        (v) => v.map((x) => x * 3.281),
      ),
  },
  {
    name: "all temperatures in °F taken for °C",
    channels: (l) =>
      change(
        l,
        (c) => ["inlet", "outlet", "ambient"].includes(c.kind),
        (v) => v.map((x) => 1.8 * x + 32),
      ),
  },
  {
    name: "A's in and out exchanged",
    channels: (l, a) =>
      l.map((c) =>
        c.station === a && (c.kind === "inlet" || c.kind === "outlet")
          ? { ...c, kind: c.kind === "inlet" ? ("outlet" as const) : ("inlet" as const) }
          : c,
      ),
  },
  { name: "the clock nine hours off", channels: (l) => l.map((c) => ({ ...c, clockOffsetMs: 9 * 3600000 })) },
  { name: "the clock an hour off", channels: (l) => l.map((c) => ({ ...c, clockOffsetMs: 3600000 })) },
  {
    name: "A's fan stopped for an hour each day",
    channels: (l, a) =>
      change(
        change(
          l,
          (c) => c.kind === "speed" && c.station === a,
          (v) => v.map((x, i) => (stopped(i, v.length) ? 0 : x)),
        ),
        (c) => c.kind === "outlet" && c.station === a,
        (v) => v.map((x, i) => (stopped(i, v.length) ? x + 35 : x)),
      ),
  },
  {
    name: "A shaded for an hour each day",
    channels: (l, a) => {
      const inlet = l.find((c) => c.kind === "inlet" && c.station === a)!.values;
      return change(
        l,
        (c) => c.kind === "outlet" && c.station === a,
        (v) => v.map((x, i) => (stopped(i, v.length) ? inlet[i] + 0.4 * (x - inlet[i]) : x)),
      );
    },
  },
  {
    name: "A's area half of what it is",
    setup: (s) => ({ ...s, lanes: s.lanes.map((x) => (x.lane === "A" ? { ...x, areaM2: x.areaM2 / 2 } : x)) }),
  },
  {
    name: "an hourly barometer",
    channels: (l) => {
      const times = Float64Array.from({ length: 24 }, (_, i) => l[0].times[0] + i * 3600000);
      return [
        ...l,
        { ...l[0], id: 991, name: "baro", kind: "pressure", station: null, times, values: times.map(() => 88500) },
      ];
    },
  },
  {
    name: "A's probes both on one column",
    channels: (l, a) => {
      const inlet = l.find((c) => c.kind === "inlet" && c.station === a)!.values;
      return change(
        l,
        (c) => c.kind === "outlet" && c.station === a,
        () => inlet,
      );
    },
  },
  { name: "a quarter of the run's outlet readings stuck", channels: (l, a) => stuck(l, a) },
  {
    name: "all flows in L/s taken for m³/h",
    channels: (l) =>
      change(
        l,
        (c) => c.kind === "speed",
        (v) => v.map((x) => x / 3.6),
      ),
  },
  {
    name: "all speeds in mph taken for m/s",
    channels: (l) =>
      change(
        l,
        (c) => c.kind === "speed",
        (v) => v.map((x) => x * 2.237),
      ),
  },
  { name: "the plane entered facing north", setup: (s) => ({ ...s, plane: { ...s.plane, azimuth: 0 } }) },
  {
    name: "the sun sensor half shaded an hour a day",
    channels: (l) =>
      change(
        l,
        (c) => c.kind === "irradiance",
        (v) => v.map((x, i) => (stopped(i, v.length) ? 0.5 * x : x)),
      ),
  },
  {
    name: "A's outlet on B's column and the other way about",
    channels: (l) => l.map((c) => (c.kind === "outlet" ? { ...c, station: 3 - c.station! } : c)),
  },
];
function stuck(l: LoggedChannel[], a: number) {
  const held = (v: Float64Array) => share(0.3, 0.55, () => v[Math.floor(0.3 * v.length)])(v);
  return change(l, (c) => c.kind === "outlet" && c.station === a, held);
}
/** An hour at noon of a day of ten hours, two days a run. */
const stopped = (i: number, n: number) => {
  const day = n / 2;
  const at = (i % day) / day;
  return at > 0.45 && at < 0.55;
};

function bench(kind: Kind, seed: number, better: boolean, slip?: Slip): Judgement {
  const own = seededRandom(seed * 31 + 7);
  const day = (d: number) => ({
    dateMs: Date.UTC(2026, 9, d, 10),
    cloudiness: 0.05 + 0.4 * Math.abs(own.within(1)),
    meanAmbientC: 8 + 3 * own.within(1),
    meanWind: 1.7 + 0.5 * own.within(1),
  });
  const [plain, more] = kind.water ? [LOOP, BETTER_LOOP] : [CORRUGATED, BETTER];
  const flow = kind.water ? 0.03 : 0.04;
  // Equal boxes are equal in this too.
  const b0 = 0.1 + own.within(0.03);
  const box = (collector: RigCollector) => ({ ...collector, b0 });
  // Two of one make stand at two places: each loses a little otherwise.
  const tank = () =>
    kind.tank
      ? { massKg: 120 * (1 + own.within(0.02)), lossWK: 3 * (1 + own.within(0.15)), fromC: 12 + own.within(1) }
      : undefined;
  const plan: BenchPlan = {
    seed,
    accuracy: kind.accuracy,
    stepS: 60,
    hours: kind.tank ? [0, 24] : [8, 18],
    inletProgram: kind.inlets,
    fluid: kind.water ? { kind: "water" } : { kind: "air" },
    specimens: [
      { lane: "A", variant: "a", collector: box(plain), areaM2: 2, massFlowKgPerS: flow, tank: tank() },
      { lane: "B", variant: "b", collector: box(better ? more : plain), areaM2: 2, massFlowKgPerS: flow, tank: tank() },
    ],
    runs: [
      { run: "1", days: [day(5), day(6)], stations: { A: 1, B: 2 } },
      { run: "2", days: [day(8), day(9)], stations: kind.swapped ? { A: 2, B: 1 } : { A: 1, B: 2 } },
    ],
  };
  const runs = simulateBench(plan).map((r, i) => {
    const logged = r.channels.filter(kind.logged);
    const laneA = plan.runs[i].stations.A;
    const stated = kind.tank ? byTank(r.setup) : r.setup;
    return wholeRun(slip?.setup?.(stated) ?? stated, assembleRun(slip?.channels?.(logged, laneA) ?? logged));
  });
  const settings = kind.water ? { ...SETTINGS, rules: backyardRules("water"), operatingPoint: LOOP_POINT } : SETTINGS;
  return judgeReduction(reduceExperiment(runs, settings), settings);
}

/** As an import of tanks alone states it: their water, weighed in. */
const byTank = (setup: RunSetup): RunSetup => ({
  ...setup,
  lanes: setup.lanes.map((l) => ({
    ...l,
    flow: { kind: "tank", massKg: 120, meter: { key: l.lane, at: "outlet", limitShare: 0.02, limitFixed: 0 } },
  })),
});

const answer = ({ verdict }: Judgement): string =>
  verdict.kind === "winner" ? `${verdict.best.join("")} better` : verdict.kind;
const NAMING = new Set([
  "impossible",
  "aboveOpticalLimit",
  "negativeFlow",
  "unequalFlow",
  "cleaned",
  "scatterUnexplained",
]);
const named = (j: Judgement) => j.doubts.some((d) => NAMING.has(d.kind));
const percent = (n: number, of: number) => `${((100 * n) / of).toFixed(1)} %`.padStart(7);

function count(kind: Kind, better: boolean, alarms: Map<string, number>): Map<string, number> {
  const out = new Map<string, number>();
  for (let i = 0; i < BENCHES; i++) {
    const j = bench(kind, 1000 + i, better);
    const [pair] = j.pairs;
    if (pair && !better) {
      out.set("pairs", (out.get("pairs") ?? 0) + 1);
      if (Math.abs(pair.difference.value) <= pair.expanded) out.set("held", (out.get("held") ?? 0) + 1);
    }
    for (const d of j.doubts) {
      const what = d.kind === "impossible" ? d.found.kind : d.kind;
      if (NAMING.has(d.kind)) alarms.set(what, (alarms.get(what) ?? 0) + 1);
    }
    const said = answer(j);
    out.set(said, (out.get(said) ?? 0) + 1);
  }
  return out;
}

const started = performance.now();
console.log(
  `${BENCHES} benches of a kind, ${MATTERS} W/m² matters; false: a winner among equals; "equal" or the wrong one among boxes apart\n`,
);
for (const kind of KINDS.filter((k) => !ONLY || k.name.includes(ONLY))) {
  const alarms = new Map<string, number>();
  const equal = count(kind, false, alarms);
  const apart = count(kind, true, alarms);
  const of = (m: Map<string, number>, ...keys: string[]) =>
    percent(
      keys.reduce((s, k) => s + (m.get(k) ?? 0), 0),
      BENCHES,
    );
  console.log(
    `${kind.name.padEnd(54)} equal boxes: false winner${of(equal, "A better", "B better")}, equal${of(equal, "tie")}, cannot tell${of(equal, "cannotTell")}, stopped${of(equal, "stopped", "none")}; nothing held in ${percent(equal.get("held") ?? 0, equal.get("pairs") ?? 1)}`,
  );
  console.log(
    `${"".padEnd(54)} boxes apart: false equal${of(apart, "tie")}, wrong one${of(apart, "A better")}, right one${of(apart, "B better")}, cannot tell${of(apart, "cannotTell")}, stopped${of(apart, "stopped", "none")}`,
  );
  console.log(
    `${"".padEnd(54)} named without cause: ${[...alarms].map(([k, n]) => `${k}${percent(n, 2 * BENCHES)}`).join(", ") || "nothing"}`,
  );
}
console.log(
  `\nslips on ${SLIPS} benches each, boxes apart; silent: another answer than without the slip, and nothing said of it`,
);
for (const kind of SLIPS ? [KINDS[1], KINDS[2], KINDS[KINDS.length - 1]] : []) {
  console.log(kind.name);
  for (const slip of SLIPS_TRIED) {
    let silent = 0;
    let stopping = 0;
    let told = 0;
    for (let i = 0; i < SLIPS; i++) {
      const honest = answer(bench(kind, 5000 + i, true));
      const j = bench(kind, 5000 + i, true, slip);
      const said = answer(j);
      if (said === "stopped") stopping++;
      else if (named(j)) told++;
      // Saying less than before is no false answer.
      else if (said !== honest && said !== "cannotTell" && said !== "none") silent++;
    }
    console.log(
      `  ${slip.name.padEnd(48)} silent${percent(silent, SLIPS)}, named${percent(told, SLIPS)}, stopped${percent(stopping, SLIPS)}`,
    );
  }
}
console.log(`\n${((performance.now() - started) / 1000).toFixed(0)} s`);
