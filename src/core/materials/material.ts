export const MATERIAL_GROUPS = [
  "glazing",
  "sheet",
  "coating",
  "mesh",
  "tube",
  "insulation",
  "board",
  "masonry",
  "reflector",
  "sundry",
] as const;
export type MaterialGroup = (typeof MATERIAL_GROUPS)[number];

export const MATERIAL_UNITS = ["m2", "m", "piece", "litre", "kg"] as const;
export type MaterialUnit = (typeof MATERIAL_UNITS)[number];

/** What a person must know before building with it; the checks and the checklist read these. */
export const MATERIAL_FLAGS = [
  "foam",
  "solvent",
  "outgasses",
  "brittle",
  "combustible",
  "fibres",
  "plasticSheet",
  "sharp",
  "cures",
] as const;
export type MaterialFlag = (typeof MATERIAL_FLAGS)[number];

/** A generic material. Typical values: two batches of the same stuff differ by a tenth, in foam and paint by more. */
export interface Material {
  key: string;
  name: string;
  group: MaterialGroup;
  /** kg/m³. */
  density: number;
  /** J/(kg·K). */
  specificHeat: number;
  /** W/(m·K), of the sheet as a whole: cells and their air included. */
  conductivity: number;
  /** Share of sunlight an opaque surface takes, 0 to 1. */
  absorptance: number;
  /** Long-wave emittance, 0 to 1. */
  emittance: number;
  /** Light through a glazing: refractive index and extinction, 1/m. null for what is opaque. */
  optics: { index: number; extinctionPerM: number } | null;
  /** Long-wave radiation let through, 0 to 1: films only. */
  infraredTransmittance: number;
  /** Highest temperature it bears for years, °C; null when the collector cannot reach it. */
  limitC: number | null;
  /** Linear expansion, 1/K. */
  expansionPerK: number;
  /** Usual thickness, m; of a coating, as dried. */
  thicknessM: number;
  /** Money per unit, and how many units a pack holds. */
  unit: MaterialUnit;
  price: number;
  pack: number;
  flags: MaterialFlag[];
  note: string;
  /** Public source of the properties, or "typical value". */
  source: string;
}

export type MaterialTable = Readonly<Record<string, Material>>;

/**
 * Extinction coefficient, 1/m, at which a sheet of this index and thickness lets the stated share through at normal incidence:
 * turns a maker's one transmittance into what the optics need (DB 5.2.2 and 5.3.1, one sheet). A cellular sheet becomes an equal clear one.
 *
 * @param transmittance 0 to 1, not above what reflection alone allows; then 0 is returned
 * @example extinctionFor(0.84, 1.59, 0.004) // 17.5
 */
export function extinctionFor(transmittance: number, index: number, thicknessM: number): number {
  const r = ((index - 1) / (index + 1)) ** 2;
  const clear = (1 - r) / (1 + r);
  if (transmittance >= clear) return 0;
  // τ = p(1−r)²/(1−r²p²) solved for p, the share that crosses the sheet once.
  const a = transmittance * r * r;
  const b = (1 - r) ** 2;
  const passed = (-b + Math.sqrt(b * b + 4 * a * transmittance)) / (2 * a);
  return -Math.log(passed) / thicknessM;
}
