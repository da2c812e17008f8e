import { Matrix } from "ml-matrix";
import type { EfficiencyPoint } from "./points";
import { heldBefore, weightedFit, type WeightedFit } from "./prior";
import { claimOf, dayAnalysis, groupBy, withClaimed, type Claim } from "./scatter";

export type ScatterFrom = "own" | "claimed" | "lanes";

/** Scatter of windows about the curves of several lanes, where an F test finds no difference between them. */
export interface SharedScatter {
  variance: number;
  dof: number;
}

export const meanWind = (points: readonly EfficiencyPoint[]): number =>
  points.reduce((s, p) => s + p.wind, 0) / points.length;

export type Term = "eta0" | "a1" | "a2" | "a5" | "windLoss" | "windLight";

export interface Estimate {
  terms: Term[];
  beta: number[];
  /** p × n: β̂ = H·y. */
  hat: Matrix;
  /** Covariance from the scatter of windows, and from days where they differ, each with its degrees of freedom. */
  scatter: { label: "window" | "day" | "held"; covariance: Matrix; dof: number }[];
  residuals: number[];
  leverages: number[];
  reducedChiSquare: number;
  residualSd: number;
  scatterFrom: ScatterFrom;
  daySd: number;
  daysDiffer: boolean;
  dof: number;
  days: number;
}

/** A row of the design: an intercept for each place under the light's own incidence, then slope and bend. */
function designRow(
  point: EfficiencyPoint,
  terms: readonly Term[],
  stations: readonly number[],
  windMs: number,
): number[] {
  const x = point.reducedTemperature.value;
  const G = point.irradiance.value;
  const gust = point.wind - windMs;
  const of: Record<Term, number> = {
    eta0: 1,
    a1: -x,
    a2: -G * x * x,
    a5: -point.drift / G,
    windLoss: -gust * x,
    windLight: -gust,
  };
  const slopes = terms.slice(1).map((t) => of[t]);
  return [...stations.map((s) => (s === point.station ? point.modifier.value : 0)), ...slopes];
}

/** Takes the intercepts' mean as η0 and leaves the slopes. */
function meanIntercept(stations: number, slopes: number): Matrix {
  const T = Matrix.zeros(1 + slopes, stations + slopes);
  for (let s = 0; s < stations; s++) T.set(0, s, 1 / stations);
  for (let k = 0; k < slopes; k++) T.set(1 + k, stations + k, 1);
  return T;
}

/** What the doubt of what was known beforehand does to the coefficients. */
const pulled = (by: Matrix): Estimate["scatter"][number] => ({
  label: "held",
  covariance: by.mmul(by.transpose()),
  dof: Infinity,
});

/** What windows are taken to scatter by: as claimed where that holds, else as the lanes of the bench do together, else as they do themselves. */
function windowScatter(
  { daysDiffer, windowVariance }: { daysDiffer: boolean; windowVariance: number },
  seen: { reducedChiSquare: number; dof: number; noises: readonly Claim[]; weight: readonly number[] },
  shared: SharedScatter | undefined,
): { from: ScatterFrom; variances: number[]; dof: number } {
  const claimed = daysDiffer ? null : withClaimed(seen.reducedChiSquare, seen.dof, seen.noises);
  const alike = (variance: number) => seen.weight.map(() => variance);
  if (claimed) return { from: "claimed", variances: seen.weight.map((w) => claimed.factor / w), dof: claimed.dof };
  if (shared && !daysDiffer) return { from: "lanes", variances: alike(shared.variance), dof: shared.dof };
  return { from: "own", variances: alike(windowVariance), dof: seen.dof };
}

/** A lane's points, and what of a fit depends on them and its terms alone. */
export interface FittedLane {
  points: readonly EfficiencyPoint[];
  noises: readonly Claim[];
  weight: readonly number[];
  stations: readonly number[];
  days: ReadonlyMap<string, number[]>;
  /** null when the points cannot tell the terms apart. */
  solved: (terms: readonly Term[]) => SolvedTerms | null;
}

interface SolvedTerms extends WeightedFit {
  rows: number[][];
  /** Takes the intercepts' mean. */
  T: Matrix;
  /** T·hat of the fit. */
  meanHat: Matrix;
  parts: ReturnType<typeof dayAnalysis>;
}

export function fittedLane(points: readonly EfficiencyPoint[]): FittedLane {
  const stations = [...new Set(points.map((pt) => pt.station))];
  const noises = points.map((pt) => claimOf(pt.efficiency));
  const random = noises.map((noise) => Math.sqrt(noise.variance));
  // A window that claims to be far better than its fellows is luck, not knowledge.
  const floor = 0.3 * [...random].sort((a, b) => a - b)[points.length >> 1] || 1e-4;
  const weight = random.map((u) => 1 / Math.max(u, floor) ** 2);
  const efficiencies = points.map((pt) => pt.efficiency.value);
  const windMs = meanWind(points);
  const days = groupBy(points.map((pt) => pt.day));
  const solve = (terms: readonly Term[]): SolvedTerms | null => {
    const rows = points.map((pt) => designRow(pt, terms, stations, windMs));
    const held = terms.includes("a5") ? heldBefore(points, stations.length + terms.indexOf("a5") - 1) : null;
    const fit = weightedFit(rows, efficiencies, weight, held);
    if (!fit) return null;
    const T = meanIntercept(stations.length, terms.length - 1);
    return { ...fit, rows, T, meanHat: T.mmul(fit.hat), parts: dayAnalysis(fit.residuals, days, fit.fitted) };
  };
  const known = new Map<string, SolvedTerms | null>();
  const solved = (terms: readonly Term[]) => {
    const key = terms.join();
    if (!known.has(key)) known.set(key, solve(terms));
    return known.get(key)!;
  };
  return { points, noises, weight, stations, days, solved };
}

/** null when the points cannot tell the terms apart (all drift alike, one temperature a place). */
export function estimate(lane: FittedLane, terms: Term[], shared: SharedScatter | undefined): Estimate | null {
  const { points, noises, weight, stations, days } = lane;
  const n = points.length;
  const solved = lane.solved(terms);
  if (!solved) return null;
  const { T, meanHat, rows, parts, full, residuals, dof, reducedChiSquare } = solved;
  const used = windowScatter(parts, { reducedChiSquare, dof, noises, weight }, shared);
  const across = meanHat.transpose();
  const scatter: Estimate["scatter"] = [
    { label: "window", covariance: byColumn(meanHat, used.variances).mmul(across), dof: used.dof },
    ...(solved.pull ? [pulled(T.mmul(Matrix.columnVector(solved.pull)))] : []),
    ...(parts.daysDiffer
      ? [
          {
            label: "day" as const,
            covariance: meanHat.mmul(dayMatrix(n, days, parts.dayVariance)).mmul(across),
            dof: Math.max(1, days.size - stations.length),
          },
        ]
      : []),
  ];
  return {
    terms,
    beta: T.mmul(Matrix.columnVector(full)).to1DArray(),
    hat: meanHat,
    scatter,
    residuals,
    leverages: rows.map((row, j) => row.reduce((s, v, k) => s + v * solved.hat.get(k, j), 0)),
    reducedChiSquare,
    residualSd: Math.sqrt(used.from === "own" ? parts.windowVariance : used.variances.reduce((a, b) => a + b, 0) / n),
    scatterFrom: used.from,
    daySd: Math.sqrt(parts.daysDiffer ? parts.dayVariance : 0),
    daysDiffer: parts.daysDiffer,
    dof,
    days: days.size,
  };
}

/** Each column multiplied by its own factor. */
function byColumn(matrix: Matrix, factors: readonly number[]): Matrix {
  const out = matrix.clone();
  for (let j = 0; j < out.columns; j++) out.mulColumn(j, factors[j]);
  return out;
}

function dayMatrix(n: number, days: ReadonlyMap<string, number[]>, dayVariance: number): Matrix {
  const V = Matrix.zeros(n, n);
  for (const members of days.values()) for (const i of members) for (const j of members) V.set(i, j, dayVariance);
  return V;
}
