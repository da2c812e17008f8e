import { airConductivity, airDensity, airSpecificHeat, airViscosity, type AirState } from "./moistAir";
import {
  glycolConductivity,
  glycolDensity,
  glycolFreezingPoint,
  glycolSpecificHeat,
  glycolViscosity,
  type Glycol,
  waterConductivity,
  waterDensity,
  waterSpecificHeat,
  waterViscosity,
} from "./water";

const { max, min } = Math;

export const FLUID_KINDS = ["air", "water", "glycol"] as const;
export type FluidKind = (typeof FLUID_KINDS)[number];

/** What carries the heat: one type from the drawing through import, run and judge to the season. */
export type Fluid =
  | { kind: "air" }
  | { kind: "water" }
  /** Glycol in water, by mass, 0 to 0.6; propylene glycol where nobody said which. */
  | { kind: "glycol"; massFraction: number; glycol?: Glycol };

/** Glycol enough for about −20 °C, where nobody has said how much. */
const USUAL_GLYCOL = 0.35;

/** A fluid of a kind with what it usually is. @example fluidOf("glycol") // { kind: "glycol", massFraction: 0.35 } */
export const fluidOf = (kind: FluidKind): Fluid =>
  kind === "glycol" ? { kind, massFraction: USUAL_GLYCOL } : { kind };

export const isLiquid = (fluid: Fluid): boolean => fluid.kind !== "air";

export const sameFluid = (a: Fluid, b: Fluid): boolean =>
  a.kind === b.kind &&
  (a.kind !== "glycol" || b.kind !== "glycol" || (a.massFraction === b.massFraction && glycolIn(a) === glycolIn(b)));

/** Which glycol a mixture holds. */
export const glycolIn = ({ glycol = "propylene" }: Extract<Fluid, { kind: "glycol" }>): Glycol => glycol;

/**
 * Density, kg/m³, of the stream in a state; a liquid feels only its temperature.
 * Range: that of the fluid's own formulas ({@link airDensity}, {@link waterDensity}, {@link glycolDensity}). A liquid beyond it, which a log
 * may well say of one that froze or boiled, is taken as at the nearer end; RangeError for air outside.
 */
export function density(fluid: Fluid, state: AirState): number {
  if (fluid.kind === "air") return airDensity(state);
  return fluid.kind === "water"
    ? waterDensity(withinLiquid(fluid, state.temperatureC))
    : glycolDensity(withinLiquid(fluid, state.temperatureC), fluid.massFraction, fluid.glycol);
}

/** Of the formulas of liquids, °C: water's coldest, and the warmest of all. */
const LIQUID = { waterFrom: -5, to: 110 };

function withinLiquid(fluid: Exclude<Fluid, { kind: "air" }>, temperatureC: number): number {
  const from = fluid.kind === "water" ? LIQUID.waterFrom : glycolFreezingPoint(fluid.massFraction, fluid.glycol);
  return Math.min(LIQUID.to, Math.max(from, temperatureC));
}

/** Specific heat at constant pressure, J/(kg·K), of the stream in a state. Ranges as {@link density}. */
export function specificHeat(fluid: Fluid, state: AirState): number {
  if (fluid.kind === "air") return airSpecificHeat(state);
  return fluid.kind === "water"
    ? waterSpecificHeat(withinLiquid(fluid, state.temperatureC))
    : glycolSpecificHeat(withinLiquid(fluid, state.temperatureC), fluid.massFraction, fluid.glycol);
}

/** Standard uncertainty of the fluid's specific heat as a share: 0.1 % for air and water, 1 % for glycol whose mixture is never quite known. */
export const specificHeatShare = (fluid: Fluid): number => (fluid.kind === "glycol" ? 0.01 : 0.001);

/** Temperature at which ice begins to form, °C; null for air. */
export const freezingPoint = (fluid: Fluid): number | null =>
  fluid.kind === "air"
    ? null
    : glycolFreezingPoint(
        fluid.kind === "glycol" ? fluid.massFraction : 0,
        fluid.kind === "glycol" ? fluid.glycol : undefined,
      );

export interface FluidProperties {
  /** kg/m³ */
  density: number;
  /** J/(kg·K) */
  specificHeat: number;
  /** Pa·s */
  viscosity: number;
  /** W/(m·K) */
  conductivity: number;
}

const KELVIN = 273.15;
/** Relative humidity put in where nobody measured it: it moves the specific heat of air by less than 0.5 %. */
const HUMIDITY = 0.3;

/** Transport properties for the collector model, kept inside the range of their formulas: °C, Pa. */
export function fluidProperties(fluid: Fluid, temperatureC: number, pressurePa: number): FluidProperties {
  if (fluid.kind === "air") {
    const t = min(150, max(-40, temperatureC));
    return {
      density: pressurePa / (287.05 * (t + KELVIN)),
      specificHeat: airSpecificHeat({ temperatureC: min(90, t), pressurePa, relativeHumidity: HUMIDITY }),
      viscosity: airViscosity(t),
      conductivity: airConductivity(t),
    };
  }
  if (fluid.kind === "water") {
    const t = min(108, max(0.5, temperatureC));
    return {
      density: waterDensity(t),
      specificHeat: waterSpecificHeat(t),
      viscosity: waterViscosity(t),
      conductivity: waterConductivity(t),
    };
  }
  const { massFraction, glycol } = fluid;
  const t = min(108, max(glycolFreezingPoint(massFraction, glycol), temperatureC));
  return {
    density: glycolDensity(t, massFraction, glycol),
    specificHeat: glycolSpecificHeat(t, massFraction, glycol),
    viscosity: glycolViscosity(t, massFraction, glycol),
    conductivity: glycolConductivity(t, massFraction, glycol),
  };
}
