import { groupBy, spanScatter } from "../analysis/scatter";
import { onlyParts, type HeatPoint } from "../analysis/points";
import {
  combine,
  effectiveDof,
  scaleSources,
  standardUncertainty,
  subtract,
  withSource,
  type Measured,
  type Uncertain,
} from "../uncertainty/uncertain";
import { coverageFactor } from "../uncertainty/coverage";
import { type SourceKind } from "../uncertainty/source";
import { holm, tailsOf } from "./adjust";
import { asTested, atPoint, levelled, type Compared, type CompareInput, type TestedInput } from "./laneHeat";

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
  windows: number;
  days: number;
  /** Both lanes have stood at both places. */
  swapped: boolean;
  /** Both are copies of one variant. */
  identical: boolean;
}

const windowKey = (p: HeatPoint) => `${p.run}/${p.window}`;

/**
 * Weights over windows: each arrangement of the two lanes on the bench counts alike, so that after a swap whatever
 * belongs to the places (meter, probes, draught, shade) cancels; within one, windows count alike.
 */
function arrangementWeights(arrangements: readonly string[]): number[] {
  const groups = groupBy(arrangements);
  return arrangements.map((key) => 1 / (groups.size * groups.get(key)!.length));
}

/** Effective number of independent windows behind a weighted mean, Kish (1965). */
const kish = (weights: readonly number[]) => 1 / weights.reduce((s, w) => s + w * w, 0);

/**
 * Mean of windows with the scatter that remains within arrangements. Days enter as in the curve fit:
 * pooled where they do not differ, else the days themselves are the sample.
 */
function meanWithScatter(
  figures: readonly Uncertain[],
  points: readonly HeatPoint[],
  arrangements: readonly string[],
  { lanes, slopes }: { lanes: string; slopes: number },
): Uncertain {
  const weights = arrangementWeights(arrangements);
  const value = figures.reduce((s, f, i) => s + weights[i] * f.value, 0);
  const scatter = spanScatter(
    figures,
    points.map((p) => p.day),
    arrangements,
    slopes,
  );
  const days = groupBy(points.map((p) => p.day));
  const dayWeights = [...days.values()].map((members) => members.reduce((s, i) => s + weights[i], 0));
  const scattered =
    weights.reduce((s, w, i) => s + w ** 2 * scatter.variances[i], 0) + scatter.dayVariance / kish(dayWeights);
  const systematic = combine(
    value,
    figures.map((f, i) => [weights[i], onlyParts(f, "systematic")] as const),
  );
  const random = withSource(0, Math.sqrt(scattered), { kind: "dayScatter", lanes, owner: "", dof: scatter.dof });
  return combine(value, [
    [1, systematic],
    [1, random],
  ]);
}

/**
 * Paired differences of all lanes over the windows they share.
 *
 * The identical pair's difference, as far as its own uncertainty does not explain it, is the bench's
 * repeatability and enters every other comparison with one degree of freedom a pair. p values are adjusted by
 * Holm (1979) over the comparisons of different variants. "Equal" needs the 90 % interval inside
 * ± the smallest difference that matters (two one-sided tests at 5 %, Schuirmann 1987).
 */
export const comparePairs = (input: CompareInput) => compare(atPoint(input));

/** The same at the tested condition, without any curve: each span's difference as a share of its level, at the mean level. */
export const compareTested = (input: TestedInput) => compare(asTested(input));

function compare(input: Compared): { pairs: PairComparison[]; repeatability: number } {
  const raw = pairsOf(input.lanes).flatMap(([a, b]) => {
    const difference = pairDifference(a.lane, b.lane, input);
    return difference ? [{ a, b, identical: a.variant === b.variant, ...difference }] : [];
  });
  const excess = raw
    .filter((r) => r.identical)
    .map((r) => r.difference.value ** 2 - standardUncertainty(r.difference) ** 2);
  const repeatability = excess.length ? Math.sqrt(Math.max(0, excess.reduce((s, e) => s + e, 0) / excess.length)) : 0;
  const entries = raw.map(({ a, b, identical, difference, level, windows, days, swapped }) => {
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

function pairDifference(a: string, b: string, { heats, relative, slopes }: Compared) {
  const others = new Map(heats.get(b)!.map((h) => [windowKey(h.point), h]));
  const both = heats.get(a)!.flatMap((h) => {
    const other = others.get(windowKey(h.point));
    return other ? [[h, other]] : [];
  });
  const shared = (relative ? levelled(both) : both).map(([own, other]) => ({ a: own, b: other }));
  if (shared.length < 2) return null;
  const arrangements = shared.map((s) => `${s.a.point.station}-${s.b.point.station}`);
  const fitShare = fitErrorLeft(
    shared.map((s) => s.a.heat),
    shared.map((s) => s.b.heat),
    arrangements,
  );
  const figures = shared.map((s) => scaleKind(subtract(s.a.heat, s.b.heat), "curveFit", fitShare));
  const points = shared.map((s) => s.a.point);
  const stationsOf = (side: "a" | "b") => new Set(shared.map((s) => s[side].point.station));
  const swapped = [...stationsOf("a")].some((s) => stationsOf("b").has(s));
  return {
    difference: meanWithScatter(figures, points, arrangements, { lanes: `${a}${b}`, slopes }),
    level: shared.reduce((s, h) => s + (h.a.heat.value + h.b.heat.value) / 2, 0) / shared.length,
    windows: shared.length,
    days: new Set(points.map((p) => p.day)).size,
    swapped,
  };
}

/**
 * What is left of the two curves' fit errors in a difference, 0 to 1: the same windows made both curves, so what
 * windows have in common (the sun sensor's noise, a passing haze, the shared inlet) bent both alike. From the correlation ρ of the lanes' heats within
 * arrangements: (vA + vB − 2ρ√(vA·vB))/(vA + vB), as a share of standard uncertainty. Only a positive correlation is taken.
 */
export function fitErrorLeft(
  a: readonly Uncertain[],
  b: readonly Uncertain[],
  arrangements: readonly string[],
): number {
  const centre = (heats: readonly Uncertain[]) => {
    const groups = groupBy(arrangements);
    return heats.map((h, i) => {
      const members = groups.get(arrangements[i])!;
      return h.value - members.reduce((s, m) => s + heats[m].value, 0) / members.length;
    });
  };
  const [x, y] = [centre(a), centre(b)];
  const sum = (f: (i: number) => number) => x.reduce((s, _, i) => s + f(i), 0);
  const spread = Math.sqrt(sum((i) => x[i] ** 2) * sum((i) => y[i] ** 2));
  const free = a.length - new Set(arrangements).size;
  // Rounding errors of a perfect fit have nothing in common to count.
  const rounding = 1e-16 * a.reduce((s, h) => s + h.value ** 2, 0);
  if (!(spread > rounding) || free < 3) return 1;
  // Less one standard error, so that few windows promise little.
  const seen = Math.min(1, sum((i) => x[i] * y[i]) / spread);
  const correlation = Math.max(0, seen - (1 - seen ** 2) / Math.sqrt(free));
  const fitVariance = (heats: readonly Uncertain[]) =>
    heats.reduce(
      (s, h) =>
        s +
        [...h.parts.values()].reduce(
          (t, { source, standard }) => t + (source.kind === "curveFit" ? standard ** 2 : 0),
          0,
        ),
      0,
    );
  const [va, vb] = [fitVariance(a), fitVariance(b)];
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

/** Heat per area of each lane at the operating point over its own windows, shared errors included, W/m². */
export const laneHeatsAtPoint = (input: CompareInput) => meanHeats(atPoint(input));

/** The same at the tested condition. */
export const laneHeatsAsTested = (input: TestedInput) => meanHeats(asTested(input));

function meanHeats({ heats: all, relative, slopes }: Compared): { heats: Map<string, Uncertain>; ensemble: Ensemble } {
  const keys = [...all].map(([, hs]) => new Set(hs.map((h) => windowKey(h.point))));
  const common = keys.length ? [...keys[0]].filter((k) => keys.every((set) => set.has(k))) : [];
  const useCommon = common.length >= 2;
  const heats = new Map<string, Uncertain>();
  const residuals = new Map<string, Map<string, number>>();
  const level = new Map(
    relative && useCommon
      ? levelled(common.map((k) => [...all.values()].map((hs) => hs.find((h) => windowKey(h.point) === k)!))).flatMap(
          (lanes) => lanes.map((h) => [`${h.point.lane} ${windowKey(h.point)}`, h] as const),
        )
      : [],
  );
  for (const [lane, hs] of all) {
    const shared = relative
      ? hs.flatMap((h) => level.get(`${lane} ${windowKey(h.point)}`) ?? [])
      : hs.filter((h) => common.includes(windowKey(h.point)));
    const used = useCommon ? shared : hs;
    if (used.length < 2) continue;
    const arrangements = used.map((h) => String(h.point.station));
    heats.set(
      lane,
      meanWithScatter(
        used.map((h) => h.heat),
        used.map((h) => h.point),
        arrangements,
        { lanes: lane, slopes },
      ),
    );
    const groups = groupBy(arrangements);
    const means = new Map(
      [...groups].map(([key, members]) => [key, members.reduce((s, i) => s + used[i].heat.value, 0) / members.length]),
    );
    const weights = arrangementWeights(arrangements);
    residuals.set(
      lane,
      new Map(used.map((h, i) => [windowKey(h.point), weights[i] * (h.heat.value - means.get(arrangements[i])!)])),
    );
  }
  const count = useCommon ? common.length : Math.max(2, ...[...residuals.values()].map((r) => r.size));
  return { heats, ensemble: { residuals, windows: count } };
}

/** Weighted residuals by lane and window: what random draws of the lanes' means are made of, correlations included. */
export interface Ensemble {
  residuals: ReadonlyMap<string, ReadonlyMap<string, number>>;
  windows: number;
}
