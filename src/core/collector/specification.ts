export const ABSORBER_FORMS = ["flat", "corrugated", "fins", "mesh", "columns", "ductCoil", "hose", "tubeSheet", "perforated", "masonry"] as const;
export type AbsorberForm = (typeof ABSORBER_FORMS)[number];

export const AIR_PATHS = ["back", "front", "both", "through", "none"] as const;
export type AirPath = (typeof AIR_PATHS)[number];

/**
 * Largest efficiency the optics allow on the gross area, 0 to 1: τ^covers · α · aperture/gross at normal incidence.
 * Light caught again between absorber and cover adds at most a few per cent; 3 % of room is left for it (DB 5.5 gives (τα) ≈ 1.01 τ·α).
 */
export function opticalLimit(spec: { covers: number; coverTransmittance: number; absorptance: number; apertureAreaM2: number }, areaM2: number): number {
  return Math.min(1, 1.03 * spec.coverTransmittance ** spec.covers * spec.absorptance) * Math.min(1, spec.apertureAreaM2 / areaM2);
}
