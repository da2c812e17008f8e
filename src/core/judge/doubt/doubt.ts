import type { Implausible } from "../../analysis/slip";
import type { HeatPoint } from "../../analysis/points";
import type { Uncertain } from "../../uncertainty/uncertain";
import type { Evidence } from "../evidence";
import type { PairComparison } from "../pairs";
import type { RankedLane } from "../ranking";
import type { RatioOfPair, SpanUnit, WaysApart } from "../tested";
import type { Verdict, Way } from "../verdict";

/** Effect on the leading difference, W/m²: what the answer could become is answer + [low, high]. */
export interface Effect {
  low: number;
  high: number;
}

/** All that a doubt may be found in: the evidence, and what the comparison made of it. */
export interface DoubtInput extends Evidence {
  /** What the answer is paired by: the same windows, or hours. */
  heats: readonly HeatPoint[];
  way: Way;
  operatingXs: ReadonlyMap<string, number>;
  ranking: readonly RankedLane[];
  pairs: readonly PairComparison[];
  verdict: Verdict;
  /** The same lanes as tested, by every way of pairing them. */
  tested: readonly { unit: SpanUnit; pairs: readonly RatioOfPair[] }[];
  /** Ways that lie apart. */
  apart: readonly WaysApart[];
  crossings: readonly { a: string; b: string; x: Uncertain; expanded: number }[];
}

/** One kind of doubt: what finds it. Its title, evidence and remedy are in src/words/doubts.ts. */
export interface DoubtFinder<D extends { kind: string; effect: Effect | null }> {
  /** Whatever its size it comes first: the figures themselves may be wrong. */
  grave?: boolean;
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

/** What physics does not allow of a lane was found in a run, and a person said each time that it is right. */
export function saidRight(found: DoubtInput["implausible"], kind: Implausible["kind"], lane: string): boolean {
  const own = found.filter((i) => i.found.kind === kind && "lane" in i.found && i.found.lane === lane);
  return own.length > 0 && own.every((i) => i.accepted);
}

export const around = (half: number): Effect => ({ low: -half, high: half });
