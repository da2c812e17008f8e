import type { FluidProperties } from "../fluids/fluid";
import { opening, type AbsorberLayer, type Design } from "./design";
import { formOf } from "./form/list";

/** Absorber to the fluid inside its pipes, W/(m²·K) of aperture; 0 for forms without pipes. */
export function insideCoefficient(
  design: Design,
  absorber: AbsorberLayer,
  massFlow: number,
  p: FluidProperties,
  transfer: number,
): number {
  const wall = { conductivity: design.materials[absorber.material].conductivity, thicknessM: absorber.thicknessM };
  const flow = { shape: absorber.shape, opening: opening(design), wall, massFlow, p };
  return formOf(absorber).insideTransfer?.(flow, transfer) ?? 0;
}
