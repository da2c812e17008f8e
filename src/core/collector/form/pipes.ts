import type { FluidProperties } from "../../fluids/fluid";
import { frictionFactor } from "../../flow/friction";
import { finEfficiency, tubeNusselt } from "../convection";

const { max, PI } = Math;

/** Round tube, laminar: f·Re. */
const ROUND = 64;
/** Wall roughness, m: sheet metal and plastic pipe; of pulled-out flexible duct, a share of its width. Typical values. */
export const SHEET_ROUGHNESS = 1.5e-4;
export const PIPE_ROUGHNESS = 1e-5;
export const FLEXIBLE_ROUGHNESS = 0.05;
/** Entry and exit of a port, on its velocity head (sharp edges). */
export const PORT_LOSS = 1.5;
export const BEND_LOSS = 0.5;

/** Velocity head, Pa. */
export const head = (massFlow: number, sectionM2: number, density: number): number =>
  (massFlow / sectionM2) ** 2 / (2 * density);

/** Pressure loss of a round pipe, Pa. @param extra loss factors of bends and steps, on the velocity head */
export function pipeLoss(
  massFlow: number,
  diameterM: number,
  lengthM: number,
  roughness: number,
  p: FluidProperties,
  extra = 0,
): number {
  const section = (PI / 4) * diameterM ** 2;
  const reynolds = (4 * massFlow) / (PI * diameterM * p.viscosity);
  return (
    ((frictionFactor(reynolds, ROUND, roughness) * lengthM) / diameterM + extra) * head(massFlow, section, p.density)
  );
}

/** Film coefficient inside a round pipe, W/(m²·K). @param factor the model's own factor, times what roughness adds */
export function pipeFilm(massFlow: number, diameterM: number, lengthM: number, p: FluidProperties, factor: number) {
  const prandtl = (p.viscosity * p.specificHeat) / p.conductivity;
  const reynolds = (4 * massFlow) / (PI * diameterM * p.viscosity);
  const nusselt = tubeNusselt(reynolds, (reynolds * prandtl * diameterM) / lengthM, prandtl);
  return (factor * nusselt * p.conductivity) / diameterM;
}

/** What the gaps between fins or tubes cost: mean over base temperature of a strip heated all over, as a resistance, m²·K/W (from DB 6.5.18 at a loss of 5 W/(m²·K), on which it hardly depends). */
export function stripResistance(spacingM: number, widthM: number, conductivityThickness: number): number {
  const loss = 5;
  const bare = max(0, spacingM - widthM);
  const F = finEfficiency(Math.sqrt(loss / conductivityThickness), bare / 2);
  return (spacingM / (widthM + bare * F) - 1) / loss;
}
