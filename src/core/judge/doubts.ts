import type { Curve } from "../analysis/curve";
import type { EfficiencyPoint } from "../analysis/points";
import type { PlacementFindings } from "../analysis/placement";
import type { CleaningNote } from "../analysis/reduce";
import type { OperatingPoint } from "../analysis/setup";
import { coverageFactor, standardUncertainty } from "../uncertainty/uncertain";
import type { PairComparison } from "./pairs";
import type { RankedLane } from "./ranking";
import type { Verdict } from "./verdict";

/** Effect on the leading difference, W/m²: what the answer could become is answer + [low, high]. */
export interface Effect {
  low: number;
  high: number;
}

export type Doubt =
  | { kind: "unequalFlow"; lanes: { lane: string; flowPerArea: number }[]; spread: number; effect: Effect | null }
  | { kind: "aboveOpticalLimit"; lane: string; efficiency: number; limit: number; windows: number; effect: null }
  | { kind: "neverSwapped"; a: string; b: string; effect: Effect }
  | { kind: "identicalPairApart"; a: string; b: string; difference: number; expanded: number; effect: Effect }
  | { kind: "noIdenticalPair"; effect: null }
  | { kind: "fewDays"; days: number; effect: null }
  | { kind: "extrapolated"; lane: string; x: number; xRange: [number, number]; effect: Effect }
  | { kind: "daysDiffer"; lanes: string[]; effect: null }
  | { kind: "hottestIsNotBest"; hottest: string; best: string; outletC: number; bestOutletC: number; effect: null }
  | { kind: "riseAtDark"; run: string; lane: string; riseK: number; effect: Effect | null }
  | { kind: "probeInSun"; run: string; lane: string; perHundred: number; effect: null }
  | { kind: "probeLags"; run: string; lane: string; lagS: number; effect: null }
  | { kind: "modelledSun"; runs: string[]; effect: null }
  | { kind: "cleaned"; note: CleaningNote; effect: null }
  | { kind: "negativeFlow"; lane: string; windows: number; effect: null };

interface DoubtInput {
  lanes: readonly { lane: string; variant: string; curve: Curve }[];
  points: readonly EfficiencyPoint[];
  operatingPoint: OperatingPoint;
  operatingXs: ReadonlyMap<string, number>;
  ranking: readonly RankedLane[];
  pairs: readonly PairComparison[];
  verdict: Verdict;
  opticalLimits: ReadonlyMap<string, number>;
  cleaning: readonly CleaningNote[];
  stationShare: number;
  /** Runs whose sun was modelled for want of a sensor. */
  modelledSun?: readonly string[];
  placement?: readonly PlacementFindings[];
}

/** Unequal flow beyond this share is named. */
const FLOW_TOLERANCE = 0.05;
/** dη/η per dṁ/ṁ from F′ alone: (1 − F′)·0.8 with F′ near 0.8 (turbulent duct, h ∝ ṁ^0.8 as in the Dittus–Boelter form): an estimate of size, not a correction. */
const FLOW_SENSITIVITY = 0.16;

/** What weakens the answer, strongest first: each with its size in the answer's unit where it has one. */
export function findDoubts(input: DoubtInput): Doubt[] {
  const doubts = [
    ...opticalLimit(input),
    ...reversedFlow(input),
    ...identicalPair(input),
    ...swaps(input),
    ...flow(input),
    ...extrapolation(input),
    ...days(input),
    ...hottest(input),
    ...placement(input),
    ...(input.modelledSun?.length
      ? [{ kind: "modelledSun" as const, runs: [...input.modelledSun], effect: null }]
      : []),
    ...input.cleaning.map((note): Doubt => ({ kind: "cleaned", note, effect: null })),
  ];
  const size = (d: Doubt) =>
    d.effect
      ? Math.max(Math.abs(d.effect.low), Math.abs(d.effect.high))
      : d.kind === "aboveOpticalLimit" || d.kind === "negativeFlow" || d.kind === "modelledSun"
        ? Infinity
        : 0;
  return doubts.sort((a, b) => size(b) - size(a));
}

/** Probes whose readings give their place away. A rise shown in the dark is there by day too: ṁ·cp·ΔT per area. */
function placement({ placement: runs = [], points }: DoubtInput): Doubt[] {
  return runs.flatMap((r): Doubt[] => [
    ...r.dark
      .filter((d) => d.beyondLimits)
      .map((d): Doubt => {
        const heat = Math.abs(laneCapacityFlow(points, d.lane) * d.riseK);
        return {
          kind: "riseAtDark",
          run: r.run,
          lane: d.lane,
          riseK: d.riseK,
          effect: Number.isFinite(heat) ? { low: -heat, high: heat } : null,
        };
      }),
    ...r.spikes.map((s): Doubt => ({
      kind: "probeInSun",
      run: r.run,
      lane: s.lane,
      perHundred: s.perHundred,
      effect: null,
    })),
    ...r.lags.map((l): Doubt => ({ kind: "probeLags", run: r.run, lane: l.lane, lagS: l.lagS, effect: null })),
  ]);
}

const laneFlow = (points: readonly EfficiencyPoint[], lane: string) => {
  const own = points.filter((p) => p.lane === lane);
  return own.reduce((s, p) => s + p.massFlow.value / p.area.value, 0) / own.length;
};

/** ṁ·cp per area of a lane, W/(m²·K), by the fluid it really held. */
const laneCapacityFlow = (points: readonly EfficiencyPoint[], lane: string) => {
  const own = points.filter((p) => p.lane === lane);
  return own.reduce((s, p) => s + (p.massFlow.value * p.specificHeat.value) / p.area.value, 0) / own.length;
};

function flow({ lanes, points, ranking }: DoubtInput): Doubt[] {
  const flows = lanes
    .map(({ lane }) => ({ lane, flowPerArea: laneFlow(points, lane) }))
    .filter((f) => f.flowPerArea > 0);
  if (flows.length < 2) return [];
  const mean = flows.reduce((s, f) => s + f.flowPerArea, 0) / flows.length;
  const spread = Math.max(...flows.map((f) => Math.abs(f.flowPerArea / mean - 1)));
  if (spread <= FLOW_TOLERANCE) return [];
  const [first, second] = [ranking[0], ranking.find((r) => r.rank[0] > (ranking[0]?.rank[1] ?? 0)) ?? ranking[1]];
  const of = (lane?: string) => flows.find((f) => f.lane === lane)?.flowPerArea ?? mean;
  const shift = first && second ? FLOW_SENSITIVITY * ((of(second.lane) - of(first.lane)) / mean) * first.heat.value : 0;
  return [{ kind: "unequalFlow", lanes: flows, spread, effect: { low: Math.min(0, shift), high: Math.max(0, shift) } }];
}

/** Lanes with points, curve or not: a figure can be wrong before there are enough for a curve. */
const measuredLanes = (points: readonly EfficiencyPoint[]) => [...new Set(points.map((p) => p.lane))].sort();

function opticalLimit({ points, opticalLimits }: DoubtInput): Doubt[] {
  return measuredLanes(points).flatMap((lane): Doubt[] => {
    const limit = opticalLimits.get(lane);
    if (limit === undefined) return [];
    const over = points.filter((p) => p.lane === lane && p.normalEfficiency.value > limit);
    if (over.length === 0) return [];
    return [
      {
        kind: "aboveOpticalLimit",
        lane,
        efficiency: Math.max(...over.map((p) => p.normalEfficiency.value)),
        limit,
        windows: over.length,
        effect: null,
      },
    ];
  });
}

function reversedFlow({ points }: DoubtInput): Doubt[] {
  return measuredLanes(points).flatMap((lane): Doubt[] => {
    const windows = points.filter((p) => p.lane === lane && p.massFlow.value < 0).length;
    return windows ? [{ kind: "negativeFlow", lane, windows, effect: null }] : [];
  });
}

function identicalPair({ pairs, lanes }: DoubtInput): Doubt[] {
  const identical = pairs.filter((p) => p.identical);
  if (identical.length === 0) return lanes.length > 1 ? [{ kind: "noIdenticalPair", effect: null }] : [];
  return identical
    .filter((p) => p.decision === "aBetter" || p.decision === "bBetter")
    .map((p) => ({
      kind: "identicalPairApart",
      a: p.a,
      b: p.b,
      difference: p.measured.value,
      expanded: p.expanded,
      effect: { low: -Math.abs(p.measured.value), high: Math.abs(p.measured.value) },
    }));
}

/** The two lanes whose difference is the answer. */
function leadingPair({ verdict, pairs }: DoubtInput): PairComparison | undefined {
  if (verdict.kind !== "winner" && verdict.kind !== "cannotTell") return undefined;
  return pairs.find((p) => [p.a, p.b].includes(verdict.best[0]) && [p.a, p.b].includes(verdict.next[0]));
}

function swaps(input: DoubtInput): Doubt[] {
  const pair = leadingPair(input);
  if (!pair || pair.swapped) return [];
  const heat = input.ranking[0].heat.value;
  const half = coverageFactor(Infinity) * Math.SQRT2 * input.stationShare * heat;
  return [{ kind: "neverSwapped", a: pair.a, b: pair.b, effect: { low: -half, high: half } }];
}

function extrapolation({ lanes, operatingXs, operatingPoint }: DoubtInput): Doubt[] {
  return lanes.flatMap(({ lane, curve }): Doubt[] => {
    const x = operatingXs.get(lane);
    if (x === undefined) return [];
    const [low, high] = curve.xRange;
    const beyond = x < low ? low - x : x > high ? x - high : 0;
    if (beyond < 0.15 * (high - low)) return [];
    const half = 1.96 * standardUncertainty(curve.a1) * beyond * operatingPoint.irradianceWm2;
    return [{ kind: "extrapolated", lane, x, xRange: curve.xRange, effect: { low: -half, high: half } }];
  });
}

function days({ points, lanes }: DoubtInput): Doubt[] {
  const count = new Set(points.map((p) => p.day)).size;
  const restless = lanes.filter((l) => l.curve.daysDiffer).map((l) => l.lane);
  const differing: Doubt[] = restless.length ? [{ kind: "daysDiffer", lanes: restless, effect: null }] : [];
  return count > 0 && count < 3 ? [{ kind: "fewDays", days: count, effect: null }, ...differing] : differing;
}

/** Judging by the hottest air is the commonest mistake; say so where the two orders disagree. */
function hottest({ points, ranking }: DoubtInput): Doubt[] {
  if (ranking.length < 2) return [];
  const lanes = ranking.map((r) => r.lane);
  const byWindow = new Map<string, EfficiencyPoint[]>();
  for (const p of points) byWindow.set(`${p.run}/${p.window}`, [...(byWindow.get(`${p.run}/${p.window}`) ?? []), p]);
  const complete = [...byWindow.values()].filter((ps) => lanes.every((l) => ps.some((p) => p.lane === l))).flat();
  const outlet = (lane: string) => {
    const own = complete.filter((p) => p.lane === lane);
    return own.reduce((s, p) => s + p.outlet.value, 0) / own.length;
  };
  const hot = lanes.reduce((a, b) => (outlet(b) > outlet(a) ? b : a));
  const best = ranking[0].lane;
  const tied = ranking.find((r) => r.lane === hot)!.rank[0] === 1;
  if (hot === best || tied || !(outlet(hot) - outlet(best) > 0.3)) return [];
  return [
    { kind: "hottestIsNotBest", hottest: hot, best, outletC: outlet(hot), bestOutletC: outlet(best), effect: null },
  ];
}
