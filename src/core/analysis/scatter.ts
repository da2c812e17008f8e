import fCdf from "@stdlib/stats-base-dists-f-cdf";
import type { Uncertain } from "../uncertainty/uncertain";
import { RANDOM_KINDS } from "./points";

/** How windows and days scatter, and what of it their readings claim. */

export function groupBy(keys: readonly string[]): Map<string, number[]> {
  const groups = new Map<string, number[]>();
  keys.forEach((key, i) => {
    const members = groups.get(key);
    if (members) members.push(i);
    else groups.set(key, [i]);
  });
  return groups;
}

const ROUNDING = 1e-16;

/** Below this chance that equal days would scatter so, days are treated as different (Bozivich et al. 1956). */
export const POOLING_LEVEL = 0.25;

/**
 * Splits scatter into windows within a day and days among themselves (one-way random effects, method of moments).
 * @param fitted parameters already fitted from these values
 */
export function dayAnalysis(
  values: readonly number[],
  days: ReadonlyMap<string, readonly number[]>,
  fitted: number,
): { windowVariance: number; dayVariance: number; daysDiffer: boolean } {
  const n = values.length;
  const k = days.size;
  const total = values.reduce((s, v) => s + v * v, 0);
  const pooled = total / Math.max(1, n - fitted);
  // Rounding errors of a perfect fit are no scatter to divide.
  if (k < 2 || n - k < 2 || total < ROUNDING) return { windowVariance: pooled, dayVariance: 0, daysDiffer: false };
  let within = 0;
  let between = 0;
  let sizeSquares = 0;
  for (const members of days.values()) {
    const mean = members.reduce((s, i) => s + values[i], 0) / members.length;
    within += members.reduce((s, i) => s + (values[i] - mean) ** 2, 0);
    between += members.length * mean * mean;
    sizeSquares += members.length ** 2;
  }
  const withinDof = Math.max(1, n - k - Math.max(0, fitted - 1));
  const msWithin = within / withinDof;
  const msBetween = between / (k - 1);
  const p = msWithin > 0 ? 1 - fCdf(msBetween / msWithin, k - 1, withinDof) : 1;
  if (p >= POOLING_LEVEL) return { windowVariance: pooled, dayVariance: 0, daysDiffer: false };
  const effectiveSize = (n - sizeSquares / n) / (k - 1);
  return {
    windowVariance: msWithin,
    dayVariance: Math.max(0, (msBetween - msWithin) / effectiveSize),
    daysDiffer: true,
  };
}

/** The noise that the readings of one span claim: variance and degrees of freedom; whether they claim any. */
export interface Claim {
  variance: number;
  dof: number;
  made: boolean;
}

export function claimOf(figure: Uncertain): Claim {
  let [variance, denominator, made] = [0, 0, false];
  for (const { source, standard } of figure.parts.values()) {
    if (!RANDOM_KINDS.has(source.kind)) continue;
    made = true;
    variance += standard * standard;
    // Welch–Satterthwaite (GUM G.2b): no noise shares its estimate with another.
    if (Number.isFinite(source.dof)) denominator += standard ** 4 / source.dof;
  }
  return { variance, dof: denominator > 0 ? variance ** 2 / denominator : Infinity, made };
}

/**
 * Scatter of so many degrees of freedom and the noise that the readings claim, as one estimate of what the claim must be multiplied by:
 * few windows that happen to agree do not make their readings better than they are. null where the scatter is larger than the claim
 * allows (F test, p < 0.25), for want of something in the model, or where nothing is claimed.
 *
 * @param reducedChiSquare scatter over claim, variances
 */
export function withClaimed(
  reducedChiSquare: number,
  dof: number,
  noises: readonly Claim[],
): { factor: number; dof: number } | null {
  if (noises.some((noise) => !noise.made)) return null;
  const claimed = noises.reduce((sum, noise) => sum + Math.min(1e3, noise.dof), 0);
  if (!(1 - fCdf(reducedChiSquare, dof, claimed) >= POOLING_LEVEL)) return null;
  return { factor: (dof * reducedChiSquare + claimed) / (dof + claimed), dof: dof + claimed };
}

/** How spans scatter: each span's variance, and that of days among themselves. */
export interface SpanScatter {
  variances: number[];
  dayVariance: number;
  daysDiffer: boolean;
  dof: number;
}

/**
 * Scatter of spans within the arrangements of lanes on the bench, days pooled where they do not differ, joined with what the readings
 * claim as far as an F test permits. @param slopes of a curve already fitted to the same scatter: each takes a degree of freedom
 */
export function spanScatter(
  values: readonly number[],
  noises: readonly Claim[],
  dayOf: readonly string[],
  arrangements: readonly string[],
  slopes: number,
): SpanScatter {
  const groups = groupBy(arrangements);
  const centred = lessTheirMeans(values, groups);
  const days = groupBy(dayOf);
  const fitted = groups.size + slopes;
  const { windowVariance, dayVariance, daysDiffer } = dayAnalysis(centred, days, fitted);
  if (daysDiffer)
    return {
      variances: values.map(() => windowVariance),
      dayVariance,
      daysDiffer,
      dof: Math.max(1, days.size - groups.size),
    };
  const free = Math.max(1, values.length - fitted);
  const claims = noises.map((n) => n.variance);
  const joined = withClaimed(centred.reduce((s, c, i) => s + c ** 2 / claims[i], 0) / free, free, noises);
  return {
    variances: claims.map((claim) => (joined ? joined.factor * claim : windowVariance)),
    dayVariance: 0,
    daysDiffer,
    dof: joined?.dof ?? free,
  };
}

/** Each value less the mean of its group. */
export function lessTheirMeans(values: readonly number[], groups: ReadonlyMap<string, readonly number[]>): number[] {
  const out = new Array<number>(values.length);
  for (const members of groups.values()) {
    const mean = members.reduce((s, i) => s + values[i], 0) / members.length;
    for (const i of members) out[i] = values[i] - mean;
  }
  return out;
}
