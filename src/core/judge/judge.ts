import type { Implausible } from "../analysis/implausible";
import type { PlacementFindings } from "../analysis/placement";
import tCdf from "@stdlib/stats-base-dists-t-cdf";
import { crossingPoint, type Curve } from "../analysis/curve";
import type { EfficiencyPoint } from "../analysis/points";
import type { OperatingPoint } from "../analysis/setup";
import {
  budget,
  combine,
  effectiveDof,
  scaleSources,
  standardUncertainty,
  type Uncertain,
} from "../uncertainty/uncertain";
import { coverageFactor } from "../uncertainty/coverage";
import { type SourceKind } from "../uncertainty/source";
import type { CleaningNote } from "../analysis/reduce";
import { findDoubts, type Doubt } from "./doubt/list";
import { comparePairs, laneHeatsAtPoint, operatingX, type CompareInput, type PairComparison } from "./pairs";
import { rankLanes, type RankedLane } from "./ranking";
import type { Remedy, Verdict } from "./verdict";

export interface Crossing {
  a: string;
  b: string;
  x: Uncertain;
  expanded: number;
}

export interface Judgement {
  operatingPoint: OperatingPoint;
  /** x of each lane's curve at the operating point, K·m²/W. */
  operatingX: Map<string, number>;
  ranking: RankedLane[];
  pairs: PairComparison[];
  repeatability: number;
  verdict: Verdict;
  crossings: Crossing[];
  doubts: Doubt[];
}

export interface JudgeInput extends CompareInput {
  seed: number;
  opticalLimits: ReadonlyMap<string, number>;
  cleaning: readonly CleaningNote[];
  /** Runs whose sun was modelled for want of a sensor. */
  modelledSun?: readonly string[];
  placement?: readonly PlacementFindings[];
  implausible?: readonly { run: string; found: Implausible }[];
}

/** From points and curves to the verdict: differences, ranking, crossings, doubts and one answer. */
export function judge(input: JudgeInput): Judgement {
  const variantOf = (lane: string) => input.lanes.find((l) => l.lane === lane)!.variant;
  const xs = new Map(input.lanes.map((l) => [l.lane, operatingX(l.curve, l.fluid, input.operatingPoint, input.basis)]));
  const { pairs, repeatability } = comparePairs(input);
  const { heats, ensemble } = laneHeatsAtPoint(input);
  const ranking = rankLanes(heats, ensemble, pairs, variantOf, { repeatability, seed: input.seed });
  const verdict = decideVerdict(input, ranking, pairs, variantOf);
  const crossings = findCrossings(
    input.lanes.map((l) => l.curve),
    variantOf,
  );
  const doubts = findDoubts({ ...input, ranking, pairs, operatingXs: xs, verdict });
  return {
    operatingPoint: input.operatingPoint,
    operatingX: xs,
    ranking,
    pairs,
    repeatability,
    verdict,
    crossings,
    doubts,
  };
}

function decideVerdict(
  input: JudgeInput,
  ranking: RankedLane[],
  pairs: PairComparison[],
  variantOf: (lane: string) => string,
): Verdict {
  if (input.lanes.length < 2) return { kind: "none", reason: input.lanes.length === 0 ? "noCurves" : "oneLane" };
  const best = variantOf(ranking[0]?.lane ?? input.lanes[0].lane);
  const bestLanes = ranking.filter((r) => variantOf(r.lane) === best).map((r) => r.lane);
  const rivals = [...new Set(ranking.map((r) => variantOf(r.lane)))].filter((v) => v !== best);
  const contests = rivals.flatMap((rival) => {
    const lanes = ranking.filter((r) => variantOf(r.lane) === rival).map((r) => r.lane);
    const difference = variantDifference(bestLanes, lanes, pairs);
    return difference ? [{ lanes, ...difference }] : [];
  });
  if (contests.length === 0) {
    const only = pairs.find((p) => p.identical);
    if (only?.decision === "equal") return { kind: "tie", lanes: [only.a, only.b], within: input.smallestDifference };
    return { kind: "none", reason: "noCommonWindows" };
  }
  // The rival hardest to tell from the best decides whether there is a winner.
  const hardest = contests.reduce((a, b) => (b.chanceWrong > a.chanceWrong ? b : a));
  const figure = { difference: hardest.difference, expanded: hardest.expanded, chanceWrong: hardest.chanceWrong };
  const names = { best: bestLanes, next: hardest.lanes };
  if (hardest.equal) {
    const equals = contests.filter((c) => c.equal).flatMap((c) => c.lanes);
    return { kind: "tie", lanes: [...bestLanes, ...equals], within: input.smallestDifference };
  }
  const remedy = remedyFor(hardest, bestLanes, input);
  if (hardest.chanceWrong * 2 * rivals.length < 0.05)
    return { kind: "winner", ...names, ...figure, remedy: { kind: "nothing" } };
  return { kind: "cannotTell", ...names, ...figure, remedy };

  function variantDifference(as: string[], bs: string[], all: PairComparison[]) {
    const found = as.flatMap((a) =>
      bs.flatMap((b) => {
        const pair = all.find((p) => (p.a === a && p.b === b) || (p.a === b && p.b === a));
        return pair ? [{ pair, sign: pair.a === a ? 1 : -1 }] : [];
      }),
    );
    if (found.length === 0) return null;
    const mean = combine(
      found.reduce((s, f) => s + f.sign * f.pair.difference.value, 0) / found.length,
      found.map((f) => [f.sign / found.length, f.pair.difference] as const),
    );
    const difference = commonScatter(
      mean,
      found.map((f) => f.pair),
    );
    const u = standardUncertainty(difference);
    const dof = effectiveDof(difference);
    const k = coverageFactor(dof);
    // One-sided, from the pairs themselves so that table and sentence agree where there is one pair.
    const z = u > 0 ? difference.value / u : Infinity;
    return {
      difference,
      expanded: k * u,
      chanceWrong: tailOf(z, dof),
      dof,
      equal: Math.abs(difference.value) + coverageFactor(dof, 0.9) * u < input.smallestDifference,
      swapped: found.every((f) => f.pair.swapped),
      days: Math.max(...found.map((f) => f.pair.days)),
      pairs: found.map((f) => f.pair),
    };
  }
}

/**
 * Copies share the windows of their rival, so the scatters of A over B and D over B are not independent:
 * the mean keeps the larger of independent and fully shared scatter of the rival (half the variance is common).
 */
function commonScatter(mean: Uncertain, pairs: readonly PairComparison[]): Uncertain {
  if (pairs.length < 2) return mean;
  return scaleSources(mean, ({ kind }) =>
    kind === "dayScatter" || kind === "repeatability" ? Math.sqrt((pairs.length + 1) / 2) : 1,
  );
}

const tailOf = (z: number, dof: number) => (Number.isFinite(z) ? tCdf(-z, Number.isFinite(dof) ? dof : 1e9) : 0);

function remedyFor(
  contest: { difference: Uncertain; expanded: number; swapped: boolean; days: number; lanes: string[] },
  best: string[],
  input: JudgeInput,
): Remedy {
  const lines = budget(contest.difference);
  const share = (kinds: SourceKind[]) =>
    lines.filter((l) => kinds.includes(l.source.kind)).reduce((s, l) => s + l.share, 0);
  const placeBound = share(["station", "probe", "speedMeter", "volumeMeter", "massMeter", "profile", "ductArea"]);
  if (!contest.swapped && placeBound > 0.3) return { kind: "swapStations", a: best[0], b: contest.lanes[0] };
  const scatter = share(["dayScatter", "curveFit", "repeatability"]);
  if (scatter >= 0.4 || lines.length === 0) {
    // The half-width falls with the root of the days; it must fall to the difference itself or to what matters.
    const target = Math.max(Math.abs(contest.difference.value), input.smallestDifference) * 0.9;
    const fixed = contest.expanded ** 2 * (1 - scatter);
    const room = target ** 2 - fixed;
    const needed = room > 0 ? contest.days * ((contest.expanded ** 2 * scatter) / room) : Infinity;
    if (Number.isFinite(needed) && needed < 200)
      return { kind: "moreDays", days: Math.max(1, Math.ceil(needed - contest.days)) };
  }
  const top = lines[0];
  return {
    kind: "betterInstrument",
    source: top.source.kind,
    expandedNow: contest.expanded,
    expandedThen: contest.expanded * Math.sqrt(1 - 0.75 * top.share),
  };
}

function findCrossings(curves: readonly Curve[], variantOf: (lane: string) => string): Crossing[] {
  return curves.flatMap((a, i) =>
    curves.slice(i + 1).flatMap((b) => {
      if (variantOf(a.lane) === variantOf(b.lane)) return [];
      const x = crossingPoint(a, b);
      const low = Math.max(a.xRange[0], b.xRange[0]);
      const high = Math.min(a.xRange[1], b.xRange[1]);
      if (!x || x.value < low || x.value > high) return [];
      return [{ a: a.lane, b: b.lane, x, expanded: coverageFactor(effectiveDof(x)) * standardUncertainty(x) }];
    }),
  );
}

/** Windows used by a comparison, newest last: what the sun strip marks. */
export function windowsUsed(points: readonly EfficiencyPoint[]): { startMs: number; endMs: number }[] {
  const seen = new Map(points.map((p) => [`${p.run}/${p.window}`, { startMs: p.startMs, endMs: p.endMs }]));
  return [...seen.values()].sort((a, b) => a.startMs - b.startMs);
}
