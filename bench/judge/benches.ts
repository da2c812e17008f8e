import { assembleRun, type LoggedChannel } from "../../src/core/analysis/assemble";
import { reduceExperiment, wholeRun, type RunInput } from "../../src/core/analysis/reduce";
import type { RunSetup } from "../../src/core/analysis/setup";
import { byDaylight, leavesOpen, ledByDaylight } from "../../src/core/judge/byDaylight";
import type { Facts } from "../../src/core/judge/evidence";
import type { Judgement } from "../../src/core/judge/judge";
import { judgeReduction } from "../../src/core/judge/judgeReduction";
import { backyardRules } from "../../src/core/log/windows";
import { fittedByDaylight, foundByDaylight } from "../../src/core/method/find/dynamic";
import { methodSpans } from "../../src/core/method/find/span";
import { seededRandom } from "../../src/core/random/seededRandom";
import { CORRUGATED, simulateBench, type BenchAccuracy, type BenchPlan, type BenchRun } from "../../src/core/rig/bench";
import type { RigCollector } from "../../src/core/rig/simulate";
import { lightInPlane } from "../../src/core/rig/weather";

/** W/m² */
export const MATTERS = 20;
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

/** A kind of bench that people have. */
export interface Kind {
  name: string;
  accuracy: BenchAccuracy;
  inlets: BenchPlan["inletProgram"];
  /** Runs, the second with places exchanged. */
  swapped: boolean;
  /** A loop of water in place of air. */
  water?: boolean;
  /** Each lane warms a tank of its own, and no flow is known. */
  tank?: boolean;
  /** B's tank begins so much warmer than A's, K. */
  warmerK?: number;
  /** One place and one logger: the lane that stands there, day by day. */
  order?: string;
  /** A mirror on A is turned up and down by turns; it is what is asked about. */
  turned?: boolean;
  /** The sun sensor lies flat. */
  flat?: boolean;
  /** Both lanes at this share of their flow in the second run. */
  secondFlow?: number;
  /** Share of heavy cloud; left out: from clear to half. */
  cloudiness?: number;
  logged: (channel: LoggedChannel) => boolean;
}

/** What a careless stranger did. */
export interface Slip {
  name: string;
  setup?: (s: RunSetup) => RunSetup;
  /** @param laneA station of A in this run @param run from 0 */
  channels?: (list: LoggedChannel[], laneA: number, run: number) => LoggedChannel[];
  /** The places were not exchanged when it was noted: so many days late, or never. */
  swapLate?: number;
}

/** B's transfer from plate to air: with the larger it gives about 45 W/m² more. */
const BETTER: RigCollector = { ...CORRUGATED, streamTransfer: 42 };
/** A tube and sheet with water; the better one by its coating, about 45 W/m². */
const LOOP: RigCollector = { ...CORRUGATED, streamTransfer: 250, referenceFlowPerArea: 0.015, capacity: 8000 };
const BETTER_LOOP: RigCollector = { ...LOOP, tauAlpha: 0.84 };
/** What a mirror that works adds to A's rise. */
const MIRROR_ADDS = 1.1;
const HOUR = 3_600_000;

const at = (day: number, hour: number) => Date.UTC(2026, 9, day, 0) + hour * HOUR;
const DAYS: [number[], number[]] = [
  [5, 6],
  [8, 9],
];
/** UTC: four times up on each day. */
const UP = DAYS.flat().flatMap((d) => [8.5, 10, 11.5, 13].map((h) => [at(d, h), at(d, h + 0.75)] as const));

function planOf(kind: Kind, seed: number, better: boolean): BenchPlan {
  const own = seededRandom(seed * 31 + 7);
  const day = (d: number) => ({
    dateMs: at(d, 10),
    cloudiness: kind.cloudiness ?? 0.05 + 0.4 * Math.abs(own.within(1)),
    meanAmbientC: 8 + 3 * own.within(1),
    meanWind: 1.7 + 0.5 * own.within(1),
  });
  const [plain, more] = kind.water ? [LOOP, BETTER_LOOP] : [CORRUGATED, BETTER];
  const flow = kind.water ? 0.03 : 0.04;
  // Equal boxes are equal in this too.
  const b0 = 0.1 + own.within(0.03);
  // Two of one make stand at two places: each loses a little otherwise.
  const tank = (warmerK: number) =>
    kind.tank
      ? {
          massKg: 120 * (1 + own.within(0.02)),
          lossWK: 3 * (1 + own.within(0.15)),
          fromC: 12 + own.within(1) + warmerK,
        }
      : undefined;
  const box = (lane: string, collector: RigCollector) => ({
    lane,
    variant: lane.toLowerCase(),
    collector: { ...collector, b0 },
    areaM2: 2,
    massFlowKgPerS: flow,
    tank: tank(lane === "B" ? (kind.warmerK ?? 0) : 0),
  });
  const sideBySide = [
    { run: "1", days: DAYS[0].map(day), stations: { A: 1, B: 2 } },
    { run: "2", days: DAYS[1].map(day), stations: kind.swapped ? { A: 2, B: 1 } : { A: 1, B: 2 } },
  ];
  return {
    seed,
    accuracy: kind.accuracy,
    stepS: 60,
    hours: kind.tank ? [0, 24] : [8, 18],
    inletProgram: kind.inlets,
    fluid: kind.water ? { kind: "water" } : { kind: "air" },
    specimens: [box("A", plain), box("B", better && !kind.turned ? more : plain)],
    runs: kind.order ? oneAfterAnother(kind.order, own, day) : sideBySide,
  };
}

/** Days remember each other: haze and warmth go on from one to the next. */
function oneAfterAnother(
  order: string,
  own: ReturnType<typeof seededRandom>,
  day: (d: number) => BenchPlan["runs"][number]["days"][number],
): BenchPlan["runs"] {
  let [haze, warm] = [own.normal(), own.normal()];
  return [...order].map((lane, d) => {
    haze = 0.4 * haze + Math.sqrt(1 - 0.16) * own.normal();
    warm = 0.7 * warm + Math.sqrt(1 - 0.49) * own.normal();
    return {
      run: String(d + 1),
      days: [{ ...day(1 + d), meanAmbientC: 9 + 4 * warm }],
      stations: { [lane]: 1 },
      linkeTurbidity: Math.max(1.9, 2.9 + 0.5 * haze),
    };
  });
}

/** Runs as the rig logs them. Some errors stay with the bench: all of its simulations draw them alike. */
function simulated(kind: Kind, plan: BenchPlan, slip?: Slip): BenchRun[] {
  if (slip?.swapLate !== undefined) return swappedLate(plan, slip.swapLate);
  if (kind.secondFlow === undefined) return simulateBench(plan);
  const { secondFlow } = kind;
  const specimens = plan.specimens.map((s) => ({ ...s, massFlowKgPerS: secondFlow * s.massFlowKgPerS }));
  return [simulateBench(plan)[0], simulateBench({ ...plan, specimens })[1]];
}

/** The second run day by day, its first ones still as in the first; what is said of them is what was noted. */
function swappedLate(plan: BenchPlan, late: number): BenchRun[] {
  const [before, after] = plan.runs;
  const days = after.days.map((d, i) => ({
    run: `2${"ab"[i]}`,
    days: [d],
    stations: i < late ? before.stations : after.stations,
  }));
  const runs = simulateBench({ ...plan, runs: [before, ...days] });
  const noted = simulateBench({ ...plan, runs: [after] })[0].setup;
  return runs.map((r, i) => (i === 0 ? r : { ...r, setup: { ...noted, run: r.setup.run } }));
}

/** As an import of tanks alone states it: their water, weighed in. */
const byTank = (setup: RunSetup): RunSetup => ({
  ...setup,
  lanes: setup.lanes.map((l) => ({
    ...l,
    flow: { kind: "tank", massKg: 120, meter: { key: l.lane, at: "outlet", limitShare: 0.02, limitFixed: 0 } },
  })),
});

/** A sensor that lies flat under the sky that the rig had. */
function laidFlat({ setup, channels, log }: BenchRun, linkeTurbidity: number): BenchRun {
  const scene = { place: setup.place, plane: setup.plane, linkeTurbidity };
  const flat = { ...scene, plane: { tilt: 0, azimuth: 180 } };
  const under = (ms: number, seen: number) => {
    let [low, high] = [0, 1.05];
    for (let i = 0; i < 22; i++) {
      const middle = (low + high) / 2;
      if (lightInPlane(ms, scene, middle).total < seen) low = middle;
      else high = middle;
    }
    return lightInPlane(ms, flat, high).total;
  };
  return {
    log,
    setup: { ...setup, sunSensor: { ...setup.sunSensor, mounting: "horizontal" } },
    channels: channels.map((c) => {
      if (c.kind !== "irradiance") return c;
      const gain = (i: number) => {
        const real = log.truth.irradiance[i];
        return real > 20 ? (under(c.times[i], real) * c.values[i]) / real : 0;
      };
      return { ...c, values: Float64Array.from(c.times, (_, i) => gain(i)) };
    }),
  };
}

/** A's rise with its mirror up; the meter stands in the outlet: the same mass of warmer air runs faster. */
function mirrored({ setup, channels, log }: BenchRun, adds: number): BenchRun {
  const named = (name: string) => channels.find((c) => c.name === name)!.values;
  const [inlet, outlet] = [named("A inlet"), named("A outlet")];
  const isUp = (ms: number) => UP.some(([from, to]) => ms >= from && ms < to);
  const warmer = outlet.map((v, i) => (isUp(log.times[i]) ? inlet[i] + adds * (v - inlet[i]) : v));
  const faster = (v: number, i: number) => (v * (warmer[i] + 273.15)) / (outlet[i] + 273.15);
  return {
    setup,
    log,
    channels: channels.map((c) => {
      if (c.name === "A outlet") return { ...c, values: warmer };
      return c.name === "A speed" ? { ...c, values: c.values.map(faster) } : c;
    }),
  };
}

/** One bench through the whole chain, from its log to the verdict. */
export function bench(kind: Kind, seed: number, better: boolean, slip?: Slip): Judgement {
  const plan = planOf(kind, seed, better);
  const runs = simulated(kind, plan, slip).map((made, i) => {
    let run = made;
    if (kind.turned) run = mirrored(run, better ? MIRROR_ADDS : 1);
    if (kind.flat) run = laidFlat(run, plan.runs[i]?.linkeTurbidity ?? 2.7);
    const logged = run.channels.filter(kind.logged);
    const laneA = run.setup.lanes.find((l) => l.lane === "A")?.station ?? 1;
    const stated = kind.tank ? byTank(run.setup) : run.setup;
    return wholeRun(slip?.setup?.(stated) ?? stated, assembleRun(slip?.channels?.(logged, laneA, i) ?? logged));
  });
  const settings = kind.water ? { ...SETTINGS, rules: backyardRules("water"), operatingPoint: LOOP_POINT } : SETTINGS;
  const events = kind.turned
    ? UP.flat().map((atMs) => ({
        run: atMs < at(7, 0) ? "1" : "2",
        kind: "mirror" as const,
        lane: "A",
        atMs,
      }))
    : [];
  return withDaylight(runs, { ...settings, events, dismissed: {} });
}

/** As the pages judge: all daylight leads where windows and hours leave the question open. */
function withDaylight(runs: RunInput[], settings: typeof SETTINGS & Pick<Facts, "events" | "dismissed">): Judgement {
  const reduction = reduceExperiment(runs, settings);
  const judgement = judgeReduction(reduction, settings);
  if (!leavesOpen(judgement)) return judgement;
  const lanes = reduction.lanes.map(({ lane, variant }) => ({ lane, variant, tank: null, pipeM: null }));
  const input = { ...settings, spans: runs.flatMap((r) => methodSpans(r, [])), lanes };
  const found = foundByDaylight(fittedByDaylight(input), input);
  return ledByDaylight(judgement, byDaylight(judgement, reduction.lanes, found, settings));
}
