import type { Uncertain } from "../uncertainty/uncertain";

export const AREA_BASES = ["gross", "aperture", "absorber"] as const;
export type AreaBasis = (typeof AREA_BASES)[number];

/** Where and how the winner will run, as far as the model needs it. */
export interface Operating {
  irradianceWm2: number;
  ambientC: number;
  /** Into the box; with an exchanger, of the store behind it. */
  inletC: number;
  windMs: number;
  tilt: number;
  pressurePa: number;
  /** Same for all, kg/(s·m²) of gross area. Ignored where draught or a photovoltaic panel sets the flow. */
  massFluxKgM2S: number;
  /** Hottest still hour at the site, for stagnation. */
  extremeAmbientC: number;
  extremeIrradianceWm2: number;
  basis: AreaBasis;
  reduced: "mean" | "inlet";
}

export const FIGURES = [
  "massFlow",
  "inlet",
  "outlet",
  "rise",
  "heat",
  "heatPerArea",
  "heatPerMetre",
  "efficiency",
  "eta0",
  "a1",
  "a2",
  "plateMean",
  "plateMax",
  "stagnation",
  "stagnationHere",
  "stagnationMirror",
  "pressure",
  "fanPower",
  "netHeat",
  "heatCapacity",
  "timeConstant",
  "transmittanceAbsorptance",
  "collectorLoss",
  "efficiencyFactor",
  "removalFactor",
  "arrayOutlet",
  "arrayHeat",
] as const;
export type FigureName = (typeof FIGURES)[number];

/** Where the sun on the opening goes: sent back as light, lost on each side, or into the stream. */
export type EnergyShare = "reflected" | "front" | "back" | "edge" | "useful";

export interface Prediction {
  figures: Partial<Record<FigureName, Uncertain>>;
  /** Per layer, hottest point, °C; null for air layers. In use, and without flow: standard, at the site's extreme, and that with the mirror. */
  layers: ({ use: Uncertain; still: Uncertain; here: Uncertain; mirror: Uncertain } | null)[];
  /** Mean temperature from sun side to back at each layer boundary, °C, in use; by layer [front, back], null for air. */
  profile: ([number, number] | null)[];
  /** The same without flow at the worst of the cases: site's extreme, with the mirror when there is one. */
  stillProfile: ([number, number] | null)[];
  /** Efficiency against reduced temperature difference, on the basis asked for. */
  points: { x: number; efficiency: Uncertain }[];
  /** Shares of the sun on the opening, which sum to 1; null in the dark and for a bought module. */
  shares: Record<EnergyShare, Uncertain> | null;
  /** False when the fan cannot bring the flow asked for. */
  fanEnough: boolean;
  /** What the design's own fan, pump or draught would bring, kg/s per box. */
  drivenFlow: number;
  areaM2: number;
}
