import type { Curve } from "../../analysis/curve";
import type { Implausible } from "../../analysis/implausible";
import type { PlacementFindings } from "../../analysis/placement";
import type { EfficiencyPoint, HeatPoint } from "../../analysis/points";
import type { CleaningNote } from "../../analysis/reduce";
import type { SecondReadings } from "../../analysis/secondReadings";
import type { Assumed, OperatingPoint } from "../../analysis/setup";
import type { EventKind } from "../../log/eventKind";
import type { Uncertain } from "../../uncertainty/uncertain";
import type { Expected } from "../expected";
import type { FlowMove } from "../flowWay";
import type { PairComparison } from "../pairs";
import type { RankedLane } from "../ranking";
import type { Verdict, Way } from "../verdict";

/** Effect on the leading difference, W/m²: what the answer could become is answer + [low, high]. */
export interface Effect {
  low: number;
  high: number;
}

/** All that a doubt may be found in. */
export interface DoubtInput {
  lanes: readonly {
    lane: string;
    variant: string;
    curve: Curve;
    flowPerArea?: number;
    move?: FlowMove | null;
  }[];
  points: readonly EfficiencyPoint[];
  /** What the answer is paired by: the same windows, or hours. */
  heats: readonly HeatPoint[];
  way: Way;
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
  /** What physics does not allow, run by run. */
  implausible?: readonly { run: string; found: Implausible; accepted?: boolean }[];
  placement?: readonly PlacementFindings[];
  /** Lanes whose flow was stated, not logged. */
  assumedFlows?: readonly { lane: string; limitShare: number }[];
  /** What the lanes' drawings say. */
  expected?: ReadonlyMap<string, Expected>;
  /** What a person marked at the bench. */
  events?: readonly { run: string; kind: EventKind; lane: string | null; atMs: number }[];
  /** Share of the fan's electricity that warms the stream, by lane. */
  fanShares?: ReadonlyMap<string, number>;
  /** Lanes with a mirror. */
  mirrored?: readonly string[];
  /** What a second flow meter at a lane's other end does not see. */
  leaks?: SecondReadings["leaks"];
  /** Mean of each anemometer, run by run. */
  winds?: readonly { run: string; meansMs: readonly number[] }[];
  /** Lanes whose time constant is that of a sketch. */
  sketchedTimeConstants?: readonly string[];
  /** How long the rules let a box of a time constant settle, and each lane's, s. */
  settling?: { settleS(timeConstantS: number): number; timeConstants: ReadonlyMap<string, number> };
  crossings?: readonly { a: string; b: string; x: Uncertain; expanded: number }[];
  /** What nobody stated, run by run. */
  assumed?: readonly { run: string; what: readonly Assumed[] }[];
}

/** One kind of doubt: what finds it. Its title, evidence and remedy are in src/words/doubts.ts. */
export interface DoubtFinder<D extends { kind: string; effect: Effect | null }> {
  /** Whatever its size it comes first: the figures themselves may be wrong. */
  grave?: boolean;
  /** Figures that cannot be right: no verdict stands on them. */
  stops?: (doubt: D) => boolean;
  find(input: DoubtInput): D[];
}

/** Lanes with points, curve or not: a figure can be wrong before there are enough for a curve. */
export const measuredLanes = (points: readonly HeatPoint[]): string[] => [...new Set(points.map((p) => p.lane))].sort();

/** Mean over a lane's points. */
export function laneMean(points: readonly HeatPoint[], lane: string, of: (p: HeatPoint) => number): number {
  const own = points.filter((p) => p.lane === lane);
  return own.reduce((s, p) => s + of(p), 0) / own.length;
}

/** The two lanes whose difference is the answer. */
export function leadingPair({ verdict, pairs }: DoubtInput): PairComparison | undefined {
  if (verdict.kind !== "winner" && verdict.kind !== "cannotTell") return undefined;
  return pairs.find((p) => [p.a, p.b].includes(verdict.best[0]) && [p.a, p.b].includes(verdict.next[0]));
}

/** The same two, the better first: effects are on its heat less the other's. */
export function bestFirst({ verdict }: DoubtInput): { best: string; next: string } | undefined {
  if (verdict.kind !== "winner" && verdict.kind !== "cannotTell") return undefined;
  const [best] = verdict.best;
  const [next] = verdict.next;
  return best && next ? { best, next } : undefined;
}

export const around = (half: number): Effect => ({ low: -half, high: half });
