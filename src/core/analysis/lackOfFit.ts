import fCdf from "@stdlib/stats-base-dists-f-cdf";

export interface FittedPoint {
  x: number;
  residual: number;
  /** Share of the point's own value in the curve there, 0 to 1. */
  leverage: number;
}

export interface LackOfFit {
  /** Chance that a curve of the right shape would miss its points so, 0 to 1. */
  p: number;
  /** Groups of points at nearly one reduced temperature. */
  groups: number;
}

/** Points nearer than this share of the range belong together. */
const TOGETHER = 0.06;
const LEAST_REPEATS = 4;

/**
 * Does the curve's shape hold? Points at nearly one place tell the scatter whatever the shape is; how far the groups' means miss the curve is held
 * against it (Draper & Smith 1998, 2.1). null where too few points lie together, or too few groups are left to miss it.
 *
 * @param fitted coefficients of the curve
 */
export function lackOfFit(points: readonly FittedPoint[], fitted: number): LackOfFit | null {
  const sorted = [...points].sort((a, b) => a.x - b.x);
  if (sorted.length === 0) return null;
  const width = TOGETHER * (sorted[sorted.length - 1].x - sorted[0].x);
  const groups: FittedPoint[][] = [];
  for (const point of sorted) {
    const last = groups.at(-1);
    if (last && point.x - last[0].x <= width) last.push(point);
    else groups.push([point]);
  }
  const free = groups.length - fitted;
  const repeats = points.length - groups.length;
  if (free < 1 || repeats < LEAST_REPEATS) return null;
  let [pure, missed] = [0, 0];
  for (const group of groups) {
    const mean = group.reduce((s, g) => s + g.residual, 0) / group.length;
    missed += group.length * mean * mean;
    pure += group.reduce((s, g) => s + (g.residual - mean) ** 2, 0);
  }
  // A perfect fit leaves rounding errors, and they have no shape.
  if (pure < 1e-20) return null;
  return { p: 1 - fCdf(missed / free / (pure / repeats), free, repeats), groups: groups.length };
}
