import fCdf from "@stdlib/stats-base-dists-f-cdf";
import { LuDecomposition, Matrix } from "ml-matrix";
import { combine, effectiveDof, standardUncertainty, withSource, type Uncertain } from "../uncertainty/uncertain";
import { coverageFactor } from "../uncertainty/coverage";
import { onlyParts, type EfficiencyPoint } from "./points";

/** η = η0 − a1·x − a2·G·x² − a5·(dTm/dt)/G (the steady-state terms of ISO 9806:2017 with the storage term of its quasi-dynamic method), with coefficients that remember their sources. */
export interface Curve {
  lane: string;
  eta0: Uncertain;
  a1: Uncertain;
  /** null where the data do not ask for curvature. */
  a2: Uncertain | null;
  /** Effective heat capacity, J/(m²·K); null where drift within the windows does not show. */
  a5: Uncertain | null;
  points: number;
  days: number;
  /** Range of x the points cover, K·m²/W. */
  xRange: [number, number];
  /** Mean irradiance of the points, W/m². */
  irradiance: number;
  /** Scatter of points about the curve, standard deviation, 1 (efficiency). */
  residualSd: number;
  /** Standard uncertainty of a future window's scatter, as residualSd with the day-to-day part. */
  predictionSd: number;
  /** Reduced χ² against the points' own random uncertainty: well above 1 means something unmodelled (wind, dust, drift). */
  reducedChiSquare: number;
  dof: number;
  /** The days differ by more than windows within a day do (p < 0.25). */
  daysDiffer: boolean;
  residuals: { point: EfficiencyPoint; residual: number }[];
}

export type FitFailure =
  | { kind: "tooFewPoints"; lane: string; points: number; needed: number }
  /** x hardly varies, so slope and intercept cannot be told apart. */
  | { kind: "narrowRange"; lane: string; xRange: [number, number] };

export type CurveFit = { ok: true; curve: Curve } | { ok: false; failure: FitFailure };

const NEEDED = 4;
/** Below this spread of x the slope rests on the scatter alone, K·m²/W (2 K at 800 W/m²). */
const NARROW = 0.0025;

/**
 * Weighted least squares of normal-incidence efficiency on x and G·x².
 *
 * Weights come from each point's random uncertainty. If days differ among themselves more than windows
 * within them (one-way analysis of variance of the residuals, pooled when p ≥ 0.25 as Bozivich, Bancroft &
 * Hartley 1956 advise), the coefficients' covariance treats windows of one day as correlated (Moulton 1986)
 * and the degrees of freedom are those of the days. Systematic contributions are carried through the estimator itself, which is
 * linear in the points: a sun sensor 2 % high lowers η0 of every lane alike, and the parts say so.
 * Even steady windows drift a little, and a warming box keeps heat back: the storage term a5 takes that out, as the
 * quasi-dynamic method does. It is left out only when it comes out negative; leaving it out for want of significance
 * biases a1, because warm inlets tend to come late in the day (measured on the rig: −0.5 W/(m²·K)). a1, a2 and a5 are kept ≥ 0: a coefficient that would be negative is left out and the rest fitted again.
 */
export function fitCurve(
  points: readonly EfficiencyPoint[],
  options: { curvature: "auto" | "never" } = { curvature: "auto" },
): CurveFit {
  const lane = points[0]?.lane ?? "";
  if (points.length < NEEDED)
    return { ok: false, failure: { kind: "tooFewPoints", lane, points: points.length, needed: NEEDED } };
  const x = points.map((p) => p.reducedTemperature.value);
  const xRange: [number, number] = [Math.min(...x), Math.max(...x)];
  if (xRange[1] - xRange[0] < NARROW) return { ok: false, failure: { kind: "narrowRange", lane, xRange } };
  let best = estimate(points, ["eta0", "a1"]);
  const level = estimate(points, ["eta0"]);
  if (!best || !level) return { ok: false, failure: { kind: "narrowRange", lane, xRange } };
  if (best.beta[1] < 0) return { ok: true, curve: toCurve(points, level, xRange) };
  const wanted: Term[] = [
    ...(points.length >= 8 ? ["a5" as const] : []),
    ...(options.curvature === "auto" && points.length >= 8 && xRange[1] - xRange[0] > 0.02 ? ["a2" as const] : []),
  ];
  for (const term of wanted) {
    const more: Estimate | null = estimate(points, [...best.terms, term]);
    if (!more) continue;
    const last = more.beta.length - 1;
    const se = Math.sqrt(more.scatter.reduce((sum, part) => sum + part.covariance.get(last, last), 0));
    if (more.beta[1] >= 0 && more.beta[last] > (term === "a5" ? 0 : coverageFactor(more.dof) * se)) best = more;
  }
  return { ok: true, curve: toCurve(points, best, xRange) };
}

type Term = "eta0" | "a1" | "a2" | "a5";

interface Estimate {
  terms: Term[];
  beta: number[];
  /** p × n: β̂ = H·y. */
  hat: Matrix;
  /** Covariance from the scatter of windows, and from days where they differ, each with its degrees of freedom. */
  scatter: { label: "window" | "day"; covariance: Matrix; dof: number }[];
  residuals: number[];
  reducedChiSquare: number;
  residualSd: number;
  daySd: number;
  daysDiffer: boolean;
  dof: number;
  days: number;
}

/** A row of the design: an intercept for each place, then slope and bend. */
function designRow(point: EfficiencyPoint, terms: readonly Term[], stations: readonly number[]): number[] {
  const x = point.reducedTemperature.value;
  const G = point.irradiance.value;
  const slopes = terms.slice(1).map((t) => (t === "a1" ? -x : t === "a2" ? -G * x * x : -point.drift / G));
  return [...stations.map((s) => (s === point.station ? 1 : 0)), ...slopes];
}

/** Takes the intercepts' mean as η0 and leaves the slopes. */
function meanIntercept(stations: number, slopes: number): Matrix {
  const T = Matrix.zeros(1 + slopes, stations + slopes);
  for (let s = 0; s < stations; s++) T.set(0, s, 1 / stations);
  for (let k = 0; k < slopes; k++) T.set(1 + k, stations + k, 1);
  return T;
}

/** null when the points cannot tell the terms apart (all drift alike, one temperature a place). */
function estimate(points: readonly EfficiencyPoint[], terms: Term[]): Estimate | null {
  const n = points.length;
  const stations = [...new Set(points.map((pt) => pt.station))];
  const p = stations.length + terms.length - 1;
  const random = points.map((pt) => standardUncertainty(onlyParts(pt.normalEfficiency, "random")));
  // A window that claims to be far better than its fellows is luck, not knowledge.
  const floor = 0.3 * [...random].sort((a, b) => a - b)[n >> 1] || 1e-4;
  const weight = random.map((u) => 1 / Math.max(u, floor) ** 2);
  const rows = points.map((pt) => designRow(pt, terms, stations));
  const X = new Matrix(rows);
  const XtW = X.transpose();
  for (let j = 0; j < n; j++) for (let i = 0; i < p; i++) XtW.set(i, j, XtW.get(i, j) * weight[j]);
  const normal = new LuDecomposition(XtW.mmul(X));
  if (normal.isSingular()) return null;
  const fullHat = normal.solve(XtW);
  const full = fullHat.mmul(Matrix.columnVector(points.map((pt) => pt.normalEfficiency.value))).to1DArray();
  const residuals = points.map(
    (pt, i) => pt.normalEfficiency.value - rows[i].reduce((sum, d, k) => sum + d * full[k], 0),
  );
  const reducedChiSquare = residuals.reduce((sum, r, i) => sum + weight[i] * r * r, 0) / Math.max(1, n - p);
  const T = meanIntercept(stations.length, terms.length - 1);
  const hat = T.mmul(fullHat);

  const days = groupBy(points.map((pt) => pt.day));
  const parts = dayAnalysis(residuals, days, p);
  const dof = Math.max(1, n - p);
  // Residual scatter replaces the claimed random uncertainty: it holds all that the model leaves out.
  const spread = (V: Matrix) => hat.mmul(V).mmul(hat.transpose());
  const scatter: Estimate["scatter"] = [
    { label: "window", covariance: spread(Matrix.eye(n, n).mul(parts.windowVariance)), dof },
  ];
  if (parts.daysDiffer)
    scatter.push({
      label: "day",
      covariance: spread(dayMatrix(n, days, parts.dayVariance)),
      dof: Math.max(1, days.size - stations.length),
    });
  return {
    terms,
    beta: T.mmul(Matrix.columnVector(full)).to1DArray(),
    hat,
    scatter,
    residuals,
    reducedChiSquare,
    residualSd: Math.sqrt(parts.windowVariance),
    daySd: Math.sqrt(parts.daysDiffer ? parts.dayVariance : 0),
    daysDiffer: parts.daysDiffer,
    dof,
    days: days.size,
  };
}

function dayMatrix(n: number, days: ReadonlyMap<string, number[]>, dayVariance: number): Matrix {
  const V = Matrix.zeros(n, n);
  for (const members of days.values()) for (const i of members) for (const j of members) V.set(i, j, dayVariance);
  return V;
}

export function groupBy(keys: readonly string[]): Map<string, number[]> {
  const groups = new Map<string, number[]>();
  keys.forEach((key, i) => groups.set(key, [...(groups.get(key) ?? []), i]));
  return groups;
}

const ROUNDING = 1e-16;

/** Below this chance that equal days would scatter so, days are treated as different (Bozivich et al. 1956). */
const POOLING_LEVEL = 0.25;

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

function toCurve(points: readonly EfficiencyPoint[], fit: Estimate, xRange: [number, number]): Curve {
  const lane = points[0].lane;
  const valueOf = (term: Term) => fit.beta[fit.terms.indexOf(term)] ?? 0;
  const slope = valueOf("a1");
  const bend = valueOf("a2");
  // What each point's systematic errors do to its distance from the curve.
  const displacement = points.map((pt) => {
    const x = pt.reducedTemperature.value;
    return combine(0, [
      [1, onlyParts(pt.normalEfficiency, "systematic")],
      [slope + 2 * bend * pt.irradiance.value * x, onlyParts(pt.reducedTemperature, "systematic")],
    ]);
  });
  const factors = fit.scatter.map((part) => ({ ...part, rows: lowerTriangle(part.covariance) }));
  const coefficient = (term: Term): Uncertain | null => {
    const k = fit.terms.indexOf(term);
    if (k < 0) return null;
    const systematic = combine(
      fit.beta[k],
      displacement.map((d, j) => [fit.hat.get(k, j), d] as const),
    );
    const scatter = factors.flatMap(({ label, dof, rows }) =>
      rows[k].map((standard, m) => {
        const source = withSource(0, Math.abs(standard), {
          kind: "curveFit",
          lane,
          scatter: label,
          row: m,
          owner: lane,
          dof,
        });
        return [Math.sign(standard), source] as const;
      }),
    );
    return combine(fit.beta[k], [[1, systematic], ...scatter]);
  };
  return {
    lane,
    eta0: coefficient("eta0")!,
    a1: coefficient("a1") ?? { value: 0, parts: new Map() },
    a2: coefficient("a2"),
    a5: coefficient("a5"),
    points: points.length,
    days: fit.days,
    xRange,
    irradiance: points.reduce((s, pt) => s + pt.irradiance.value, 0) / points.length,
    residualSd: fit.residualSd,
    predictionSd: Math.hypot(fit.residualSd, fit.daySd),
    reducedChiSquare: fit.reducedChiSquare,
    dof: fit.dof,
    daysDiffer: fit.daysDiffer,
    residuals: points.map((point, i) => ({ point, residual: fit.residuals[i] })),
  };
}

/** Cholesky factor of a positive semi-definite matrix, rows of the lower triangle. */
function lowerTriangle(matrix: Matrix): number[][] {
  const n = matrix.rows;
  const L = Array.from({ length: n }, () => new Array<number>(n).fill(0));
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = matrix.get(i, j);
      for (let k = 0; k < j; k++) sum -= L[i][k] * L[j][k];
      if (i === j) L[i][i] = Math.sqrt(Math.max(0, sum));
      else L[i][j] = L[j][j] > 0 ? sum / L[j][j] : 0;
    }
  }
  return L;
}

/** Efficiency on the curve at x, K·m²/W, and irradiance G, W/m². */
function curveEfficiency(curve: Pick<Curve, "eta0" | "a1" | "a2">, x: number, irradianceWm2: number): Uncertain {
  const bend = irradianceWm2 * x * x;
  const value = curve.eta0.value - curve.a1.value * x - (curve.a2?.value ?? 0) * bend;
  return combine(value, [[1, curve.eta0], [-x, curve.a1], ...(curve.a2 ? [[-bend, curve.a2] as const] : [])]);
}

/** Half-widths at 95 % at x: of the curve itself, and of a further point */
export function curveBands(
  curve: Curve,
  x: number,
  irradianceWm2: number,
): { efficiency: number; confidence: number; prediction: number } {
  const at = curveEfficiency(curve, x, irradianceWm2);
  const u = standardUncertainty(at);
  const k = coverageFactor(effectiveDof(at));
  return { efficiency: at.value, confidence: k * u, prediction: k * Math.hypot(u, curve.predictionSd) };
}

/** Where two curves cross (straight parts), K·m²/W, or null when they are parallel. */
export function crossingPoint(a: Curve, b: Curve): Uncertain | null {
  const slope = a.a1.value - b.a1.value;
  if (Math.abs(slope) < 1e-9) return null;
  const x = (a.eta0.value - b.eta0.value) / slope;
  return combine(x, [
    [1 / slope, a.eta0],
    [-1 / slope, b.eta0],
    [-x / slope, a.a1],
    [x / slope, b.a1],
  ]);
}
