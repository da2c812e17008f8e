import { type Design, type Layer, type LayerKind, layerDepth, newAbsorber, usualShape } from "@/core/collector/design";
import { FORMS, type AbsorberForm } from "@/core/collector/form/list";
import { DUCT_FAN, namedMaterials, presetDesign, SMALL_PUMP } from "@/core/collector/presets";
import type { Material } from "@/core/materials/material";

/** The designs before the present one, and those undone. */
export interface Steps {
  past: Design[];
  future: Design[];
}

/** A design being edited. */
export interface Draft extends Steps {
  present: Design;
}

const KEPT = 80;

export type Edit = { type: "set"; design: Design } | { type: "undo" } | { type: "redo" };

/** @returns the same draft when the edit changes nothing */
export function draftReducer(d: Draft, e: Edit): Draft {
  switch (e.type) {
    case "set":
      return e.design === d.present ? d : { past: [...d.past.slice(-KEPT), d.present], present: e.design, future: [] };
    case "undo":
      return d.past.length
        ? { past: d.past.slice(0, -1), present: d.past[d.past.length - 1], future: [d.present, ...d.future] }
        : d;
    case "redo":
      return d.future.length ? { past: [...d.past, d.present], present: d.future[0], future: d.future.slice(1) } : d;
  }
}

/** Puts the materials a design names by value into it, and leaves out what it no longer names. */
export function withMaterials(d: Design, library: ReadonlyMap<string, Material>): Design {
  const materials = Object.fromEntries(
    namedMaterials(d).flatMap((key) => {
      const found = d.materials[key] ?? library.get(key);
      return found ? [[key, found]] : [];
    }),
  );
  return { ...d, materials };
}

export const changeLayer = (d: Design, id: string, change: object): Design => ({
  ...d,
  sketch: false,
  layers: d.layers.map((l) => (l.id === id ? ({ ...l, ...change } as Layer) : l)),
});

export function moveLayer(d: Design, from: number, to: number): Design {
  if (from === to || !d.layers[from] || !d.layers[to]) return d;
  const layers = [...d.layers];
  layers.splice(to, 0, ...layers.splice(from, 1));
  return { ...d, sketch: false, layers };
}

export const removeLayer = (d: Design, id: string): Design => ({
  ...d,
  sketch: false,
  layers: d.layers.filter((l) => l.id !== id),
});

/** An id no layer has yet. */
export function freshId(d: Design, stem: string): string {
  const taken = new Set(d.layers.map((l) => l.id));
  for (let k = 1; ; k++) {
    const id = k === 1 ? stem : `${stem}${k}`;
    if (!taken.has(id)) return id;
  }
}

/** A usual layer of a kind. */
export function usualLayer(d: Design, kind: LayerKind): Layer {
  const id = freshId(d, kind);
  switch (kind) {
    case "cover":
      return { id, kind, material: "glass-toughened", thicknessM: 0.004 };
    case "gap":
      return { id, kind, thicknessM: 0.025 };
    case "channel":
      return { id, kind, thicknessM: 0.02 };
    case "absorber":
      return newAbsorber(id, "flat", "aluminium-sheet", 0.0005, "paint-black-matt");
    case "sheet":
      return { id, kind, material: "aluminium-sheet", thicknessM: 0.0005, coating: null };
    case "insulation":
      return { id, kind, material: "wool-mineral", thicknessM: 0.05 };
  }
}

/** Adds a layer behind the chosen one, or before it when it is a glazing above the first. */
export function addLayer(d: Design, kind: LayerKind, afterId: string | null): { design: Design; id: string } {
  const layer = usualLayer(d, kind);
  const at = d.layers.findIndex((l) => l.id === afterId);
  const layers = [...d.layers];
  layers.splice(at < 0 ? layers.length : at + 1, 0, layer);
  return { design: { ...d, sketch: false, layers }, id: layer.id };
}

/** One more glazing over all others, 20 mm above them. */
export function addOuterCover(d: Design): Design {
  const first = d.layers.find((l) => l.kind === "cover");
  const material =
    first?.kind === "cover"
      ? { material: first.material, thicknessM: first.thicknessM }
      : { material: "glass-toughened", thicknessM: 0.004 };
  const cover: Layer = { id: freshId(d, "cover"), kind: "cover", ...material };
  const gap: Layer = { id: freshId(d, "gap"), kind: "gap", thicknessM: 0.02 };
  return { ...d, sketch: false, layers: [cover, gap, ...d.layers] };
}

/** Another form of absorber: its usual dimensions and make, and the fluid and drive that go with it. */
export function changeForm(d: Design, id: string, form: AbsorberForm): Design {
  const like = presetDesign(form);
  const usual = like.layers.find((l) => l.kind === "absorber")!;
  const changed = changeLayer(d, id, {
    form,
    shape: usualShape(form),
    material: usual.kind === "absorber" ? usual.material : "aluminium-sheet",
    thicknessM: layerDepth(usual) && usual.thicknessM,
  });
  const { carries } = FORMS[form];
  const liquid = carries !== "air";
  if (carries === "either" || liquid === (d.fluid.kind !== "air")) return changed;
  return {
    ...changed,
    fluid: like.fluid,
    drive: liquid ? { kind: "pump", fan: SMALL_PUMP } : { kind: "fan", fan: DUCT_FAN },
    ports: like.ports,
  };
}
