import { Matrix, CholeskyDecomposition } from "ml-matrix";

/** One observation after another; a new `block` (a day, another run) has no memory of the one before. */
export interface Rows {
  x: number[][];
  y: number[];
  block: number[];
}

export interface RobustFit {
  beta: number[];
  /** H: β = H·y, one row a coefficient. */
  hat: Float64Array[];
  residuals: Float64Array;
  /** Standard errors of the coefficients. */
  standard: number[];
  /** Observations that count as independent, less the coefficients. */
  dof: number;
  residualSd: number;
}

/** Ordinary least squares with errors that hold under autocorrelation. null where the columns do not tell apart. */
export function robustFit({ x, y, block }: Rows, lags: number): RobustFit | null {
  const n = y.length;
  const p = x[0]?.length ?? 0;
  if (n <= p + 2) return null;
  // Columns of one size, so that a nearly singular matrix shows as such.
  const size = Array.from({ length: p }, (_, j) => Math.sqrt(x.reduce((s, r) => s + r[j] ** 2, 0)) || 1);
  const M = Matrix.zeros(p, p);
  for (const row of x)
    for (let a = 0; a < p; a++)
      for (let b = a; b < p; b++) M.set(a, b, M.get(a, b) + (row[a] * row[b]) / (size[a] * size[b]));
  for (let a = 0; a < p; a++) for (let b = 0; b < a; b++) M.set(a, b, M.get(b, a));
  const cholesky = new CholeskyDecomposition(M);
  if (!cholesky.isPositiveDefinite()) return null;
  const inverse = cholesky.solve(Matrix.eye(p));
  for (let a = 0; a < p; a++) if (!(inverse.get(a, a) < 1e8)) return null;
  const hat = Array.from({ length: p }, (_, a) =>
    Float64Array.from(x, (row) => row.reduce((s, v, b) => s + (inverse.get(a, b) * v) / (size[a] * size[b]), 0)),
  );
  const missed = (by: readonly number[]) =>
    Float64Array.from(y, (v, k) => v - x[k].reduce((s, c, j) => s + c * by[j], 0));
  const made = (of: ArrayLike<number>) => hat.map((h) => h.reduce((s, w, k) => s + w * of[k], 0));
  const first = made(y);
  // What rounding left of nearly alike columns is fitted once more (iterative refinement; Björck 1996, 2.9).
  const left = made(missed(first));
  const beta = first.map((b, j) => b + left[j]);
  const residuals = missed(beta);
  const rho = lagOne(residuals, block);
  const independent = Math.max(p + 1, (n * (1 - rho)) / (1 + rho));
  return {
    beta,
    hat,
    residuals,
    standard: standardsOf(hat, residuals, { block, lags, fitted: p }),
    dof: Math.max(1, independent - p),
    residualSd: Math.sqrt(residuals.reduce((s, e) => s + e * e, 0) / (n - p)),
  };
}

/** Standard errors of figures that are so many sums over the observations. @param fitted coefficients taken from them */
export const standardsOf = (
  hat: readonly Float64Array[],
  residuals: Float64Array,
  { block, lags, fitted }: { block: readonly number[]; lags: number; fitted: number },
): number[] =>
  hat.map((h) =>
    Math.sqrt(
      longRun(
        h.map((w, k) => w * residuals[k]),
        block,
        lags,
      ) *
        (residuals.length / (residuals.length - fitted)),
    ),
  );

/**
 * Variance of a sum of terms that remember their neighbours: what they remember of the last is taken out first, the rest summed with Bartlett
 * weights over so many lags, and put back (Newey & West 1987, prewhitened as Andrews & Monahan 1992; without that few days claim a fifth too
 * little). Blocks do not remember each other. Never below that of terms without memory.
 */
export function longRun(terms: Float64Array, block: readonly number[], lags: number): number {
  let alone = 0;
  for (const t of terms) alone += t * t;
  const rho = Math.min(MOST_MEMORY, lagOne(terms, block));
  const fresh = terms.map((t, k) =>
    k && block[k] === block[k - 1] ? t - rho * terms[k - 1] : t * Math.sqrt(1 - rho * rho),
  );
  return Math.max(alone, bartlett(terms, block, lags), bartlett(fresh, block, lags) / (1 - rho) ** 2);
}

function bartlett(terms: Float64Array, block: readonly number[], lags: number): number {
  let sum = 0;
  for (const t of terms) sum += t * t;
  for (let lag = 1; lag <= lags; lag++) {
    let product = 0;
    for (let k = lag; k < terms.length; k++) if (block[k] === block[k - lag]) product += terms[k] * terms[k - lag];
    sum += 2 * (1 - lag / (lags + 1)) * product;
  }
  return sum;
}

/** A memory beyond this cannot be told from a drift within a day. */
const MOST_MEMORY = 0.95;

function lagOne(residuals: Float64Array, block: readonly number[]): number {
  let [square, product] = [0, 0];
  for (let k = 0; k < residuals.length; k++) {
    square += residuals[k] ** 2;
    if (k && block[k] === block[k - 1]) product += residuals[k] * residuals[k - 1];
  }
  return square > 0 ? Math.min(0.98, Math.max(0, product / square)) : 0;
}
