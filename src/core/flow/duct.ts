import { airDensity, type AirState } from "../fluids/moistAir";

export type DuctShape = { kind: "round"; diameterM: number } | { kind: "rectangular"; widthM: number; heightM: number };

/** Cross-section of a duct, m². Throws RangeError for a size that is not positive. */
export function ductArea(shape: DuctShape): number {
  const sides = shape.kind === "round" ? [shape.diameterM] : [shape.widthM, shape.heightM];
  if (!sides.every((s) => s > 0 && Number.isFinite(s))) throw new RangeError("a duct's size is positive");
  return shape.kind === "round" ? (Math.PI / 4) * shape.diameterM ** 2 : shape.widthM * shape.heightM;
}

/**
 * Mass flow of air in a duct, kg/s: ṁ = ρ(at the meter)·A·k·v.
 * The density is that of the stream where the meter stands, at its temperature, the local
 * pressure and humidity; using the room's or sea level's is the commonest mistake of the trade.
 *
 * @param speedMs indicated speed at the meter's point, m/s (sign kept: reversed flow is negative)
 * @param profileFactor mean speed over the section ÷ indicated speed; 0.82 on the axis of
 *   developed turbulent pipe flow, 1 for a traverse
 */
export function ductMassFlow(speedMs: number, areaM2: number, profileFactor: number, atMeter: AirState): number {
  return airDensity(atMeter) * areaM2 * profileFactor * speedMs;
}
