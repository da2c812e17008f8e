import type { FluidProperties } from "../fluids/fluid";
import { finEfficiency, tubeNusselt } from "./convection";
import { opening, type AbsorberLayer, type Design } from "./design";

const { log, max, PI } = Math;

/** What the gaps between fins or tubes cost: mean over base temperature of a strip heated all over, as a resistance, m²·K/W (from DB 6.5.18 at a loss of 5 W/(m²·K), on which it hardly depends). */
export function stripResistance(spacingM: number, widthM: number, conductivityThickness: number): number {
  const loss = 5;
  const bare = max(0, spacingM - widthM);
  const F = finEfficiency(Math.sqrt(loss / conductivityThickness), bare / 2);
  return (spacingM / (widthM + bare * F) - 1) / loss;
}

/** Absorber to the fluid inside its pipes, W/(m²·K) of aperture. */
export function insideCoefficient(
  design: Design,
  absorber: AbsorberLayer,
  massFlow: number,
  p: FluidProperties,
  transfer: number,
): number {
  const { widthM, lengthM } = opening(design);
  const s = absorber.shape;
  const k = design.materials[absorber.material].conductivity;
  const prandtl = (p.viscosity * p.specificHeat) / p.conductivity;
  const film = (flow: number, d: number, length: number, rough: number) => {
    const reynolds = (4 * flow) / (PI * d * p.viscosity);
    return (transfer * rough * tubeNusselt(reynolds, (reynolds * prandtl * d) / length, prandtl) * p.conductivity) / d;
  };
  switch (absorber.form) {
    // Each can's neck breaks the stream up anew, so the entry length is one can.
    case "columns":
      return (film(massFlow / s.count, s.diameterM, s.cellM, 1.2) * PI * s.diameterM * s.count) / widthM;
    case "ductCoil":
      return (film(massFlow, s.diameterM, s.lengthM, 1.5) * PI * s.diameterM * s.lengthM) / (widthM * lengthM);
    case "hose": {
      const perMetre = 1 / s.pitchM;
      const h = film(massFlow / s.circuits, s.innerM, (widthM * lengthM) / s.pitchM / s.circuits, 1);
      return perMetre / (1 / (h * PI * s.innerM) + log(s.outerM / s.innerM) / (2 * PI * k));
    }
    case "tubeSheet": {
      const tubes = max(1, Math.round(widthM / s.spacingM));
      const h = film(massFlow / tubes, s.innerM, lengthM, 1);
      const perMetre = tubes / widthM;
      return (
        1 /
        (stripResistance(1 / perMetre, s.outerM, k * absorber.thicknessM) +
          1 / (perMetre * s.bondWmK) +
          1 / (perMetre * h * PI * s.innerM))
      );
    }
    default:
      return 0;
  }
}
