import { hingedMirror } from "../src/core/mirror/mirror";
import { absorberLayer, type Design, type Layer } from "../src/core/collector/design";
import type { AbsorberForm } from "../src/core/collector/form/list";
import { withCovers } from "../src/core/collector/outline";
import { materialsOf, namedMaterials, presetDesign } from "../src/core/collector/presets";

/** Designs of the demo world, from the usual build of each form: boxes of two square metres in a thin frame. */
const rebuilt = (d: Design): Design => ({ ...d, materials: materialsOf(namedMaterials(d)) });

const FRAME = { material: "larch", thicknessM: 0.012 };

export function demoBox(
  form: AbsorberForm,
  changes: {
    layer?: Record<string, object>;
    shape?: Record<string, number>;
    covers?: number;
    more?: Partial<Design>;
  } = {},
): Design {
  const base = presetDesign(form);
  const layers = (changes.covers === undefined ? base.layers : withCovers(base.layers, changes.covers)).map((l) => {
    const changed = { ...l, ...changes.layer?.[l.id] } as Layer;
    return changed.kind === "absorber" && changes.shape
      ? { ...changed, shape: { ...changed.shape, ...changes.shape } }
      : changed;
  });
  return rebuilt({ ...base, frame: FRAME, layers, ...changes.more });
}

/** A fine corrugation over a narrow channel: the stream stays close to the metal, and a stronger fan pays for it. */
const STRONG_FAN: Design["drive"] = {
  kind: "fan",
  fan: {
    points: [
      { flowM3PerS: 0, pressurePa: 210 },
      { flowM3PerS: 0.03, pressurePa: 175 },
      { flowM3PerS: 0.055, pressurePa: 105 },
      { flowM3PerS: 0.08, pressurePa: 0 },
    ],
    powerW: 32,
  },
};
export const corrugated = demoBox("corrugated", {
  layer: { channel: { thicknessM: 0.006 } },
  shape: { depthM: 0.006, pitchM: 0.032 },
  more: { drive: STRONG_FAN },
});
export const mesh = demoBox("mesh", {
  shape: { layers: 4 },
  layer: { liner: { coating: "paint-black-matt" } },
  more: { drive: STRONG_FAN },
});
export const cans = demoBox("columns", { more: { drive: STRONG_FAN } });
export const selective: Design = rebuilt({
  ...corrugated,
  layers: corrugated.layers.map((l) => (l.kind === "absorber" ? { ...l, coating: "foil-selective" } : l)),
});
export const twoGlass: Design = rebuilt({ ...corrugated, layers: withCovers(corrugated.layers, 2) });
/** The winter heater as first drawn: two glasses, and rigid foam because it insulates better than wool. It does not stand a day without flow. */
export const twoGlassFoam: Design = rebuilt({
  ...twoGlass,
  layers: twoGlass.layers.map((l) => (l.id === "wool" ? { ...l, material: "foam-pir", thicknessM: 0.04 } : l)),
});

/** Both changes at once: the fourth corner. */
export const twoGlassSelective: Design = rebuilt({ ...selective, layers: withCovers(selective.layers, 2) });
/** A sheet of silvered glass along the lower edge, opened wide for the autumn sun. */
export const mirrored: Design = rebuilt({
  ...corrugated,
  mirrors: [hingedMirror({ material: "mirror-glass", stand: "bottom", depthM: 1.5, angle: 118 })],
});

const wide = (pitchM: number): Record<string, number> => ({ ...absorberLayer(presetDesign("hose"))!.shape, pitchM });
export const hoseTight = demoBox("hose", { shape: wide(0.022) });
/** Under a pane, for autumn: wound close, and with a finger's breadth between the turns. */
export const hoseClose = demoBox("hose", { covers: 1, shape: wide(0.022) });
export const hoseOpen = demoBox("hose", { covers: 1, shape: wide(0.03) });

/** Ten ways to make warm air or wash water, one of each absorber form: nothing built yet, so that prediction has to sort them. */
export const TEN: { name: string; design: Design }[] = [
  { name: "Flat sheet, air behind", design: demoBox("flat") },
  { name: "Corrugated roofing, air behind", design: corrugated },
  { name: "Finned sheet", design: demoBox("fins") },
  { name: "Four layers of insect screen", design: mesh },
  { name: "Columns of cans", design: cans },
  {
    name: "Coil of flexible duct",
    design: demoBox("ductCoil", {
      shape: { lengthM: 8, diameterM: 0.125 },
      more: { ports: { diameterM: 0.125, count: 1 } },
    }),
  },
  { name: "Perforated sheet, no glass", design: demoBox("perforated") },
  { name: "Dark concrete slab", design: demoBox("masonry") },
  { name: "Hose coil on dark slate", design: hoseTight },
  { name: "Tubes on a sheet, one glass", design: demoBox("tubeSheet") },
];
