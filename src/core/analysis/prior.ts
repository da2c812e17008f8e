import { LuDecomposition, Matrix } from "ml-matrix";
import type { EfficiencyPoint } from "./points";

/** What is known of one coefficient beforehand. */
export interface Before {
  column: number;
  value: number;
  standard: number;
}

/** Doubt of the heat a box holds as its time constant says it, share. */
const HELD_DOUBT = 0.4;

/** What a box holds, as its time constant says. @param column of its coefficient */
export function heldBefore(points: readonly EfficiencyPoint[], column: number): Before {
  const value = points.reduce((s, p) => s + p.heldGuess, 0) / points.length;
  return { column, value, standard: HELD_DOUBT * value };
}

/**
 * Least squares with one coefficient known beforehand (Bayes with a normal prior; Rao 1973, 4a.7). @param scale variance of the points
 * over what their weights claim @returns coefficients; the matrix that makes them of the points; what one standard uncertainty of the
 * prior does to them; how many coefficients the points themselves determine. null when they cannot be told apart
 */
function solveWith(
  X: Matrix,
  XtW: Matrix,
  y: readonly number[],
  before: Before | null,
  scale: number,
): { full: number[]; hat: Matrix; pull: number[] | null; fitted: number } | null {
  const normal = XtW.mmul(X);
  const p = normal.rows;
  const strength = before ? scale / before.standard ** 2 : 0;
  if (before) normal.set(before.column, before.column, normal.get(before.column, before.column) + strength);
  const lu = new LuDecomposition(normal);
  if (lu.isSingular()) return null;
  const hat = lu.solve(XtW);
  const full = hat.mmul(Matrix.columnVector([...y])).to1DArray();
  if (!before) return { full, hat, pull: null, fitted: p };
  const unit = Matrix.zeros(p, 1);
  unit.set(before.column, 0, strength);
  const toward = lu.solve(unit).to1DArray();
  return {
    full: full.map((b, k) => b + toward[k] * before.value),
    hat,
    pull: toward.map((t) => t * before.standard),
    fitted: hat.mmul(X).trace(),
  };
}

export interface WeightedFit {
  full: number[];
  /** p × n */
  hat: Matrix;
  pull: number[] | null;
  /** Coefficients that the points themselves determine; not whole where one was known beforehand. */
  fitted: number;
  residuals: number[];
  dof: number;
  reducedChiSquare: number;
}

/**
 * Weighted least squares with perhaps one coefficient known beforehand, which weighs against points as they scatter, not as they claim to.
 * @param weight 1/variance as claimed @returns null when the coefficients cannot be told apart
 */
export function weightedFit(
  rows: readonly number[][],
  y: readonly number[],
  weight: readonly number[],
  before: Before | null,
): WeightedFit | null {
  const X = new Matrix(rows as number[][]);
  const XtW = X.transpose();
  for (let j = 0; j < X.rows; j++) for (let i = 0; i < X.columns; i++) XtW.set(i, j, XtW.get(i, j) * weight[j]);
  const checked = (solved: Omit<WeightedFit, "residuals" | "dof" | "reducedChiSquare"> | null): WeightedFit | null => {
    if (!solved) return null;
    const residuals = y.map((v, i) => v - rows[i].reduce((sum, d, k) => sum + d * solved.full[k], 0));
    const dof = Math.max(1, X.rows - solved.fitted);
    return {
      ...solved,
      residuals,
      dof,
      reducedChiSquare: residuals.reduce((s, r, i) => s + weight[i] * r * r, 0) / dof,
    };
  };
  const first = checked(solveWith(X, XtW, y, before, 1));
  if (!first || !before || first.reducedChiSquare <= 1) return first;
  return checked(solveWith(X, XtW, y, before, first.reducedChiSquare));
}
