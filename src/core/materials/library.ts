import rows from "./library.json" with { type: "json" };
import { extinctionFor, type Material, type MaterialFlag, type MaterialGroup, type MaterialUnit } from "./material";

/** A material as it stands in `library.json`, in the units data sheets use. */
export interface LibraryRow {
  group: MaterialGroup;
  key: string;
  name: string;
  /** kg/m³, J/(kg·K), W/(m·K). */
  density: number;
  specificHeat: number;
  conductivity: number;
  absorptance: number;
  emittance: number;
  /** °C */
  limitC: number | null;
  /** 10⁻⁶/K */
  expansionPerMillion: number;
  thicknessMm: number;
  unit: MaterialUnit;
  price: number;
  pack: number;
  flags: MaterialFlag[];
  note: string;
  source: string;
  /** Of a glazing: its normal transmittance at the usual thickness, which fixes the extinction, and its index. */
  transmittance?: number;
  index?: number;
  infraredTransmittance?: number;
}

/** Its properties in the order in which a table read back has them: the two are compared as they are written. */
function materialOf(row: LibraryRow): Material {
  const { transmittance, index } = row;
  const thicknessM = row.thicknessMm / 1000;
  return {
    key: row.key,
    name: row.name,
    group: row.group,
    density: row.density,
    specificHeat: row.specificHeat,
    conductivity: row.conductivity,
    absorptance: row.absorptance,
    emittance: row.emittance,
    optics:
      transmittance === undefined || index === undefined
        ? null
        : { index, extinctionPerM: extinctionFor(transmittance, index, thicknessM) },
    infraredTransmittance: row.infraredTransmittance ?? 0,
    limitC: row.limitC,
    expansionPerK: row.expansionPerMillion * 1e-6,
    thicknessM,
    unit: row.unit,
    price: row.price,
    pack: row.pack,
    flags: row.flags,
    note: row.note,
    source: row.source,
  };
}

/**
 * Generic materials, no makers. Density, specific heat and conductivity of common building materials follow EN ISO 10456:2007,
 * table 3; optical values of glazings and coatings follow the ranges of DB chapters 4 and 5; the rest are typical values of
 * trade data sheets. The conductivity of cellular sheets is that of the whole sheet at 10 °C, from usual U-values less 0.17 m²·K/W at the surfaces. Prices are round figures of the invented demo world, to be replaced by your own receipts.
 */
export const LIBRARY: readonly Material[] = (rows as LibraryRow[]).map(materialOf);

const byKey = new Map(LIBRARY.map((m) => [m.key, m]));

/** A material of the shipped library. Throws RangeError for a key it does not hold. */
export function libraryMaterial(key: string): Material {
  const found = byKey.get(key);
  if (!found) throw new RangeError(`no material "${key}" in the library`);
  return found;
}
