import { groupBy, lessTheirMeans } from "../analysis/scatter";
import {
  combine,
  effectiveDof,
  scaleSources,
  standardUncertainty,
  withSource,
  type Measured,
  type Uncertain,
} from "../uncertainty/uncertain";
import { coverageFactor } from "../uncertainty/coverage";
import { type SourceKind } from "../uncertainty/source";
import { holm, tailsOf } from "./adjust";
import { arrangementWeights, Heats, valueOf, windowKey, type Fitted, type Ledgered } from "./heats";
import { byDay, differenceInTurn, weatherOfLanes, type WeatherOfLanes } from "./inTurn";
import { asTested, atPoint, type Compared, type CompareInput, type TestedInput } from "./laneHeat";

export interface PairComparison {
  a: string;
  b: string;
  /** Heat of a less heat of b at the operating point, W/m², with every source. */
  difference: Uncertain;
  measured: Measured;
  /** Mean heat of the two over the shared spans, W/m². */
  level: number;
  /** Half-width at 95 %. */
  expanded: number;
  /** Two-sided p for "no difference", before and after Holm's adjustment. */
  p: number;
  pHolm: number;
  /** Chance that the sign is wrong, one-sided. */
  chanceWrong: number;
  decision: "aBetter" | "bBetter" | "equal" | "cannotTell";
  /** Spans both share; of lanes tested one after another, all of both. */
  windows: number;
  days: number;
  /** Both lanes have stood at the same places. */
  swapped: boolean;
  /** They share no span: tested one after another, with the weather's part in the ±. */
  inTurn: boolean;
  /** Both are copies of one variant. */
  identical: boolean;
}

/**
 * Paired differences of all lanes over the windows they share.
 *
 * The identical pair's difference, as far as its own uncertainty does not explain it, is the bench's
 * repeatability and enters every other comparison with one degree of freedom a pair. p values are adjusted by
 * Holm (1979) over the comparisons of different variants. "Equal" needs the 90 % interval inside
 * ± the smallest difference that matters (two one-sided tests at 5 %, Schuirmann 1987).
 */
export const comparePairs = (input: CompareInput): Paired => compare(atPoint(input));

/** The same at the tested condition, without any curve: each span's difference as a share of its level, at the mean level. */
export const compareTested = (input: TestedInput): Paired => compare(asTested(input));

/** Lanes in pairs. */
export interface Paired {
  pairs: PairComparison[];
  repeatability: number;
  /** Heat per area of each lane over its own spans, shared errors included, W/m². */
  laneHeats(): { heats: Map<string, Uncertain>; ensemble: Ensemble };
}

function compare(input: Compared): Paired {
  const heats = new Heats(input.heats);
  const raw = pairsOf(input.lanes).flatMap(([a, b]) => {
    const difference =
      pairDifference(a.lane, b.lane, heats, input) ?? differenceInTurn(a.lane, b.lane, heats, input.weatherShare);
    return difference ? [{ a, b, identical: a.variant === b.variant, ...difference }] : [];
  });
  const { pairs, repeatability } = decidedPairs(raw, input);
  return { pairs, repeatability, laneHeats: () => meanHeats(heats, input, weatherOfLanes(raw)) };
}

/** A difference of two lanes, however it was found. */
export interface FoundDifference extends Pick<PairComparison, "level" | "windows" | "days" | "swapped" | "identical"> {
  a: { lane: string };
  b: { lane: string };
  difference: Uncertain;
  /** What days that were not shared may do; null where they were. */
  weather: unknown;
}

/** Differences with the bench's repeatability from its identical pairs, adjusted for their number, each with its decision. */
export function decidedPairs(
  raw: readonly FoundDifference[],
  input: Pick<Compared, "smallestDifference" | "level">,
): Pick<Paired, "pairs" | "repeatability"> {
  const excess = raw
    .filter((r) => r.identical)
    .map((r) => r.difference.value ** 2 - standardUncertainty(r.difference) ** 2);
  const repeatability = excess.length ? Math.sqrt(Math.max(0, excess.reduce((s, e) => s + e, 0) / excess.length)) : 0;
  const entries = raw.map(({ a, b, identical, difference, level, windows, days, swapped, weather }) => {
    const bench = withSource(0, identical ? 0 : repeatability, {
      kind: "repeatability",
      lanes: `${a.lane}${b.lane}`,
      owner: "",
      dof: excess.length,
    });
    const total = combine(difference.value, [
      [1, difference],
      [1, bench],
    ]);
    const u = standardUncertainty(total);
    const dof = effectiveDof(total);
    const k = coverageFactor(dof);
    const p = tailsOf(total.value, u, dof);
    return {
      a: a.lane,
      b: b.lane,
      difference: total,
      measured: { value: total.value, standardUncertainty: u, dof },
      level,
      expanded: k * u,
      p,
      pHolm: p,
      chanceWrong: p / 2,
      decision: "cannotTell" as PairComparison["decision"],
      windows,
      days,
      swapped,
      inTurn: weather !== null,
      identical,
    };
  });
  holm(entries.filter((e) => !e.identical));
  for (const e of entries) e.decision = decide(e, input.smallestDifference, input.level);
  return { pairs: entries, repeatability };
}

function pairsOf<T>(items: readonly T[]): [T, T][] {
  return items.flatMap((a, i) => items.slice(i + 1).map((b): [T, T] => [a, b]));
}

function pairDifference(a: string, b: string, heats: Heats, { relative, slopes }: Compared) {
  const others = heats.byLane.get(b)!;
  const both = [...heats.byLane.get(a)!].flatMap(([key, own]) => {
    const other = others.get(key);
    return other ? [[own, other] as const] : [];
  });
  const shared = relative ? levelled(both) : both;
  if (shared.length < 2) return null;
  const arrangements = shared.map(([own, other]) => `${own.point.station}-${other.point.station}`);
  const [ownFit, otherFit] = [0, 1].map((side) => heats.fitted(shared.map((s) => s[side])));
  const fitShare = fitShareLeft(ownFit, otherFit, arrangements);
  const stationsOf = (side: 0 | 1) => new Set(shared.map((s) => s[side].point.station));
  return {
    difference: heats.meanWithScatter(
      shared.map(([own, other]) => [
        [1, own],
        [-1, other],
      ]),
      arrangements,
      { lanes: `${a}${b}`, slopes, fitShare },
    ),
    level: shared.reduce((s, [own, other]) => s + (valueOf(own) + valueOf(other)) / 2, 0) / shared.length,
    windows: shared.length,
    days: new Set(shared.map(([own]) => own.point.day)).size,
    swapped: [...stationsOf(0)].some((s) => stationsOf(1).has(s)),
    weather: null,
  };
}

/** Spans of several lanes brought to their mean level: what changed for all alike (the sun) drops out, their ratios stay. */
function levelled(spans: readonly (readonly Ledgered[])[]): (readonly Ledgered[])[] {
  const levels = spans.map((lanes) => lanes.reduce((s, h) => s + valueOf(h), 0) / lanes.length);
  const mean = levels.reduce((s, l) => s + l, 0) / levels.length;
  return spans.flatMap((lanes, i) =>
    levels[i] > 0 ? [lanes.map((h) => ({ ...h, factor: h.factor * (mean / levels[i]) }))] : [],
  );
}

/** As `fitShareLeft`, of figures with their sources. */
export const fitErrorLeft = (
  a: readonly Uncertain[],
  b: readonly Uncertain[],
  arrangements: readonly string[],
): number => {
  const [own, other] = [a, b].map((figures): Fitted => {
    const heats = new Heats(new Map());
    return heats.fitted(figures.map((f) => ({ entry: heats.ledger.entry(f), factor: 1 })));
  });
  return fitShareLeft(own, other, arrangements);
};

/**
 * What is left of the two curves' fit errors in a difference, 0 to 1: the same windows made both curves, so what
 * windows have in common (the sun sensor's noise, a passing haze, the shared inlet) bent both alike. From the correlation ρ of the lanes' heats within
 * arrangements: (vA + vB − 2ρ√(vA·vB))/(vA + vB), as a share of standard uncertainty. Only a positive correlation is taken.
 */
function fitShareLeft(a: Fitted, b: Fitted, arrangements: readonly string[]): number {
  const groups = groupBy(arrangements);
  const [x, y] = [lessTheirMeans(a.values, groups), lessTheirMeans(b.values, groups)];
  const sum = (f: (i: number) => number) => x.reduce((s, _, i) => s + f(i), 0);
  const spread = Math.sqrt(sum((i) => x[i] ** 2) * sum((i) => y[i] ** 2));
  const free = arrangements.length - groups.size;
  // Rounding errors of a perfect fit have nothing in common to count.
  const rounding = 1e-16 * a.values.reduce((s, v) => s + v ** 2, 0);
  if (!(spread > rounding) || free < 3) return 1;
  // Less one standard error, so that few windows promise little.
  const seen = Math.min(1, sum((i) => x[i] * y[i]) / spread);
  const correlation = Math.max(0, seen - (1 - seen ** 2) / Math.sqrt(free));
  const [va, vb] = [a.fitVariance, b.fitVariance];
  return va + vb > 0 ? Math.sqrt((va + vb - 2 * correlation * Math.sqrt(va * vb)) / (va + vb)) : 1;
}

/** A figure with its contributions of one kind scaled. */
export const scaleKind = (figure: Uncertain, kind: SourceKind, factor: number): Uncertain =>
  scaleSources(figure, (source) => (source.kind === kind ? factor : 1));

function decide(
  e: { measured: Measured; pHolm: number; p: number; identical: boolean },
  smallest: number,
  level: number,
): PairComparison["decision"] {
  const { value, standardUncertainty: u, dof } = e.measured;
  const equal = smallest > 0 && Math.abs(value) + coverageFactor(dof, 0.9) * u < smallest;
  // Copies are asked whether they are alike. Of variants an order that is shown is said, however small the difference: the sentence
  // adds that it is less than what matters.
  if (e.identical && equal) return "equal";
  if ((e.identical ? e.p : e.pHolm) < level) return value > 0 ? "aBetter" : "bBetter";
  return equal ? "equal" : "cannotTell";
}

function meanHeats(
  lanes: Heats,
  { relative, slopes }: Compared,
  weather: WeatherOfLanes,
): ReturnType<Paired["laneHeats"]> {
  const own = [...lanes.byLane];
  const common = own.length ? [...own[0][1].keys()].filter((k) => own.every(([, heats]) => heats.has(k))) : [];
  const useCommon = common.length >= 2;
  const spans = common.map((k) => own.map(([, heats]) => heats.get(k)!));
  const shared = relative && useCommon ? levelled(spans) : spans;
  const heats = new Map<string, Uncertain>();
  const residuals = new Map<string, Map<string, number>>();
  own.forEach(([lane, measured], at) => {
    const used = useCommon ? shared.map((span) => span[at]) : [...measured.values()];
    if (used.length < 2) return;
    const arrangements = used.map((h) => String(h.point.station));
    const inTurn = weather.get(lane);
    if (inTurn) {
      // Its days are the sample, as in its differences: windows have no say of their own.
      const { spans } = byDay(used);
      const figure = lanes.weighted(spans);
      const { standard, dof } = inTurn;
      const source = { kind: "weather" as const, lanes: lane, owner: lane, dof };
      heats.set(
        lane,
        combine(figure.value, [
          [1, figure],
          [1, withSource(0, standard, source)],
        ]),
      );
      return;
    }
    heats.set(
      lane,
      lanes.meanWithScatter(
        used.map((h) => [[1, h]]),
        arrangements,
        { lanes: lane, slopes, fitShare: 1 },
      ),
    );
    const left = lessTheirMeans(used.map(valueOf), groupBy(arrangements));
    const weights = arrangementWeights(arrangements);
    residuals.set(lane, new Map(used.map((h, i) => [windowKey(h.point), weights[i] * left[i]])));
  });
  const count = useCommon ? common.length : Math.max(2, ...[...residuals.values()].map((r) => r.size));
  return { heats, ensemble: { residuals, windows: count } };
}

/** Weighted residuals by lane and window: what random draws of the lanes' means are made of, correlations included. */
export interface Ensemble {
  residuals: ReadonlyMap<string, ReadonlyMap<string, number>>;
  windows: number;
}
