import { coverageFactor } from "../uncertainty/coverage";
import { combine, effectiveDof, standardUncertainty, type Uncertain } from "../uncertainty/uncertain";
import { holm, tailsOf } from "./adjust";
import { variantDifference } from "./contest";
import { LEVEL } from "./laneHeat";
import type { PairComparison } from "./pairs";

/** Something variants were built to differ in, and who has which of its levels. */
export interface Factor {
  name: string;
  levels: readonly { value: string; variants: readonly string[] }[];
}

export interface Effect {
  factor: string;
  /** Heat at `to` less heat at `from`. */
  from: string;
  to: string;
  /** An interaction: how much more the change gives where another factor is at `to` than where it is at `from`; null: the effect itself. */
  over: { factor: string; from: string; to: string } | null;
  difference: Uncertain;
  /** Half-width at 95 %, W/m². */
  expanded: number;
  p: number;
  pHolm: number;
  decision: "more" | "less" | "equal" | "cannotTell";
  /** The variants compared, with the changed level first. */
  between: [string, string][];
  /** Each pair differs in this alone, or the others' levels are as often on either side (their interactions then count as nothing). */
  others: "same" | "balanced";
}

export interface EffectsInput {
  factors: readonly Factor[];
  /** Lanes of each variant. */
  copies: ReadonlyMap<string, readonly string[]>;
  pairs: readonly PairComparison[];
  /** Smallest difference that matters, W/m². */
  smallestDifference: number;
  /** Chance of a false find, both sides. */
  level?: number;
}

/**
 * What each change did, over variants that were built to differ in one or several things: mean of the differences of pairs that differ in one
 * factor alone, and how far that depends on another factor where all four corners were built (Box, Hunter & Hunter 2005, ch. 5). Where no such pair was
 * built but the others' levels are as often on either side (a fraction of the whole set), the means of the sides. Holm-adjusted over all that is shown.
 * Empty where they differ in one thing alone: the pairs themselves say it.
 */
export function effectsOf(input: EffectsInput): Effect[] {
  const set = setOf(input);
  const { factors } = input;
  if (set.variants.length < 3 || factors.length < 2) return [];
  const found = [
    ...factors.flatMap((f) => f.levels.slice(1).flatMap((_, k) => mainOf(set, f, [0, k + 1]) ?? [])),
    ...factors.flatMap((f, i) => factors.slice(i + 1).flatMap((o) => crossOf(set, f, o) ?? [])),
  ].map((e): Effect => ({ ...e, pHolm: e.p, decision: "cannotTell" }));
  holm(found);
  for (const e of found) e.decision = decided(e, input);
  return found;
}

/** Variants by the levels they have. */
interface VariantSet {
  input: EffectsInput;
  variants: string[];
  level(f: Factor, variant: string): number;
  having(f: Factor, level: number): string[];
  /** Alike in all but the factors named. */
  alike(a: string, b: string, but: readonly Factor[]): boolean;
}

function setOf(input: EffectsInput): VariantSet {
  const { factors } = input;
  const level = (f: Factor, variant: string) => f.levels.findIndex((l) => l.variants.includes(variant));
  const variants = [...input.copies.keys()].filter((v) => factors.every((f) => level(f, v) >= 0));
  return {
    input,
    variants,
    level,
    having: (f, k) => variants.filter((v) => level(f, v) === k),
    alike: (a, b, but) => factors.every((f) => but.includes(f) || level(f, a) === level(f, b)),
  };
}

type Undecided = Omit<Effect, "pHolm" | "decision">;

/** One level against another: by pairs that differ in nothing else, or by sides that hold everything else alike. */
function mainOf(set: VariantSet, f: Factor, [from, to]: [number, number]): Undecided | null {
  const { input, having, alike } = set;
  const [low, high] = [having(f, from), having(f, to)];
  const same = high.flatMap((h) => low.filter((l) => alike(h, l, [f])).map((l): [string, string] => [h, l]));
  const sides = isBalanced(set, f, [low, high]) ? high.map((h, i): [string, string] => [h, low[i]]) : [];
  const between = same.length ? same : sides;
  const mean = meanOf(
    between.map((pair) => ({ pair, weight: 1 / between.length })),
    input,
  );
  if (!mean) return null;
  const named = { factor: f.name, from: f.levels[from].value, to: f.levels[to].value, over: null };
  return { ...named, ...mean, between, others: same.length ? "same" : "balanced" };
}

/** Every level of the other factors is there, as often on either side. */
const isBalanced = ({ input, level }: VariantSet, f: Factor, [low, high]: [string[], string[]]): boolean =>
  low.length === high.length &&
  input.factors
    .filter((o) => o !== f)
    .every((o) =>
      o.levels.every((_, k) => {
        const count = (side: readonly string[]) => side.filter((v) => level(o, v) === k).length;
        return count(low) > 0 && count(low) === count(high);
      }),
    );

/** How one change depends on another, over every square of four corners there is. */
function crossOf({ input, variants, level, having, alike }: VariantSet, f: Factor, o: Factor): Undecided | null {
  if (f.levels.length !== 2 || o.levels.length !== 2) return null;
  const corner = (kf: number, ko: number, like: string) =>
    variants.find((v) => level(f, v) === kf && level(o, v) === ko && alike(v, like, [f, o]));
  const squares = having(f, 1)
    .filter((v) => level(o, v) === 1)
    .flatMap((ab) => {
      const [a, b, none] = [corner(1, 0, ab), corner(0, 1, ab), corner(0, 0, ab)];
      return a && b && none ? [{ ab, a, b, none }] : [];
    });
  const mean = meanOf(
    squares.flatMap(({ ab, a, b, none }) => [
      { pair: [ab, b] as [string, string], weight: 1 / squares.length },
      { pair: [a, none] as [string, string], weight: -1 / squares.length },
    ]),
    input,
  );
  if (!mean) return null;
  const [from, to] = f.levels.map((l) => l.value);
  const over = { factor: o.name, from: o.levels[0].value, to: o.levels[1].value };
  const between = squares.flatMap(({ ab, a, b, none }): [string, string][] => [
    [ab, b],
    [a, none],
  ]);
  return { factor: f.name, from, to, over, ...mean, between, others: "same" };
}

/** A weighted sum of pairs of variants; null unless every pair stood side by side. */
function meanOf(
  terms: readonly { pair: [string, string]; weight: number }[],
  { copies, pairs, smallestDifference }: EffectsInput,
): Pick<Effect, "difference" | "expanded" | "p"> | null {
  const found = terms.flatMap(({ pair: [a, b], weight }) => {
    const d = variantDifference(copies.get(a)!, copies.get(b)!, pairs, smallestDifference);
    return d ? [{ weight, figure: d.difference }] : [];
  });
  if (found.length === 0 || found.length < terms.length) return null;
  const difference = combine(
    found.reduce((s, f) => s + f.weight * f.figure.value, 0),
    found.map((f) => [f.weight, f.figure] as const),
  );
  const u = standardUncertainty(difference);
  const dof = effectiveDof(difference);
  return { difference, expanded: coverageFactor(dof) * u, p: tailsOf(difference.value, u, dof) };
}

function decided(e: Effect, { smallestDifference, level = LEVEL }: EffectsInput): Effect["decision"] {
  const { value } = e.difference;
  const u = standardUncertainty(e.difference);
  const k90 = coverageFactor(effectiveDof(e.difference), 0.9);
  if (smallestDifference > 0 && Math.abs(value) + k90 * u < smallestDifference) return "equal";
  if (e.pHolm >= level) return "cannotTell";
  return value > 0 ? "more" : "less";
}
