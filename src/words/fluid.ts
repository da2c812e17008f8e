import type { Fluid } from "../core/fluids/fluid";

/** @example fluidWords({ kind: "glycol", massFraction: 0.35 }) // "water with 35 % glycol" */
export const fluidWords = (fluid: Fluid): string =>
  fluid.kind === "glycol" ? `water with ${Math.round(fluid.massFraction * 100)} % glycol` : fluid.kind;
