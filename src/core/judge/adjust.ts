import tCdf from "@stdlib/stats-base-dists-t-cdf";

/** Chance of Student's t below −z. */
export const tailOf = (z: number, dof: number): number =>
  Number.isFinite(z) ? tCdf(-z, Number.isFinite(dof) ? dof : 1e9) : 0;

/** Two-sided p of "nothing" for a figure with a standard uncertainty; a figure without any is certain. */
export const tailsOf = (value: number, u: number, dof: number): number =>
  u > 0 ? 2 * tailOf(Math.abs(value) / u, dof) : 0;

/** Adjusts p values that are shown together (Holm 1979), in place. */
export function holm(entries: { p: number; pHolm: number }[]): void {
  const order = [...entries].sort((x, y) => x.p - y.p);
  let floor = 0;
  order.forEach((entry, i) => {
    floor = Math.max(floor, Math.min(1, (order.length - i) * entry.p));
    entry.pHolm = floor;
  });
}
