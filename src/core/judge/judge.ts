import type { Implausible } from "../analysis/implausible";
import type { PlacementFindings } from "../analysis/placement";
import tCdf from "@stdlib/stats-base-dists-t-cdf";
import { crossingPoint } from "../analysis/curve";
import type { HeatPoint } from "../analysis/points";
import type { Assumed, OperatingPoint } from "../analysis/setup";
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
import { flowPerGrossArea } from "../analysis/points";
import { laneMean } from "./doubt/doubt";
import { findDoubts, stopsVerdict, type Doubt } from "./doubt/list";
import type { Expected } from "./expected";
import { flowMove, movedCurve, operatingFlows, type FlowWay } from "./flowWay";
import { slopeCurve } from "./slope";
import { lookAfter, type Look } from "../plan/sequential";
import { LEVEL, operatingX, pointOf, type ComparedLane, type CompareInput, type TestedInput } from "./laneHeat";
import { comparePairs, compareTested, laneHeatsAsTested, laneHeatsAtPoint, type PairComparison } from "./pairs";
import { rankLanes, type RankedLane } from "./ranking";
import { ratioOf, testedCondition, testedSpans, type RatioOfPair, type SpanUnit, type TestedCondition } from "./tested";
import type { Gate, Remedy, Verdict, Way } from "./verdict";

export interface Crossing {
  a: string;
  b: string;
  x: Uncertain;
  expanded: number;
}

/** Lanes compared in one way: their differences, their order and what they say before any doubt. */
export interface Comparison {
  ranking: RankedLane[];
  pairs: PairComparison[];
  repeatability: number;
  verdict: Verdict;
}

/** Lanes side by side as they were tested, without any curve. */
export interface TestedComparison extends Comparison {
  /** What the answer is paired by. */
  unit: SpanUnit;
  /** The same pairs by every unit there are at least two spans of. */
  by: { unit: SpanUnit; pairs: RatioOfPair[] }[];
  condition: TestedCondition;
}

export interface Judgement extends Comparison {
  /** Which comparison the ranking, the pairs and the verdict are. */
  way: Way;
  operatingPoint: OperatingPoint;
  /** x of each lane's curve at the operating point, K·m²/W. */
  operatingX: Map<string, number>;
  /** As tested, whenever lanes gave heat side by side; the answer itself where the curves do not reach the operating point. */
  tested: TestedComparison | null;
  /** By curve at the operating point, where every lane has one. */
  point: Comparison | null;
  /** At the operating point by the drawings' slopes, where no curves reach it: beside the answer, never it. */
  slope: Comparison | null;
  /** Flow per gross area that each lane is compared at, kg/(s·m²). */
  flows: Map<string, number>;
  crossings: Crossing[];
  doubts: Doubt[];
  /** The plan's own bound where days were planned: what this look may cost. */
  look: Look | null;
}

export interface JudgeInput extends CompareInput {
  /** Every lane with a set-up, curve or not. */
  all: readonly ComparedLane[];
  /** Heat by the hour, sun or no sun. */
  hours: readonly HeatPoint[];
  /** Rows read by hand, as rounds. */
  rounds?: readonly HeatPoint[];
  seed: number;
  opticalLimits: ReadonlyMap<string, number>;
  cleaning: readonly CleaningNote[];
  /** Runs whose sun was modelled for want of a sensor. */
  modelledSun?: readonly string[];
  placement?: readonly PlacementFindings[];
  implausible?: readonly { run: string; found: Implausible; accepted?: boolean }[];
  /** Lanes whose flow was stated, not logged. */
  assumedFlows?: readonly { lane: string; limitShare: number }[];
  /** What nobody stated, run by run. */
  assumed?: readonly { run: string; what: readonly Assumed[] }[];
  /** What the lanes' drawings say, where they are more than a sketch. */
  expected?: ReadonlyMap<string, Expected>;
  flowWay?: FlowWay;
  /** Days of the plan that was kept; null or left out without one. */
  plannedDays?: number | null;
}

/**
 * From points, hours and curves to the verdict: differences, ranking, crossings, doubts and one answer.
 *
 * Where every lane has a curve that reaches the operating point, lanes are compared there; else as they were tested, and the
 * judgement says which. Doubts that make the figures impossible stop the verdict; one that reaches over the decision gates it.
 */
export function judge(stated: JudgeInput): Judgement {
  const look = lookAfter(new Set(allHeats(stated).map((p) => p.day)).size, stated.plannedDays ?? null);
  const input: JudgeInput = atFlows({ ...stated, level: look?.level ?? LEVEL });
  const xs = new Map(
    input.lanes.map((l) => [
      l.lane,
      operatingX(movedCurve(l.curve, l.move ?? null), l.fluid, pointOf(l, input.operatingPoint), input.basis),
    ]),
  );
  const tested = compareAsTested(input);
  const measured = new Set(allHeats(input).map((p) => p.lane));
  const complete = [...measured].every((lane) => input.lanes.some((l) => l.lane === lane));
  const point = complete && input.lanes.length > 0 ? compareAtPoint(input) : null;
  const way: Way = point && (curvesReach(input, xs) || !tested) ? "point" : "tested";
  const chosen = (way === "point" ? point : tested) ?? nothing(input);
  const crossings = findCrossings(input);
  const heats = way === "tested" ? heatsBy(input, tested?.unit) : input.points;
  const doubts = findDoubts({ ...input, ...chosen, heats, way, operatingXs: xs });
  return {
    ...chosen,
    verdict: gated(chosen.verdict, doubts, input.smallestDifference),
    way,
    operatingPoint: input.operatingPoint,
    operatingX: xs,
    tested,
    point,
    slope: way === "tested" ? compareBySlope(input) : null,
    flows: new Map(input.lanes.map((l) => [l.lane, l.flowPerArea ?? input.operatingPoint.flowPerArea])),
    crossings,
    doubts,
    look,
  };
}

/** Lanes with the flow they are compared at, and what the drawing says of the way there from the tested one. */
function atFlows(input: JudgeInput): JudgeInput {
  const { operatingPoint: op, expected, flowWay = "perArea" } = input;
  const tested = (lane: string) => laneMean(input.points, lane, flowPerGrossArea);
  const moveOf = (lane: string, flow: number) => flowMove(expected?.get(lane)?.flowPower, flow / tested(lane));
  const flows = operatingFlows(
    input.lanes.map((l) => ({
      lane: l.lane,
      fluid: l.fluid,
      testedFlow: tested(l.lane),
      ownFlow: expected?.get(l.lane)?.ownFlow ?? null,
      heatAt: (flowPerArea) => {
        const curve = movedCurve(l.curve, moveOf(l.lane, flowPerArea));
        const x = operatingX(curve, l.fluid, pointOf({ ...l, flowPerArea }, op), input.basis);
        const bend = (curve.a2?.value ?? 0) * op.irradianceWm2 * x * x;
        return op.irradianceWm2 * (curve.eta0.value - curve.a1.value * x - bend) * (l.areaShare ?? 1);
      },
    })),
    op,
    flowWay,
  );
  return {
    ...input,
    lanes: input.lanes.map((l) => {
      const flowPerArea = flows.get(l.lane) ?? op.flowPerArea;
      return { ...l, flowPerArea, move: moveOf(l.lane, flowPerArea) };
    }),
  };
}

/** Measured levels moved along predicted slopes, lane by lane; null unless all lanes of the test have both. */
function compareBySlope(input: JudgeInput): Comparison | null {
  const measured = new Set(input.points.map((p) => p.lane));
  const lanes = input.all.flatMap((l) => {
    const known = input.expected?.get(l.lane);
    const own = input.points.filter((p) => p.lane === l.lane);
    const curve = known && measured.has(l.lane) ? slopeCurve(own, known.a1) : null;
    if (!curve || !known) return [];
    const tested = laneMean(own, l.lane, flowPerGrossArea);
    return [{ ...l, curve, move: flowMove(known.flowPower, input.operatingPoint.flowPerArea / tested) }];
  });
  return lanes.length > 1 && lanes.length === measured.size ? compareAtPoint({ ...input, lanes }) : null;
}

const allHeats = ({ points, hours, rounds = [] }: JudgeInput): HeatPoint[] => [...points, ...hours, ...rounds];

function heatsBy({ points, hours, rounds = [] }: JudgeInput, unit: SpanUnit | undefined): readonly HeatPoint[] {
  if (unit === "round") return rounds;
  return unit === "hour" ? hours : points;
}

/** Curves are stretched to the operating point by no more than the range they were measured over. */
const curvesReach = ({ lanes }: JudgeInput, xs: ReadonlyMap<string, number>): boolean =>
  lanes.every(({ lane, curve: { xRange } }) => {
    const x = xs.get(lane)!;
    return Math.max(xRange[0] - x, x - xRange[1]) <= xRange[1] - xRange[0];
  });

const variantsOf = (lanes: readonly ComparedLane[]) => (lane: string) => lanes.find((l) => l.lane === lane)!.variant;

function compareAtPoint(input: JudgeInput): Comparison {
  const { pairs, repeatability } = comparePairs(input);
  return ranked(input, input.lanes, pairs, repeatability, laneHeatsAtPoint(input));
}

function compareAsTested(input: JudgeInput): TestedComparison | null {
  const chosen = testedSpans(input);
  if (!chosen) return null;
  const of = (heats: readonly HeatPoint[]): TestedInput => ({
    lanes: input.all.filter(({ lane }) => heats.some((h) => h.lane === lane)),
    heats,
    smallestDifference: input.smallestDifference,
    stationShare: input.stationShare,
    level: input.level,
  });
  const tested = of(chosen.heats);
  const { pairs, repeatability } = compareTested(tested);
  if (pairs.length === 0) return null;
  return {
    ...ranked(input, tested.lanes, pairs, repeatability, laneHeatsAsTested(tested)),
    unit: chosen.unit,
    by: chosen.units.flatMap(({ unit, heats }) => {
      const ratios = compareTested(of(heats)).pairs.map(ratioOf);
      return ratios.length ? [{ unit, pairs: ratios }] : [];
    }),
    condition: testedCondition(chosen.heats, input.points),
  };
}

function ranked(
  input: JudgeInput,
  lanes: readonly ComparedLane[],
  pairs: PairComparison[],
  repeatability: number,
  { heats, ensemble }: ReturnType<typeof laneHeatsAtPoint>,
): Comparison {
  const variantOf = variantsOf(lanes);
  const ranking = rankLanes(heats, ensemble, pairs, variantOf, { repeatability, seed: input.seed });
  const verdict = decideVerdict(input, lanes, ranking, pairs, variantOf);
  return { ranking: ranksAs(verdict, ranking), pairs, repeatability, verdict };
}

/**
 * Ranks that say what the sentence says. It compares variants by the mean of their copies, pairs compare lanes: a lane alone may be tied
 * where its variant is not, and the other way about.
 */
function ranksAs(verdict: Verdict, ranking: RankedLane[]): RankedLane[] {
  if (verdict.kind === "winner") {
    const first = verdict.best.length;
    return ranking.map((r) =>
      verdict.best.includes(r.lane)
        ? { ...r, rank: [1, first] }
        : { ...r, rank: [Math.max(first + 1, r.rank[0]), Math.max(first + 1, r.rank[1])] },
    );
  }
  if (verdict.kind !== "cannotTell") return ranking;
  const tied = [...verdict.best, ...verdict.next];
  const last = Math.max(...ranking.map((r, i) => (tied.includes(r.lane) ? i + 1 : 0)));
  return ranking.map((r) => (tied.includes(r.lane) ? { ...r, rank: [1, Math.max(last, r.rank[1])] } : r));
}

function nothing(input: JudgeInput): Comparison {
  const lanes = new Set(allHeats(input).map((p) => p.lane)).size;
  const reason = () => {
    if (lanes === 0) return "noHeat";
    if (input.all.length < 2) return "oneLane";
    return lanes < 2 ? "noCommonSpans" : "tooShort";
  };
  return { ranking: [], pairs: [], repeatability: 0, verdict: { kind: "none", reason: reason() } };
}

/** What the doubts leave of an answer. */
function gated(verdict: Verdict, doubts: readonly Doubt[], smallest: number): Verdict {
  if (verdict.kind === "none" || verdict.kind === "stopped") return verdict;
  if (doubts.some(stopsVerdict)) return { kind: "stopped" };
  if (verdict.kind === "cannotTell") return verdict;
  const answer = verdict.difference.value;
  for (const { kind, effect } of doubts) {
    if (!effect) continue;
    const gate: Gate = { kind, low: answer + effect.low, high: answer + effect.high };
    if (verdict.kind === "winner" && gate.low <= 0) return { ...verdict, kind: "cannotTell", gate };
    if (verdict.kind === "tie" && Math.max(Math.abs(gate.low), Math.abs(gate.high)) > smallest)
      return {
        kind: "cannotTell",
        best: verdict.lanes.slice(0, 1),
        next: verdict.lanes.slice(1),
        difference: verdict.difference,
        expanded: coverageFactor(effectiveDof(verdict.difference)) * standardUncertainty(verdict.difference),
        chanceWrong: 0.5,
        remedy: { kind: "nothing" },
        gate,
      };
  }
  return verdict;
}

function decideVerdict(
  input: Pick<JudgeInput, "smallestDifference" | "level">,
  lanes: readonly ComparedLane[],
  ranking: RankedLane[],
  pairs: PairComparison[],
  variantOf: (lane: string) => string,
): Verdict {
  if (lanes.length < 2) return { kind: "none", reason: lanes.length === 0 ? "noHeat" : "oneLane" };
  const best = variantOf(ranking[0]?.lane ?? lanes[0].lane);
  const bestLanes = ranking.filter((r) => variantOf(r.lane) === best).map((r) => r.lane);
  const rivals = [...new Set(ranking.map((r) => variantOf(r.lane)))].filter((v) => v !== best);
  const contests = rivals.flatMap((rival) => {
    const rivalLanes = ranking.filter((r) => variantOf(r.lane) === rival).map((r) => r.lane);
    const difference = variantDifference(bestLanes, rivalLanes, pairs);
    return difference ? [{ lanes: rivalLanes, ...difference }] : [];
  });
  if (contests.length === 0) {
    const only = pairs.find((p) => p.identical);
    if (only?.decision === "equal")
      return { kind: "tie", lanes: [only.a, only.b], within: input.smallestDifference, difference: only.difference };
    return { kind: "none", reason: "noCommonSpans" };
  }
  // The rival hardest to tell from the best decides whether there is a winner.
  const hardest = contests.reduce((a, b) => (b.chanceWrong > a.chanceWrong ? b : a));
  const figure = { difference: hardest.difference, expanded: hardest.expanded, chanceWrong: hardest.chanceWrong };
  const names = { best: bestLanes, next: hardest.lanes };
  if (hardest.equal) {
    const equals = contests.filter((c) => c.equal).flatMap((c) => c.lanes);
    return {
      kind: "tie",
      lanes: [...bestLanes, ...equals],
      within: input.smallestDifference,
      difference: hardest.difference,
    };
  }
  const remedy = remedyFor(hardest, bestLanes, input);
  if (hardest.chanceWrong * 2 * rivals.length < (input.level ?? LEVEL))
    return { kind: "winner", ...names, ...figure, remedy: { kind: "nothing" } };
  return { kind: "cannotTell", ...names, ...figure, remedy, gate: null };

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
  input: Pick<JudgeInput, "smallestDifference">,
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

function findCrossings({ lanes }: JudgeInput): Crossing[] {
  const curves = lanes.map((l) => l.curve);
  const variantOf = variantsOf(lanes);
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
export function windowsUsed(points: readonly HeatPoint[]): { startMs: number; endMs: number }[] {
  const seen = new Map(points.map((p) => [`${p.run}/${p.window}`, { startMs: p.startMs, endMs: p.endMs }]));
  return [...seen.values()].sort((a, b) => a.startMs - b.startMs);
}
