import { fluidOf } from "../fluids/fluid";
import { libraryMaterial } from "../materials/library";
import type { Fan } from "../flow/fan";
import type { MaterialTable } from "../materials/material";
import { newAbsorber, type Design } from "./design";
import { FORMS, type AbsorberForm } from "./form/list";

/** Values, by key, of the library materials named. */
export const materialsOf = (keys: Iterable<string>): MaterialTable =>
  Object.fromEntries([...new Set(keys)].map((key) => [key, libraryMaterial(key)]));

/** Keys of every material a design names. */
export function namedMaterials(d: Pick<Design, "layers" | "frame" | "mirrors">): string[] {
  const keys = d.layers.flatMap((l) => [
    ...("material" in l ? [l.material] : []),
    ...("coating" in l && l.coating ? [l.coating] : []),
  ]);
  return [...new Set([...keys, d.frame.material, ...d.mirrors.map((m) => m.material)])];
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

/** A new design of a form. @example presetDesign("flat").fluid // { kind: "air" } */
export function presetDesign(form: AbsorberForm): Design {
  const { start, carries } = FORMS[form];
  const { material, thicknessM, coating } = start.absorber;
  const liquid = carries !== "air";
  const frame = { material: "softwood", thicknessM: 0.02 };
  const body = {
    fluid: fluidOf(liquid ? "water" : "air"),
    grossWidthM: 1,
    grossLengthM: 2,
    frame,
    layers: [...start.before, newAbsorber("absorber", form, material, thicknessM, coating), ...start.behind],
    ports: start.ports ?? { diameterM: 0.125, count: 1 },
    manifoldLoss: start.manifoldLoss ?? 1,
    drive: liquid ? { kind: "pump" as const, fan: SMALL_PUMP } : { kind: "fan" as const, fan: DUCT_FAN },
    mirrors: [],
    thermostat: null,
    concentration: 1,
    inSeries: 1,
    inParallel: 1,
    exchanger: null,
    sketch: false,
  };
  return { ...body, materials: materialsOf(namedMaterials(body)) };
}
