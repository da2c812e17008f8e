import type { FluidKind } from "../fluids/fluid";

/** Usual rules of thumb, kg/(s·m²) of gross area at sea-level density, shown as such: 1 to 2.5 m³/(min·m²) for air boxes; 40 to 80 L/(h·m²) for water. */
export const THUMB_RULES: Record<FluidKind, [number, number]> = {
  air: [0.02, 0.05],
  water: [0.011, 0.022],
  glycol: [0.011, 0.022],
};
