import { sourceKey, type Source } from "./source";

/**
 * Uncertain figures that remember where their uncertainty comes from.
 *
 * A figure is a value plus signed contributions c·u, one per independent source, each with the source itself. Two
 * figures that share a source (the one sun sensor, two probes calibrated in one bath) hold equal identities, so sums,
 * differences and ratios add the contributions before squaring: correlations are kept without a covariance matrix
 * (GUM 5.2, and F.1.2.3 on correlated inputs expressed by common independent ones). First order, as GUM 5.1.2.
 */

/** A source's signed standard contribution to a figure, in the figure's unit. */
export interface Part {
  source: Source;
  standard: number;
}

export interface Uncertain {
  value: number;
  /** By {@link sourceKey}. */
  parts: ReadonlyMap<string, Part>;
}

/** A figure at the edge: value, standard uncertainty (k = 1), effective degrees of freedom. */
export interface Measured {
  value: number;
  standardUncertainty: number;
  dof: number;
}

export const exact = (value: number): Uncertain => ({ value, parts: new Map() });

/**
 * A figure with one source of uncertainty.
 * @param standard standard uncertainty (k = 1), same unit as value, ≥ 0
 * @throws RangeError when it is negative or not a number
 */
export function withSource(value: number, standard: number, source: Source): Uncertain {
  if (!(standard >= 0)) throw new RangeError(`standard uncertainty of ${sourceKey(source)} is not ≥ 0`);
  return { value, parts: standard > 0 ? new Map([[sourceKey(source), { source, standard }]]) : new Map() };
}

/** Standard uncertainty of a stated accuracy limit ±a: a/√3, a rectangular distribution (GUM 4.3.7). */
export const fromLimit = (limit: number): number => limit / Math.sqrt(3);

/** Standard uncertainty of a display step: step/√12 (GUM F.2.2.1). */
export const fromResolution = (step: number): number => step / Math.sqrt(12);

/** Figures with their coefficients, to be added up. */
export type Terms = readonly (readonly [coefficient: number, figure: Uncertain])[];

/** The linear combination Σ cᵢ·xᵢ of figures, contributions added by source. */
export function combine(value: number, terms: Terms): Uncertain {
  const parts = new Map<string, GrowingPart>();
  addTerms(parts, terms);
  return { value, parts };
}

/** factor·Σ cᵢ·xᵢ + Σ dⱼ·yⱼ, as two combinations would give it. */
export function combineScaled(value: number, factor: number, terms: Terms, more: Terms): Uncertain {
  const parts = new Map<string, GrowingPart>();
  addTerms(parts, terms);
  for (const part of parts.values()) part.standard *= factor;
  addTerms(parts, more);
  return { value, parts };
}

/** A part that is still added to: figures are made by the ten thousand. */
interface GrowingPart {
  source: Source;
  standard: number;
}

function addTerms(parts: Map<string, GrowingPart>, terms: Terms): void {
  for (const [coefficient, figure] of terms) {
    if (coefficient === 0) continue;
    for (const [key, { source, standard }] of figure.parts) {
      const made = parts.get(key);
      if (made) {
        made.source = source;
        made.standard += coefficient * standard;
      } else parts.set(key, { source, standard: coefficient * standard });
    }
  }
}

export const add = (a: Uncertain, b: Uncertain): Uncertain =>
  combine(a.value + b.value, [
    [1, a],
    [1, b],
  ]);
export const subtract = (a: Uncertain, b: Uncertain): Uncertain =>
  combine(a.value - b.value, [
    [1, a],
    [-1, b],
  ]);
export const multiply = (a: Uncertain, b: Uncertain): Uncertain =>
  combine(a.value * b.value, [
    [b.value, a],
    [a.value, b],
  ]);
export const scale = (a: Uncertain, factor: number): Uncertain => combine(a.value * factor, [[factor, a]]);

/** a/b. Throws RangeError when b is 0. */
export function divide(a: Uncertain, b: Uncertain): Uncertain {
  if (b.value === 0) throw new RangeError("division by a figure of 0");
  return combine(a.value / b.value, [
    [1 / b.value, a],
    [-a.value / b.value ** 2, b],
  ]);
}

/** Variance, unit². */
export function variance(figure: Uncertain): number {
  let sum = 0;
  for (const { standard } of figure.parts.values()) sum += standard * standard;
  return sum;
}

export const standardUncertainty = (figure: Uncertain): number => Math.sqrt(variance(figure));

/**
 * Effective degrees of freedom, Welch–Satterthwaite (GUM G.2b). Parts sized by one estimate of a variance count as one: the formula
 * asks for independent estimates (GUM G.4.1, note). Infinity when all parts are.
 */
export function effectiveDof(figure: Uncertain): number {
  let denominator = 0;
  const joined = new Map<string, { variance: number; dof: number }>();
  for (const { source, standard } of figure.parts.values()) {
    if (!Number.isFinite(source.dof)) continue;
    if (source.estimate === undefined) {
      denominator += standard ** 4 / source.dof;
      continue;
    }
    const one = joined.get(source.estimate) ?? { variance: 0, dof: source.dof };
    joined.set(source.estimate, { ...one, variance: one.variance + standard ** 2 });
  }
  for (const one of joined.values()) denominator += one.variance ** 2 / one.dof;
  return denominator > 0 ? variance(figure) ** 2 / denominator : Infinity;
}

export function measured(figure: Uncertain): Measured {
  return { value: figure.value, standardUncertainty: standardUncertainty(figure), dof: effectiveDof(figure) };
}

/** The figure with only the contributions of some sources. */
export const onlySources = (figure: Uncertain, keep: (source: Source) => boolean): Uncertain => ({
  value: figure.value,
  parts: new Map([...figure.parts].filter(([, part]) => keep(part.source))),
});

/** The figure with each source's contribution multiplied. */
export const scaleSources = (figure: Uncertain, factor: (source: Source) => number): Uncertain => ({
  value: figure.value,
  parts: new Map(
    [...figure.parts].map(([key, { source, standard }]) => [key, { source, standard: standard * factor(source) }]),
  ),
});

export interface BudgetLine {
  source: Source;
  /** Signed standard contribution, in the figure's unit. */
  contribution: number;
  /** Share of the variance, 0 to 1. */
  share: number;
}

/** The budget: each source's share of the variance, largest first. Shares sum to 1 (or the list is empty). */
export function budget(figure: Uncertain): BudgetLine[] {
  const total = variance(figure);
  return [...figure.parts.values()]
    .map(({ source, standard }) => ({
      source,
      contribution: standard,
      share: total > 0 ? standard ** 2 / total : 0,
    }))
    .sort((a, b) => b.share - a.share);
}
