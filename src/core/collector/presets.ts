import { fluidOf } from "../fluids/fluid";
import { libraryMaterial } from "../materials/library";
import type { Fan } from "../flow/fan";
import type { MaterialTable } from "../materials/material";
import { newAbsorber, type Design, type Layer } from "./design";
import { LIQUID_FORMS, type AbsorberForm } from "./forms";

/** Values, by key, of the library materials named. */
export const materialsOf = (keys: Iterable<string>): MaterialTable =>
  Object.fromEntries([...new Set(keys)].map((key) => [key, libraryMaterial(key)]));

/** Keys of every material a design names. */
export function namedMaterials(d: Pick<Design, "layers" | "frame" | "reflector">): string[] {
  const keys = d.layers.flatMap((l) => [
    ...("material" in l ? [l.material] : []),
    ...("coating" in l && l.coating ? [l.coating] : []),
  ]);
  return [...new Set([...keys, d.frame.material, ...(d.reflector ? [d.reflector.material] : [])])];
}

/** A duct fan of about 20 W and a small pump, as rated: free delivery and pressure against a closed end. Typical values. */
export const DUCT_FAN: Fan = {
  points: [
    { flowM3PerS: 0, pressurePa: 140 },
    { flowM3PerS: 0.03, pressurePa: 105 },
    { flowM3PerS: 0.055, pressurePa: 50 },
    { flowM3PerS: 0.072, pressurePa: 0 },
  ],
  powerW: 22,
};
export const SMALL_PUMP: Fan = {
  points: [
    { flowM3PerS: 0, pressurePa: 24000 },
    { flowM3PerS: 1.2e-4, pressurePa: 15000 },
    { flowM3PerS: 2.5e-4, pressurePa: 0 },
  ],
  powerW: 9,
};

interface Start {
  layers: Layer[];
  ports?: Design["ports"];
  manifoldLoss?: number;
}

const cover = (id: string, material = "glass-toughened"): Layer => ({
  id,
  kind: "cover",
  material,
  thicknessM: libraryMaterial(material).thicknessM,
});
const gap = (id: string, mm: number): Layer => ({ id, kind: "gap", thicknessM: mm / 1000 });
const channel = (id: string, mm: number): Layer => ({ id, kind: "channel", thicknessM: mm / 1000 });
const insulation = (id: string, material: string, mm: number): Layer => ({
  id,
  kind: "insulation",
  material,
  thicknessM: mm / 1000,
});
const backBoard: Layer = { id: "board", kind: "sheet", material: "plywood", thicknessM: 0.006, coating: null };
const liner: Layer = { id: "liner", kind: "sheet", material: "aluminium-thin", thicknessM: 0.0003, coating: null };

const PAINT = "paint-black-matt";

/** A usual build of each absorber form: glazed box of two square metres, 50 mm of wool; a beginning, not advice. */
const STARTS: Record<AbsorberForm, () => Start> = {
  flat: () => ({
    layers: [
      cover("cover"),
      gap("gap", 25),
      newAbsorber("absorber", "flat", "aluminium-sheet", 0.0005, PAINT),
      channel("channel", 20),
      liner,
      insulation("wool", "wool-mineral", 50),
      backBoard,
    ],
  }),
  corrugated: () => ({
    layers: [
      cover("cover"),
      gap("gap", 25),
      newAbsorber("absorber", "corrugated", "aluminium-corrugated", 0.0006, PAINT),
      channel("channel", 15),
      liner,
      insulation("wool", "wool-mineral", 50),
      backBoard,
    ],
  }),
  fins: () => ({
    layers: [
      cover("cover"),
      gap("gap", 25),
      newAbsorber("absorber", "fins", "aluminium-sheet", 0.0005, PAINT),
      channel("channel", 5),
      liner,
      insulation("wool", "wool-mineral", 50),
      backBoard,
    ],
  }),
  mesh: () => ({
    layers: [
      cover("cover"),
      channel("front", 25),
      newAbsorber("absorber", "mesh", "mesh-aluminium", 0.00025, PAINT),
      channel("back", 25),
      liner,
      insulation("wool", "wool-mineral", 50),
      backBoard,
    ],
  }),
  columns: () => ({
    layers: [
      cover("cover"),
      gap("gap", 20),
      newAbsorber("absorber", "columns", "aluminium-can", 0.0001, PAINT),
      { ...liner, coating: PAINT },
      insulation("wool", "wool-mineral", 50),
      backBoard,
    ],
    manifoldLoss: 2.5,
  }),
  ductCoil: () => ({
    layers: [
      cover("cover"),
      gap("gap", 20),
      newAbsorber("absorber", "ductCoil", "duct-aluminium", 0.0001, PAINT),
      { ...liner, coating: PAINT },
      insulation("wool", "wool-mineral", 50),
      backBoard,
    ],
    ports: { diameterM: 0.1, count: 1 },
  }),
  hose: () => ({
    layers: [
      newAbsorber("absorber", "hose", "hose-pe", 0.0023, null),
      { id: "sheet", kind: "sheet", material: "fibre-cement-dark", thicknessM: 0.005, coating: null },
    ],
    ports: { diameterM: 0.015, count: 1 },
  }),
  tubeSheet: () => ({
    layers: [
      cover("cover"),
      gap("gap", 25),
      newAbsorber("absorber", "tubeSheet", "aluminium-sheet", 0.0005, PAINT),
      insulation("wool", "wool-mineral", 50),
      backBoard,
    ],
    ports: { diameterM: 0.02, count: 1 },
  }),
  perforated: () => ({
    layers: [
      newAbsorber("absorber", "perforated", "aluminium-sheet", 0.0008, PAINT),
      channel("plenum", 60),
      liner,
      insulation("wool", "wool-mineral", 50),
      backBoard,
    ],
  }),
  masonry: () => ({
    layers: [
      cover("cover"),
      channel("channel", 30),
      newAbsorber("absorber", "masonry", "concrete-dense", 0.04, PAINT),
      insulation("wool", "wool-mineral", 50),
      backBoard,
    ],
  }),
};

/** A new design of a form. */
export function presetDesign(form: AbsorberForm): Design {
  const start = STARTS[form]();
  const liquid = LIQUID_FORMS.includes(form);
  const frame = { material: "softwood", thicknessM: 0.02 };
  const body = {
    fluid: fluidOf(liquid ? "water" : "air"),
    grossWidthM: 1,
    grossLengthM: 2,
    frame,
    layers: start.layers,
    ports: start.ports ?? { diameterM: 0.125, count: 1 },
    manifoldLoss: start.manifoldLoss ?? 1,
    drive: liquid ? { kind: "pump" as const, fan: SMALL_PUMP } : { kind: "fan" as const, fan: DUCT_FAN },
    reflector: null,
    concentration: 1,
    inSeries: 1,
    inParallel: 1,
    exchanger: null,
    sketch: false,
  };
  return { ...body, materials: materialsOf(namedMaterials(body)) };
}
