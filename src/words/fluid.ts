import { glycolIn, type Fluid } from "../core/fluids/fluid";
import type { Glycol } from "../core/fluids/water";

export const GLYCOL_WORDS: Record<Glycol, string> = { propylene: "propylene glycol", ethylene: "ethylene glycol" };

/** @example fluidWords({ kind: "glycol", massFraction: 0.35 }) // "water with 35 % propylene glycol" */
export const fluidWords = (fluid: Fluid): string =>
  fluid.kind === "glycol"
    ? `water with ${Math.round(fluid.massFraction * 100)} % ${GLYCOL_WORDS[glycolIn(fluid)]}`
    : fluid.kind;
