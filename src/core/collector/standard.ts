import type { FluidKind } from "../fluids/fluid";

/** Conditions at which stagnation temperatures are stated (ISO 9806:2017): 1,000 W/m², 30 °C, wind below 1 m/s. */
export const STILL = { irradianceWm2: 1000, ambientC: 30, windMs: 0.5 };

/** Inlets at which a predicted curve is drawn, K above outside. */
export const INLET_STEPS: Record<FluidKind, number[]> = {
  air: [0, 12, 25, 38, 52],
  water: [0, 12, 25, 40, 55],
  glycol: [0, 12, 25, 40, 55],
};
