import { LuDecomposition, Matrix } from "ml-matrix";
import { autocorrelatedMean } from "../uncertainty/typeA";

export interface LineFit {
  /** By column. */
  beta: number[];
  covariance: number[][];
  residuals: Float64Array;
  sd: number;
}

/**
 * Least squares with its covariance widened for residuals that resemble their neighbours (as in autocorrelatedMean).
 * @param columns one array as long as `y` each; rows with a NaN are left out
 * @returns null when fewer than four rows are left beyond the columns, or the columns cannot be told apart
 */
export function leastSquares(y: Float64Array, columns: readonly Float64Array[]): LineFit | null {
  const k = columns.length;
  const rows = knownRows(y, columns);
  if (rows.length < k + 4) return null;
  const sum = (a: Float64Array, b: Float64Array) => {
    let total = 0;
    for (let i = 0; i < rows.length; i++) total += a[rows[i]] * b[rows[i]];
    return total;
  };
  const inverse = inverted(columns.map((a) => columns.map((b) => sum(a, b))));
  if (!inverse) return null;
  const right = columns.map((a) => sum(a, y));
  const beta = inverse.map((r) => r.reduce((s, v, j) => s + v * right[j], 0));
  const residuals = new Float64Array(y.length);
  for (let t = 0; t < y.length; t++) {
    let fitted = 0;
    for (let j = 0; j < k; j++) fitted += beta[j] * columns[j][t];
    residuals[t] = y[t] - fitted;
  }
  const own = autocorrelatedMean(residuals);
  const wider = own.count / own.effectiveSize;
  const variance = ((own.sd ** 2 * (own.count - 1)) / Math.max(1, own.count - k)) * wider;
  return { beta, covariance: inverse.map((r) => r.map((v) => v * variance)), residuals, sd: own.sd };
}

function knownRows(y: Float64Array, columns: readonly Float64Array[]): Uint32Array {
  const rows = new Uint32Array(y.length);
  let n = 0;
  for (let t = 0; t < y.length; t++) {
    let known = !Number.isNaN(y[t]);
    for (let j = 0; known && j < columns.length; j++) known = !Number.isNaN(columns[j][t]);
    if (known) rows[n++] = t;
  }
  return rows.subarray(0, n);
}

/** A scaled matrix with a pivot below this is as good as singular. */
const LEAST_PIVOT = 0.02;

/** The inverse of a symmetric matrix, scaled to a diagonal of one before it is solved; null when nearly singular. */
function inverted(m: readonly (readonly number[])[]): number[][] | null {
  const scale = m.map((r, i) => Math.sqrt(r[i]));
  if (scale.some((s) => !(s > 0))) return null;
  const lu = new LuDecomposition(new Matrix(m.map((r, i) => r.map((v, j) => v / (scale[i] * scale[j])))));
  const pivots = lu.upperTriangularMatrix.diagonal();
  if (pivots.some((p) => !(Math.abs(p) >= LEAST_PIVOT))) return null;
  const inverse = lu.solve(Matrix.eye(m.length, m.length)).to2DArray();
  return inverse.map((r, i) => r.map((v, j) => v / (scale[i] * scale[j])));
}
