import type { OperatingPoint } from "../analysis/setup";

/** A curve by some of its points, ascending in x. */
export type CurvePoints = readonly { x: number; efficiency: number }[];

/** Efficiency between the points of a curve; at its ends the end's. */
export function efficiencyAt(curve: CurvePoints, x: number): number {
  const after = curve.findIndex((p) => p.x >= x);
  if (after <= 0) return curve[after === 0 ? 0 : curve.length - 1].efficiency;
  const [a, b] = [curve[after - 1], curve[after]];
  return a.efficiency + ((b.efficiency - a.efficiency) * (x - a.x)) / (b.x - a.x);
}

/**
 * Inlet that puts a curve's operating point at another reduced temperature difference; sun, outside and flow stay. On the mean fluid
 * temperature x = (Tin − Ta)/G + η(x)/(2·ṁ″·cp), so that the inlet moves by G·[Δx − Δ(η/(2·ṁ″·cp))].
 *
 * @param from where it is, K·m²/W @param to where it shall be
 * @param flow kg/(s·m²) of the area the curve is for, and its fluid's specific heat at an inlet, J/(kg·K)
 * @returns °C
 */
export function inletFor(
  point: OperatingPoint,
  { from, to }: { from: number; to: number },
  basis: "mean" | "inlet",
  curve: CurvePoints,
  flow: { perArea: number; specificHeat(inletC: number): number },
): number {
  // Where a box gives no heat its stream stays at the inlet.
  const half = (x: number, inletC: number) =>
    basis === "mean" ? Math.max(0, efficiencyAt(curve, x)) / (2 * flow.perArea * flow.specificHeat(inletC)) : 0;
  const before = half(from, point.inletC);
  let inletC = point.inletC;
  // Moist air's specific heat follows the inlet: a few substitutions settle it.
  for (let i = 0; i < 6; i++) inletC = point.inletC + point.irradianceWm2 * (to - from - half(to, inletC) + before);
  return inletC;
}
