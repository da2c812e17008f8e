import { libraryMaterial } from "../materials/library";
import type { Material, MaterialUnit } from "../materials/material";
import { absorberVolume } from "./content";
import {
  absorberLayer,
  apertureArea,
  grossArea,
  opening,
  pipeLength,
  stackDepth,
  type AbsorberLayer,
  type Design,
} from "./design";
import { mirrorArea } from "../mirror/mirror";
import { formOf } from "./form/list";

export const SCROUNGED = ["no", "once", "always"] as const;
/** Found instead of bought: for the first unit only, or for every one. */
export type Scrounged = (typeof SCROUNGED)[number];

/** What a person changed in a line, or added. Absent fields follow the design and the library. */
export interface BillEdit {
  quantity?: number;
  price?: number;
  pack?: number;
  scrounged?: Scrounged;
}

export interface ExtraLine {
  name: string;
  unit: MaterialUnit;
  quantity: number;
  price: number;
  pack: number;
  scrounged: Scrounged;
}

export interface BillEdits {
  currency: string;
  lines: Record<string, BillEdit>;
  extra: ExtraLine[];
  /** Build hours, or null for the estimate. */
  hoursFirst: number | null;
  hoursRepeat: number | null;
  /** Money per hour of work; 0 leaves work out of the cost. */
  wage: number;
}

export const EMPTY_BILL: BillEdits = {
  currency: "EUR",
  lines: {},
  extra: [],
  hoursFirst: null,
  hoursRepeat: null,
  wage: 0,
};

export interface BillLine {
  key: string;
  name: string;
  unit: MaterialUnit;
  quantity: number;
  /** Of which are the design's own, before the person's change. */
  designed: number;
  price: number;
  pack: number;
  packs: number;
  leftover: number;
  scrounged: Scrounged;
  /** Whole packs for the first unit; what one unit uses for a repeat. */
  firstCost: number;
  repeatCost: number;
  edited: boolean;
}

export interface Bill {
  currency: string;
  lines: BillLine[];
  materialsFirst: number;
  materialsRepeat: number;
  hoursFirst: number;
  hoursRepeat: number;
  first: number;
  repeat: number;
  repeatPerGrossM2: number;
  repeatPerApertureM2: number;
}

/** Offcuts of sheets and boards, share of what is used. Typical value. */
const OFFCUT = 0.08;
/** Litres of paint per m² for two coats. */
const PAINT_PER_M2 = 0.24;
/** Metres of joint one cartridge of sealant fills (6 × 6 mm bead of 310 mL). */
const JOINT_PER_CARTRIDGE = 8.5;

type Need = { key: string; quantity: number };

/** Quantity of a flat material over an area, in the unit it is sold in. */
function flat(m: Material, areaM2: number, thicknessM: number): number {
  if (m.unit === "m2")
    return (
      areaM2 * (1 + OFFCUT) * (m.group === "insulation" ? Math.max(1, Math.ceil(thicknessM / m.thicknessM - 0.01)) : 1)
    );
  if (m.unit === "litre") return areaM2 * PAINT_PER_M2;
  if (m.unit === "kg") return areaM2 * thicknessM * m.density;
  return areaM2;
}

function absorberNeed(d: Design, layer: AbsorberLayer): Need {
  const m = d.materials[layer.material];
  const { bill } = formOf(layer);
  const area = apertureArea(d);
  if (m.unit === "m") return { key: layer.material, quantity: (pipeLength(d) ?? 0) * 1.05 };
  if (m.unit === "piece")
    return { key: layer.material, quantity: bill.pieces?.(layer.shape, opening(d)) ?? Math.ceil(area) };
  return {
    key: layer.material,
    quantity:
      m.unit === "kg"
        ? absorberVolume(d, layer) * area * m.density
        : flat(m, area * (bill.sheets?.(layer.shape) ?? 1), layer.thicknessM),
  };
}

/** Painted surface of an absorber, m². */
const paintedArea = (d: Design, layer: AbsorberLayer): number =>
  formOf(layer).bill.painted?.(layer.shape, opening(d)) ?? apertureArea(d);

/** Everything a box takes, by material key, in the unit each is sold in. */
export function needs(d: Design): Need[] {
  const { widthM, lengthM } = opening(d);
  const area = apertureArea(d);
  const perimeter = 2 * (d.grossWidthM + d.grossLengthM);
  const list: Need[] = [];
  for (const l of d.layers) {
    if (l.kind === "gap" || l.kind === "channel") continue;
    list.push(
      l.kind === "absorber"
        ? absorberNeed(d, l)
        : { key: l.material, quantity: flat(d.materials[l.material], area, l.thicknessM) },
    );
    if ("coating" in l && l.coating) {
      const coated = l.kind === "absorber" ? paintedArea(d, l) : area;
      list.push({ key: l.coating, quantity: flat(d.materials[l.coating], coated, d.materials[l.coating].thicknessM) });
    }
    if (l.kind === "absorber") list.push(...(formOf(l).bill.more?.(l.shape, opening(d)) ?? []));
  }
  list.push({
    key: d.frame.material,
    quantity: flat(d.materials[d.frame.material], perimeter * stackDepth(d), d.frame.thicknessM),
  });
  // A mirror with a price of its own is a line of its own.
  for (const m of d.mirrors)
    if (m.cost === null) {
      const material = d.materials[m.material];
      list.push({ key: m.material, quantity: flat(material, mirrorArea(opening(d), m), material.thicknessM) });
    }
  const covers = d.layers.filter((l) => l.kind === "cover");
  const joints = 2 * (widthM + lengthM);
  if (covers.length) list.push({ key: "strip-epdm", quantity: covers.length * joints });
  if (covers.some((l) => l.kind === "cover" && l.material.includes("twin")))
    list.push({ key: "tape-cell-closed", quantity: widthM }, { key: "tape-cell-breathing", quantity: widthM });
  list.push(
    { key: "sealant-silicone", quantity: (joints * (1 + covers.length)) / JOINT_PER_CARTRIDGE },
    { key: "screws", quantity: Math.ceil(perimeter / 0.15) },
  );
  if (d.fluid.kind === "air")
    list.push({ key: "duct-collar", quantity: 2 * d.ports.count }, { key: "tape-aluminium", quantity: joints + 2 });
  const sums = new Map<string, number>();
  for (const n of list) sums.set(n.key, (sums.get(n.key) ?? 0) + n.quantity);
  return [...sums].map(([key, quantity]) => ({ key, quantity }));
}

/** Hours a careful person takes, first and again: a base and so much per layer, square metre, column or metre of pipe. Typical values of amateur builds, ours. */
export function buildHours(d: Design): { first: number; repeat: number } {
  const solids = d.layers.filter((l) => l.kind !== "gap" && l.kind !== "channel").length;
  const absorber = absorberLayer(d);
  const more = absorber ? formOf(absorber).bill.hours(absorber.shape, opening(d)) : 0.5;
  const repeat = 2 + 0.6 * solids + 1.2 * grossArea(d) + more;
  return { first: Math.round(repeat * 1.7 * 2) / 2, repeat: Math.round(repeat * 2) / 2 };
}

/**
 * Bill of materials of one box. The first unit buys whole packs and leaves leftovers; a repeat unit pays what it uses; what was
 * scrounged once is bought for the repeat unit, what is scrounged always never is.
 */
export function billOf(d: Design, edits: BillEdits = EMPTY_BILL): Bill {
  const line = (
    key: string,
    name: string,
    unit: MaterialUnit,
    designed: number,
    price: number,
    pack: number,
    edit: BillEdit,
  ): BillLine => {
    const quantity = edit.quantity ?? designed;
    const size = edit.pack ?? pack;
    const each = edit.price ?? price;
    const scrounged = edit.scrounged ?? "no";
    const packs = size > 0 ? Math.ceil(quantity / size - 1e-9) : quantity;
    const bought = size > 0 ? packs * size : quantity;
    return {
      key,
      name,
      unit,
      quantity,
      designed,
      price: each,
      pack: size,
      packs,
      leftover: bought - quantity,
      scrounged,
      firstCost: scrounged === "no" ? bought * each : 0,
      repeatCost: scrounged === "always" ? 0 : quantity * each,
      edited: Object.keys(edit).length > 0,
    };
  };
  const lines = needs(d).map(({ key, quantity }) => {
    const m = d.materials[key] ?? libraryMaterial(key);
    return line(key, m.name, m.unit, quantity, m.price, m.pack, edits.lines[key] ?? {});
  });
  d.mirrors.forEach((m, i) => {
    if (m.cost === null) return;
    const key = `mirror-${m.id}`;
    lines.push(
      line(key, d.mirrors.length > 1 ? `mirror ${i + 1}` : "mirror", "piece", 1, m.cost, 1, edits.lines[key] ?? {}),
    );
  });
  edits.extra.forEach((x, i) =>
    lines.push({
      ...line(`extra-${i}`, x.name, x.unit, x.quantity, x.price, x.pack, { scrounged: x.scrounged }),
      edited: true,
    }),
  );
  const sum = (of: (l: BillLine) => number) => lines.reduce((s, l) => s + of(l), 0);
  const usual = buildHours(d);
  const [hoursFirst, hoursRepeat] = [edits.hoursFirst ?? usual.first, edits.hoursRepeat ?? usual.repeat];
  const materialsFirst = sum((l) => l.firstCost);
  const materialsRepeat = sum((l) => l.repeatCost);
  const repeat = materialsRepeat + hoursRepeat * edits.wage;
  return {
    currency: edits.currency,
    lines,
    materialsFirst,
    materialsRepeat,
    hoursFirst,
    hoursRepeat,
    first: materialsFirst + hoursFirst * edits.wage,
    repeat,
    repeatPerGrossM2: repeat / grossArea(d),
    repeatPerApertureM2: repeat / apertureArea(d),
  };
}
