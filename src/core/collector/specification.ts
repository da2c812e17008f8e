import { CLEAR_GLASS, innerReflectance, transmittanceAbsorptance } from "../optics/covers";

export const ABSORBER_FORMS = ["flat", "corrugated", "fins", "mesh", "columns", "ductCoil", "hose", "tubeSheet", "perforated", "masonry"] as const;
export type AbsorberForm = (typeof ABSORBER_FORMS)[number];

export const AIR_PATHS = ["back", "front", "both", "through", "none"] as const;
export type AirPath = (typeof AIR_PATHS)[number];

/**
 * Largest efficiency the optics allow on an area, 0 to 1: the transmittance–absorptance product of the covers (DB 5.5.1) times
 * the share of the area that lets light in, at normal incidence. A collector cannot be better than that, whatever its absorber.
 */
export function opticalLimit(spec: { covers: number; coverTransmittance: number; absorptance: number; apertureAreaM2: number }, areaM2: number): number {
  const caught = innerReflectance(Array.from({ length: spec.covers }, () => CLEAR_GLASS));
  const product = transmittanceAbsorptance(spec.coverTransmittance ** spec.covers, spec.absorptance, caught);
  return Math.min(1, product) * Math.min(1, spec.apertureAreaM2 / areaM2);
}
