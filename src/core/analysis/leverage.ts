/** Twice the mean leverage: a point beyond it pulls the curve to itself (Hoaglin & Welsch 1978). */
export const highLeverage = (points: readonly { leverage: number }[]): number =>
  (2 * points.reduce((s, p) => s + p.leverage, 0)) / Math.max(1, points.length);
