import tQuantile from "@stdlib/stats-base-dists-t-quantile";

/**
 * Uncertain figures that remember where their uncertainty comes from.
 *
 * A figure is a value plus signed contributions c·u, one per independent source. Two
 * figures that share a source (the one sun sensor, two probes calibrated in one bath)
 * carry the same source key, so sums, differences and ratios add the contributions before
 * squaring: correlations are kept without a covariance matrix (GUM 5.2, and F.1.2.3 on
 * correlated inputs expressed by common independent ones). First order, as GUM 5.1.2.
 */
export interface Source {
  key: string;
  /** What a person would call it, as data: kind plus what it belongs to. */
  kind: SourceKind;
  /** Lane letter, instrument label or other owner; empty for shared. */
  owner: string;
  /** Degrees of freedom of its standard uncertainty (GUM G.4); Infinity when stated by a maker. */
  dof: number;
}

export type SourceKind =
  | "probe"
  | "probeNoise"
  | "speedMeter"
  | "speedNoise"
  | "volumeMeter"
  | "massMeter"
  | "profile"
  | "ductArea"
  | "sunSensor"
  | "sunNoise"
  | "ambient"
  | "pressure"
  | "humidity"
  | "specificHeat"
  | "area"
  | "power"
  | "curveFit"
  | "dayScatter"
  | "station"
  | "repeatability"
  | "incidence"
  | "otherNoise"
  | "drift"
  | "reference"
  // Of the collector model: what it does not know well.
  | "transmittance"
  | "absorptance"
  | "emittance"
  | "gapConvection"
  | "streamTransfer"
  | "windLoss"
  | "insulation"
  | "edge"
  | "friction"
  | "heatHeld";

export interface Uncertain {
  value: number;
  /** Signed standard contributions by source key, in the value's unit. */
  parts: ReadonlyMap<string, number>;
}

/** A figure at the edge: value, standard uncertainty (k = 1), effective degrees of freedom. */
export interface Measured {
  value: number;
  standardUncertainty: number;
  dof: number;
}

/** Sources met so far, by key. One per analysis; it makes budgets readable. */
export type SourceTable = Map<string, Source>;

export const exact = (value: number): Uncertain => ({ value, parts: new Map() });

/**
 * A figure with one source of uncertainty, registered in the table.
 * @param standard standard uncertainty (k = 1), same unit as value, ≥ 0
 */
export function withSource(value: number, standard: number, source: Source, table: SourceTable): Uncertain {
  if (!(standard >= 0)) throw new RangeError(`standard uncertainty of ${source.key} is not ≥ 0`);
  if (standard > 0) table.set(source.key, source);
  return { value, parts: standard > 0 ? new Map([[source.key, standard]]) : new Map() };
}

/** Standard uncertainty of a stated accuracy limit ±a: a/√3, a rectangular distribution (GUM 4.3.7). */
export const fromLimit = (limit: number): number => limit / Math.sqrt(3);

/** Standard uncertainty of a display step: step/√12 (GUM F.2.2.1). */
export const fromResolution = (step: number): number => step / Math.sqrt(12);

/** The linear combination Σ cᵢ·xᵢ of figures, contributions added by source. */
export function combine(
  value: number,
  terms: readonly (readonly [coefficient: number, figure: Uncertain])[],
): Uncertain {
  const parts = new Map<string, number>();
  for (const [coefficient, figure] of terms) {
    if (coefficient === 0) continue;
    for (const [key, part] of figure.parts) parts.set(key, (parts.get(key) ?? 0) + coefficient * part);
  }
  return { value, parts };
}

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
  for (const part of figure.parts.values()) sum += part * part;
  return sum;
}

export const standardUncertainty = (figure: Uncertain): number => Math.sqrt(variance(figure));

/** Effective degrees of freedom, Welch–Satterthwaite (GUM G.2b). Infinity when all parts are. */
export function effectiveDof(figure: Uncertain, table: SourceTable): number {
  let denominator = 0;
  for (const [key, part] of figure.parts) {
    const dof = table.get(key)?.dof ?? Infinity;
    if (Number.isFinite(dof)) denominator += part ** 4 / dof;
  }
  return denominator > 0 ? variance(figure) ** 2 / denominator : Infinity;
}

export function measured(figure: Uncertain, table: SourceTable): Measured {
  return { value: figure.value, standardUncertainty: standardUncertainty(figure), dof: effectiveDof(figure, table) };
}

/** Two-sided coverage factor: Student's t, degrees of freedom truncated down (GUM G.4.1); 1.96 for infinite. */
export function coverageFactor(dof: number, probability = 0.95): number {
  const upper = 1 - (1 - probability) / 2;
  return tQuantile(upper, Number.isFinite(dof) ? Math.max(1, dof < 2 ? dof : Math.floor(dof)) : 1e9);
}

/** Expanded uncertainty U at 95 %. */
export const expanded = (m: Measured, probability = 0.95): number =>
  m.standardUncertainty * coverageFactor(m.dof, probability);

export interface BudgetLine {
  source: Source;
  /** Signed standard contribution, in the figure's unit. */
  contribution: number;
  /** Share of the variance, 0 to 1. */
  share: number;
}

/** The budget: each source's share of the variance, largest first. Shares sum to 1 (or the list is empty). */
export function budget(figure: Uncertain, table: SourceTable): BudgetLine[] {
  const total = variance(figure);
  return [...figure.parts]
    .map(([key, contribution]) => ({
      source: table.get(key) ?? { key, kind: "otherNoise" as const, owner: "", dof: Infinity },
      contribution,
      share: total > 0 ? contribution ** 2 / total : 0,
    }))
    .sort((a, b) => b.share - a.share);
}
