import { byTurns } from "./byTurns";
import { crossingPoint } from "../analysis/alongCurve";
import { type HeatPoint, flowPerGrossArea } from "../analysis/points";
import type { OperatingPoint } from "../analysis/setup";
import {
  combine,
  effectiveDof,
  fromLimit,
  standardUncertainty,
  withSource,
  type Uncertain,
} from "../uncertainty/uncertain";
import { coverageFactor } from "../uncertainty/coverage";
import { decideVerdict, gated, ranksAs } from "./decide";
import { laneMean } from "./doubt/doubt";
import { isDismissed } from "./doubt/dismissed";
import { findDoubts, type Doubt } from "./doubt/list";
import type { Evidence } from "./evidence";
import { flowMove, movedCurve, operatingFlows } from "./flowWay";
import { slopeCurve } from "./slope";
import { lookAfter, type Look } from "../uncertainty/sequential";
import { LEVEL, operatingX, pointOf, type ComparedLane, type TestedInput } from "./laneHeat";
import { comparePairs, compareTested, type Paired, type PairComparison } from "./pairs";
import { rankLanes, type RankedLane } from "./ranking";
import {
  ratioOf,
  testedCondition,
  waysApart,
  type WaysApart,
  testedSpans,
  type RatioOfPair,
  type SpanUnit,
  type TestedCondition,
} from "./tested";
import { tells, type Turned, type Verdict, type Way } from "./verdict";

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
  /** Ways that lie apart by more than their ±, pair by pair. */
  apart: WaysApart[];
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
  /** Two-sided level of each claim about lanes. */
  level: number;
}

/**
 * From points, hours and curves to the verdict: differences, ranking, crossings, doubts and one answer.
 *
 * Where every lane has a curve that reaches the operating point, lanes are compared there; else as they were tested, and the
 * judgement says which. Doubts that make the figures impossible stop the verdict; one that reaches over the decision gates it.
 *
 * @param known what `testedOf` said of the same evidence at another operating point: it does not depend on it
 */
export function judge(stated: Evidence, known?: { tested: TestedComparison | null }): Judgement {
  const look = lookOf(stated);
  const { asked, level } = byTurnsOf(stated, look);
  const levelled: Evidence = { ...stated, level };
  const input = atFlows(levelled);
  const xs = new Map(
    input.lanes.map((l) => [
      l.lane,
      operatingX(movedCurve(l.curve, l.move ?? null), l.fluid, pointOf(l, input.operatingPoint), input.basis),
    ]),
  );
  const { tested } = known ?? { tested: compareAsTested(levelled) };
  const measured = new Set(allHeats(input).map((p) => p.lane));
  const complete = [...measured].every((lane) => input.lanes.some((l) => l.lane === lane));
  const point = complete && input.lanes.length > 0 ? compareAtPoint(input) : null;
  // Lanes that stood side by side are compared so, even where no window of one is a window of the other.
  const apart = Boolean(point?.pairs.some((p) => p.inTurn) && tested && !tested.pairs.some((p) => p.inTurn));
  const way: Way = point && ((curvesReach(input, xs) && !apart) || !tested) ? "point" : "tested";
  const chosen = (way === "point" ? point : tested) ?? nothing(input);
  const crossings = findCrossings(input);
  // Where turning shows nothing a mirror may have been aimed anew each time, not turned there and back: then lanes are compared.
  const turned = tells(asked) ? asked : null;
  const heats = way === "tested" ? heatsBy(input, tested?.unit) : input.points;
  const verdict = turned ?? chosen.verdict;
  const doubts = findDoubts({
    ...input,
    ...chosen,
    verdict,
    heats,
    way,
    operatingXs: xs,
    tested: tested?.by ?? [],
    apart: tested?.apart ?? [],
    crossings,
  });
  const counted = doubts.filter((d) => !isDismissed(d, input.dismissed));
  return {
    ...chosen,
    verdict: gated(verdict, counted, input.smallestDifference),
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
    level,
  };
}

/** The comparison as tested, for operating points still to come. */
export const testedOf = (stated: Evidence): TestedComparison | null =>
  compareAsTested({ ...stated, level: byTurnsOf(stated, lookOf(stated)).level });

/** Part of the level that goes to what turning does: it is what the bench was turned for. */
const TURNED_PART = 0.8;

/**
 * What turning says, and the level of the claims about lanes. A bench with a thing turned by turns is asked twice, what turning does and which
 * lane gives more: the level is shared out between them, so that both together err no more often than one would (weighted Bonferroni).
 */
function byTurnsOf(stated: Evidence, look: Look | null): { asked: Turned | null; level: number } {
  const level = look?.level ?? LEVEL;
  const asked = byTurns({ ...stated, level: TURNED_PART * level });
  return { asked, level: asked ? (1 - TURNED_PART) * level : level };
}

/** Days are looks of a plan where it came before them: one made for what is still to come, or without a first day, binds none of these. */
function lookOf(input: Evidence): Look | null {
  const { plannedDays, plannedFrom } = input;
  const days = [...new Set(allHeats(input).map((p) => p.day))].sort();
  return plannedFrom !== null && days.length > 0 && days[0] >= plannedFrom ? lookAfter(days.length, plannedDays) : null;
}

/** Lanes with the flow they are compared at, and what the drawing says of the way there from the tested one. */
function atFlows(input: Evidence): Evidence {
  const { operatingPoint: op, expected, flowWay } = input;
  const tested = (lane: string) => laneMean(input.points, lane, flowPerGrossArea);
  const moveOf = (lane: string, flow: number) => flowMove(expected.get(lane)?.flowPower, flow / tested(lane));
  const flows = operatingFlows(
    input.lanes.map((l) => ({
      lane: l.lane,
      fluid: l.fluid,
      testedFlow: tested(l.lane),
      ownFlow: expected?.get(l.lane)?.ownFlow ?? null,
      heatAt: (flowPerArea) => {
        const curve = movedCurve(l.curve, moveOf(l.lane, flowPerArea));
        const x = operatingX(curve, l.fluid, pointOf({ ...l, flowPerArea }, op), input.basis);
        const { irradianceWm2 } = pointOf(l, op);
        const bend = (curve.a2?.value ?? 0) * irradianceWm2 * x * x;
        return irradianceWm2 * (curve.eta0.value - curve.a1.value * x - bend) * (l.areaShare ?? 1);
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
function compareBySlope(input: Evidence): Comparison | null {
  const measured = new Set(input.points.map((p) => p.lane));
  const lanes = input.all.flatMap((l) => {
    const known = input.expected.get(l.lane);
    const own = input.points.filter((p) => p.lane === l.lane);
    const curve = known && measured.has(l.lane) ? slopeCurve(own, known.a1) : null;
    if (!curve || !known) return [];
    const tested = laneMean(own, l.lane, flowPerGrossArea);
    return [{ ...l, curve, move: flowMove(known.flowPower, input.operatingPoint.flowPerArea / tested) }];
  });
  return lanes.length > 1 && lanes.length === measured.size ? compareAtPoint({ ...input, lanes }) : null;
}

const allHeats = ({ points, hours, rounds }: Evidence): HeatPoint[] => [...points, ...hours, ...rounds];

function heatsBy({ points, hours, rounds }: Evidence, unit: SpanUnit | undefined): readonly HeatPoint[] {
  if (unit === "round") return rounds;
  return unit === "hour" ? hours : points;
}

/** Curves are stretched to the operating point by no more than the range they were measured over. */
const curvesReach = ({ lanes }: Evidence, xs: ReadonlyMap<string, number>): boolean =>
  lanes.every(({ lane, curve: { xRange } }) => {
    const x = xs.get(lane)!;
    return Math.max(xRange[0] - x, x - xRange[1]) <= xRange[1] - xRange[0];
  });

const variantsOf = (lanes: readonly ComparedLane[]) => (lane: string) => lanes.find((l) => l.lane === lane)!.variant;

function compareAtPoint(input: Evidence): Comparison {
  return ranked(input, input.lanes, comparePairs(input));
}

/** Lanes that stood side by side as they were; where some never did, all of them over their own days. */
const compareAsTested = (input: Evidence): TestedComparison | null => compareSideBySide(input) ?? compareInTurn(input);

function compareSideBySide(input: Evidence): TestedComparison | null {
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
  const paired = compareTested(tested);
  if (paired.pairs.length === 0) return null;
  const ways = chosen.units.flatMap(({ unit, heats }) => {
    const compared = unit === chosen.unit ? paired.pairs : compareTested(of(heats)).pairs;
    return compared.length ? [{ unit, compared }] : [];
  });
  return {
    ...ranked(input, tested.lanes, paired),
    unit: chosen.unit,
    by: ways.map(({ unit, compared }) => ({ unit, pairs: compared.map(ratioOf) })),
    apart: waysApart(ways),
    condition: testedCondition(chosen.heats, input.points),
  };
}

/**
 * Lanes tested one after another, at the mean of their conditions: heat over the sun it had, moved there along the lane's own curve, its
 * drawing's slope, or the loss such boxes usually have. null where a lane has too few windows, or too little is known to be moved.
 */
function compareInTurn(input: Evidence): TestedComparison | null {
  const { points, expected } = input;
  const curves = new Map(input.lanes.map((l) => [l.lane, l.curve]));
  const lanes = input.all.flatMap((l) => {
    const own = points.filter((p) => p.lane === l.lane);
    const curve = curves.get(l.lane) ?? slopeCurve(own, expected.get(l.lane)?.a1 ?? usualLoss(l.lane));
    return own.length && curve ? [{ ...l, curve, flowPerArea: laneMean(own, l.lane, flowPerGrossArea) }] : [];
  });
  if (lanes.length < 2) return null;
  const condition = testedCondition(points, points);
  const { irradianceWm2, ambientC, inletC, flowPerArea } = condition;
  const paired = comparePairs({ ...input, lanes, operatingPoint: { irradianceWm2, ambientC, inletC, flowPerArea } });
  if (!paired.pairs.some((p) => p.inTurn)) return null;
  const compared = ranked(input, lanes, paired);
  return {
    ...compared,
    unit: "window",
    by: [{ unit: "window", pairs: paired.pairs.map(ratioOf) }],
    apart: [],
    condition,
  };
}

/** What boxes lose, W/(m²·K), with its limits: good ones 2, bare ones 10 (typical values). */
const USUAL_LOSS = { value: 6, limit: 4 };

/** A loss that nobody measured or drew: half of its variance is what all boxes of a bench have in common. */
function usualLoss(lane: string): Uncertain {
  const standard = fromLimit(USUAL_LOSS.limit) * Math.SQRT1_2;
  const of = (name: string) => withSource(0, standard, { kind: "usualLoss", lane: name, owner: name, dof: Infinity });
  return combine(USUAL_LOSS.value, [
    [1, of("")],
    [1, of(lane)],
  ]);
}

function ranked(
  input: Evidence,
  lanes: readonly ComparedLane[],
  { pairs, repeatability, laneHeats }: Paired,
): Comparison {
  const { heats, ensemble } = laneHeats();
  const variantOf = variantsOf(lanes);
  const ranking = rankLanes(heats, ensemble, pairs, variantOf, { repeatability, seed: input.seed });
  const verdict = decideVerdict(input, lanes, ranking, pairs, variantOf);
  return { ranking: ranksAs(verdict, ranking), pairs, repeatability, verdict };
}

function nothing(input: Evidence): Comparison {
  const lanes = new Set(allHeats(input).map((p) => p.lane)).size;
  const reason = () => {
    if (input.all.length === 0) return "noHeat";
    if (input.all.length < 2) return "oneLane";
    // Minutes that gave heat and made no hour are too few, not wrong.
    if (lanes === 0) return input.someHeat ? "tooShort" : "noHeat";
    return lanes < 2 ? "noCommonSpans" : "tooShort";
  };
  return { ranking: [], pairs: [], repeatability: 0, verdict: { kind: "none", reason: reason() } };
}

function findCrossings({ lanes }: Evidence): Crossing[] {
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
