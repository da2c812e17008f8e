import type { AreaBasis } from "@/core/collector/prediction";
import type { TemperatureBasis } from "@/core/analysis/heat";

/** By which area heat is divided, as a choice and as a measure. */
export const AREA_WORDS: Record<AreaBasis, string> = { gross: "gross", aperture: "aperture", absorber: "covered" };
export const PER_AREA_WORDS: Record<AreaBasis, string> = {
  gross: "per gross area",
  aperture: "per aperture",
  absorber: "per covered area",
};

/** By which temperature a curve is drawn. */
export const BASIS_WORDS: Record<TemperatureBasis, string> = { mean: "mean fluid", inlet: "inlet" };
