import type { Matrix } from "ml-matrix";
import { combine, withSource, type Uncertain } from "../uncertainty/uncertain";
import { coverageFactor } from "../uncertainty/coverage";
import { Ledger, Sums, type Entry } from "../uncertainty/ledger";
import { RANDOM_KINDS, type EfficiencyPoint } from "./points";
import { lackOfFit, type LackOfFit } from "./lackOfFit";
import {
  estimate,
  fittedLane,
  meanWind,
  type Estimate,
  type FittedLane,
  type ScatterFrom,
  type SharedScatter,
  type Term,
} from "./estimate";

/** η = η0·K − a1·x − a2·G·x² − a5·(dTout/dt)/G (the steady-state terms of ISO 9806:2017 with the storage term of its quasi-dynamic method), with coefficients that remember their sources. */
export interface Curve {
  lane: string;
  eta0: Uncertain;
  a1: Uncertain;
  /** null where the data do not ask for curvature. */
  a2: Uncertain | null;
  /** Effective heat capacity, J/(m²·K); null where drift within the windows does not show. */
  a5: Uncertain | null;
  /** Wind on a bare absorber, about the mean wind `windMs` of its windows: on the light's part, 1 per m/s, and on the loss, W/(m²·K) per m/s (ISO 9806:2017, unglazed). */
  windLight?: Uncertain | null;
  windLoss?: Uncertain | null;
  windMs?: number;
  points: number;
  days: number;
  /** Range of x the points cover, K·m²/W. */
  xRange: [number, number];
  /** Mean irradiance of the points, W/m². */
  irradiance: number;
  /** Scatter of points about the curve, standard deviation, 1 (efficiency). */
  residualSd: number;
  /** What its size rests on: the points' own scatter, that and what their readings claim, or the scatter of all lanes of the bench. */
  scatterFrom: ScatterFrom;
  /** Standard uncertainty of a future window's scatter, as residualSd with the day-to-day part. */
  predictionSd: number;
  /** Reduced χ² against the points' own random uncertainty: well above 1 means something unmodelled (wind, dust, drift). */
  reducedChiSquare: number;
  dof: number;
  /** The days differ by more than windows within a day do (p < 0.25). */
  daysDiffer: boolean;
  /** Leverage: share of a point's own value in the curve there, 0 to 1. */
  residuals: { point: EfficiencyPoint; residual: number; leverage: number }[];
  /** Does its shape hold? null where its points cannot tell. */
  lackOfFit: LackOfFit | null;
}

export type FitFailure =
  | { kind: "tooFewPoints"; lane: string; points: number; needed: number }
  /** x hardly varies, so slope and intercept cannot be told apart. */
  | { kind: "narrowRange"; lane: string; xRange: [number, number] }
  /** Efficiency does not fall as the box gets warmer: no box is so, and a slope held at nothing would look certain. */
  | { kind: "noLoss"; lane: string };

export interface FitOptions {
  /** "auto" asks the points; "always" keeps the bend whatever its significance, as another lane of the comparison needs it. */
  curvature: "auto" | "never" | "always";
  shared?: SharedScatter;
}

export type CurveFit = { ok: true; curve: Curve } | { ok: false; failure: FitFailure };

/** A fit whose coefficients do not know their sources yet: what the lanes of a bench are held against each other by. */
export interface DraftCurve extends Pick<Curve, "scatterFrom" | "residualSd" | "dof" | "daysDiffer"> {
  points: readonly EfficiencyPoint[];
  residuals: readonly number[];
  bent: boolean;
  /** With every coefficient's sources. */
  curve(): Curve;
}

export type DraftFit = { ok: true; draft: DraftCurve } | { ok: false; failure: FitFailure };

const NEEDED = 4;
/** Below this spread of x the slope rests on the scatter alone, K·m²/W (2 K at 800 W/m²). */
const NARROW = 0.0025;

/**
 * Weighted least squares of efficiency on K, x and G·x²: η = η0·K − a1·x − a2·G·x². The incidence modifier K belongs to the light
 * alone; losses know nothing of it.
 *
 * Weights come from each point's random uncertainty. The scatter about the curve replaces what the readings claim only as far as its
 * few degrees of freedom allow: where an F test finds it no larger, both are one estimate (same level of test). If days differ among themselves more than windows
 * within them (one-way analysis of variance of the residuals, pooled when p ≥ 0.25 as Bozivich, Bancroft &
 * Hartley 1956 advise), the coefficients' covariance treats windows of one day as correlated (Moulton 1986)
 * and the degrees of freedom are those of the days. Systematic contributions are carried through the estimator itself, which is
 * linear in the points: a sun sensor 2 % high lowers η0 of every lane alike, and the parts say so.
 * Even steady windows drift a little, and a warming box keeps heat back: the storage term a5 takes that out, as the
 * quasi-dynamic method does, here by the outlet's drift, which the absorber follows better than the stream's mean. Leaving it out
 * biases a1, because warm inlets tend to come late in the day (measured on the rig: −0.5 W/(m²·K)); so does a5 from the windows alone,
 * as noise in their drift draws it toward nothing. What the box holds is therefore told the fit beforehand from its time constant,
 * with 40 % of doubt, and the windows correct it. a2 and a5 are kept ≥ 0: one that would be negative is left out and the rest fitted again; without a loss a1 there is no curve.
 *
 * @testing
 */
export function fitCurve(points: readonly EfficiencyPoint[], options: FitOptions = { curvature: "auto" }): CurveFit {
  const fit = draftCurve(points, options);
  return fit.ok ? { ok: true, curve: fit.draft.curve() } : fit;
}

/** As `fitCurve`, whose coefficients are followed to their sources when they are asked for. */
export const draftCurve = (points: readonly EfficiencyPoint[], options: FitOptions): DraftFit =>
  curveDrafter(points)(options);

/** Drafts of a lane's curve by several options: what the points alone say is worked out once. */
export function curveDrafter(points: readonly EfficiencyPoint[]): (options: FitOptions) => DraftFit {
  let lane: FittedLane | null = null;
  return (options) => draftOf(points, () => (lane ??= fittedLane(points)), options);
}

function draftOf(points: readonly EfficiencyPoint[], laneOf: () => FittedLane, options: FitOptions): DraftFit {
  const lane = points[0]?.lane ?? "";
  if (points.length < NEEDED)
    return { ok: false, failure: { kind: "tooFewPoints", lane, points: points.length, needed: NEEDED } };
  const x = points.map((p) => p.reducedTemperature.value);
  const xRange: [number, number] = [Math.min(...x), Math.max(...x)];
  if (xRange[1] - xRange[0] < NARROW) return { ok: false, failure: { kind: "narrowRange", lane, xRange } };
  const of = laneOf();
  let best = estimate(of, ["eta0", "a1"], options.shared);
  if (!best) return { ok: false, failure: { kind: "narrowRange", lane, xRange } };
  if (best.beta[1] < 0) return { ok: false, failure: { kind: "noLoss", lane } };
  const wanted: Term[] = [
    ...(points.some((p) => p.drift !== 0 && p.heldGuess > 0) ? ["a5" as const] : []),
    ...(options.curvature !== "never" && canBend(points) ? ["a2" as const] : []),
    ...(windTells(points) ? ["windLoss" as const, "windLight" as const] : []),
  ];
  for (const term of wanted) {
    const more: Estimate | null = estimate(of, [...best.terms, term], options.shared);
    if (!more) continue;
    const last = more.beta.length - 1;
    const se = Math.sqrt(more.scatter.reduce((sum, part) => sum + part.covariance.get(last, last), 0));
    const free = term === "a5" || (term === "a2" && options.curvature !== "auto");
    const least = free ? 0 : coverageFactor(more.dof) * se;
    if (more.beta[1] >= 0 && more.beta[last] > least) best = more;
  }
  const fitted = best;
  return {
    ok: true,
    draft: {
      points,
      residuals: fitted.residuals,
      scatterFrom: fitted.scatterFrom,
      residualSd: fitted.residualSd,
      dof: fitted.dof,
      daysDiffer: fitted.daysDiffer,
      bent: fitted.terms.includes("a2"),
      curve: () => toCurve(points, fitted, xRange),
    },
  };
}

/** Enough points over enough of x for a bend to be told from scatter. */
const canBend = (points: readonly EfficiencyPoint[]): boolean => {
  const x = points.map((p) => p.reducedTemperature.value);
  return points.length >= 8 && Math.max(...x) - Math.min(...x) > 0.02;
};

/** Bare absorbers under a wind that was logged and changed. */
const windTells = (points: readonly EfficiencyPoint[]): boolean => {
  const winds = points.map((p) => p.wind);
  return points.length >= 8 && points.every((p) => p.bare && Number.isFinite(p.wind)) && spreadOf(winds) > 0.5;
};
const spreadOf = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);
/** What each point's systematic errors do to its distance from the curve, over the sources of a ledger. */
function displacements(
  points: readonly EfficiencyPoint[],
  { eta0, slope, bend }: { eta0: number; slope: number; bend: number },
  ledger: Ledger,
): Entry[] {
  const sums = new Sums();
  const systematic = (coefficient: number, { ids, standards }: Entry): void => {
    for (let i = 0; i < ids.length; i++)
      if (ledger.natures[ids[i]] === SYSTEMATIC) sums.add(ids[i], coefficient * standards[i]);
  };
  return points.map((pt) => {
    sums.clear();
    systematic(1, ledger.entry(pt.efficiency));
    sums.addEntry(-eta0, ledger.entry(pt.modifier));
    const bow = slope + 2 * bend * pt.irradiance.value * pt.reducedTemperature.value;
    if (bow !== 0) systematic(bow, ledger.entry(pt.reducedTemperature));
    return { value: 0, ids: Int32Array.from(sums.ids), standards: Float64Array.from(sums.ids, sums.of) };
  });
}

const [SYSTEMATIC, RANDOM] = [0, 1];

function toCurve(points: readonly EfficiencyPoint[], fit: Estimate, xRange: [number, number]): Curve {
  const lane = points[0].lane;
  const valueOf = (term: Term) => fit.beta[fit.terms.indexOf(term)] ?? 0;
  const slope = valueOf("a1");
  const bend = valueOf("a2");
  const ledger = new Ledger((kind) => (RANDOM_KINDS.has(kind) ? RANDOM : SYSTEMATIC));
  const displacement = displacements(points, { eta0: valueOf("eta0"), slope, bend }, ledger);
  const factors = fit.scatter.map((part) => ({ ...part, rows: lowerTriangle(part.covariance) }));
  const coefficient = (term: Term): Uncertain | null => {
    const k = fit.terms.indexOf(term);
    if (k < 0) return null;
    const sums = new Sums();
    displacement.forEach((d, j) => {
      const moved = fit.hat.get(k, j);
      if (moved !== 0) sums.addEntry(moved, d);
    });
    const systematic = ledger.figure(fit.beta[k], sums);
    const scatter = factors.flatMap(({ label, dof, rows }) =>
      rows[k].map((standard, m) => {
        const source = withSource(0, Math.abs(standard), {
          kind: "curveFit",
          lane,
          scatter: label,
          row: m,
          owner: lane,
          dof,
          estimate: label === "window" && fit.scatterFrom === "lanes" ? "lanes" : `${lane}/${label}`,
        });
        return [Math.sign(standard), source] as const;
      }),
    );
    return combine(fit.beta[k], [[1, systematic], ...scatter]);
  };
  return {
    lane,
    eta0: coefficient("eta0")!,
    a1: coefficient("a1")!,
    a2: coefficient("a2"),
    a5: coefficient("a5"),
    windLoss: coefficient("windLoss"),
    windLight: coefficient("windLight"),
    windMs: meanWind(points),
    points: points.length,
    days: fit.days,
    xRange,
    irradiance: points.reduce((s, pt) => s + pt.irradiance.value, 0) / points.length,
    residualSd: fit.residualSd,
    scatterFrom: fit.scatterFrom,
    predictionSd: Math.hypot(fit.residualSd, fit.daySd),
    reducedChiSquare: fit.reducedChiSquare,
    dof: fit.dof,
    daysDiffer: fit.daysDiffer,
    residuals: points.map((point, i) => ({ point, residual: fit.residuals[i], leverage: fit.leverages[i] })),
    lackOfFit: lackOfFit(
      points.map((p, i) => ({
        x: p.reducedTemperature.value,
        residual: fit.residuals[i],
        leverage: fit.leverages[i],
      })),
      fit.terms.length,
    ),
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
