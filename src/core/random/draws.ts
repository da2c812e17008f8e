import { EigenvalueDecomposition, Matrix } from "ml-matrix";
import type { Random } from "./seededRandom";

/**
 * Draws of sums of independent standard normals, one sum a row of coefficients: normal with the rows' covariance R·Rᵀ, of which a root
 * is drawn from however long the rows are. @returns what gives the next draw, one number a row, in one array used again
 */
export function normalDraws(rows: readonly Float64Array[], random: Random): () => Float64Array {
  const n = rows.length;
  const covariance = rows.map((a) => rows.map((b) => a.reduce((s, v, i) => s + v * b[i], 0)));
  const out = new Float64Array(n);
  if (covariance.every((row, i) => row[i] === 0)) return () => out;
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(new Matrix(covariance), {
    assumeSymmetric: true,
  });
  // Rounding makes nothing of rank a little less than nothing.
  const lengths = realEigenvalues.map((v) => Math.sqrt(Math.max(0, v)));
  const axes = lengths.flatMap((length, k) => (length > 0 ? [axisOf(eigenvectorMatrix.getColumn(k), length)] : []));
  return () => {
    out.fill(0);
    for (const axis of axes) {
      const z = random.normal();
      for (let i = 0; i < n; i++) out[i] += z * axis[i];
    }
    return out;
  };
}

/** An axis points to where its longest part is: which of two ways it comes out is rounding, and would change what is drawn. */
function axisOf(direction: readonly number[], length: number): Float64Array {
  const longest = direction.reduce((m, v) => (Math.abs(v) > Math.abs(m) * (1 + 1e-9) ? v : m), 0);
  return Float64Array.from(direction, (v) => length * Math.sign(longest) * v);
}

/**
 * χ² draw of any degrees of freedom above 0, as twice a gamma draw (Marsaglia & Tsang 2000: a transformed normal, refused now and then).
 */
export function chiSquare(dof: number, random: Random): number {
  const shape = dof / 2;
  if (shape < 1) return 2 * gamma(shape + 1, random) * random.uniform() ** (1 / shape);
  return 2 * gamma(shape, random);
}

/** @param shape at least 1 */
function gamma(shape: number, random: Random): number {
  const d = shape - 1 / 3;
  const c = 1 / Math.sqrt(9 * d);
  for (;;) {
    const x = random.normal();
    const v = (1 + c * x) ** 3;
    if (v > 0 && Math.log(random.uniform()) < 0.5 * x * x + d - d * v + d * Math.log(v)) return d * v;
  }
}
