import type { SteadyRules } from "@/core/log/windows";
import type { QuantityId } from "@/core/quantity/quantities";

/** Limits of steadiness as they are named and typed. */
export const LIMITS: {
  key: Exclude<keyof SteadyRules, "name">;
  label: string;
  quantity: QuantityId;
  min: number;
  max: number;
}[] = [
  { key: "minIrradiance", label: "Sun at least", quantity: "irradiance", min: 50, max: 1500 },
  { key: "irradianceBand", label: "Sun within ±", quantity: "irradiance", min: 1, max: 1000 },
  { key: "ambientBand", label: "Outside within ±", quantity: "temperatureDifference", min: 0.01, max: 50 },
  { key: "inletBand", label: "Inlet within ±", quantity: "temperatureDifference", min: 0.01, max: 50 },
  { key: "flowBand", label: "Flow within ±", quantity: "fraction", min: 0.001, max: 1 },
  { key: "minModifier", label: "Incidence factor at least", quantity: "fraction", min: 0, max: 1 },
  { key: "settleS", label: "Settled for at least", quantity: "duration", min: 0, max: 14400 },
  { key: "averageS", label: "Averaged over at least", quantity: "duration", min: 60, max: 14400 },
];
