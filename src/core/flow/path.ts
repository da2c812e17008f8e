import { frictionFactor } from "./friction";
import type { FluidProperties } from "../fluids/fluid";

/** Of small duct fans, and of circulating pumps: flow times pressure over electricity (typical value). */
const DRIVE_SHARE = 0.15;
/** Steel or plastic duct inside, m (typical value). */
const ROUGHNESS = 1e-4;
/** Velocity heads of elbows and ends, each way (typical value of two elbows). */
const ELBOWS = 2;

/**
 * Pressure loss of a round duct or pipe, Pa: friction (Darcy–Weisbach) and the heads of its elbows; none where there is no length.
 * @param massFlow kg/s
 * @param ways 1 where outside air goes in at the box, 2 there and back
 */
export function ductPressure(
  { lengthM, diameterM }: { lengthM: number; diameterM: number },
  massFlow: number,
  p: Pick<FluidProperties, "density" | "viscosity">,
  ways: 1 | 2 = 2,
): number {
  if (!(lengthM > 0) || !(massFlow > 0)) return 0;
  const speed = ductSpeed(diameterM, massFlow, p.density);
  const reynolds = (p.density * speed * diameterM) / p.viscosity;
  const head = (p.density * speed ** 2) / 2;
  const f = reynolds > 1 ? frictionFactor(reynolds, 64, ROUGHNESS / diameterM) : 0;
  return ways * ((f * lengthM) / diameterM + ELBOWS) * head;
}

/** Mean speed in a round duct, m/s. @param massFlow kg/s @param density kg/m³ */
export const ductSpeed = (diameterM: number, massFlow: number, density: number): number =>
  massFlow / density / ((Math.PI / 4) * diameterM ** 2);

/** Electricity of a fan or pump for a pressure at a flow, W. @param massFlow kg/s @param density kg/m³ */
export const driveWatts = (pressurePa: number, massFlow: number, density: number): number =>
  ((massFlow / density) * pressurePa) / DRIVE_SHARE;
