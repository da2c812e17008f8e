import { libraryMaterial } from "../../materials/library";
import type { Layer } from "../design";

/** Layers of the usual builds: glazed box of two square metres, 50 mm of wool; a beginning, not advice. */
export const cover = (id: string, material = "glass-toughened"): Layer => ({
  id,
  kind: "cover",
  material,
  thicknessM: libraryMaterial(material).thicknessM,
});
export const gap = (id: string, mm: number): Layer => ({ id, kind: "gap", thicknessM: mm / 1000 });
export const channel = (id: string, mm: number): Layer => ({ id, kind: "channel", thicknessM: mm / 1000 });
export const wool: Layer = { id: "wool", kind: "insulation", material: "wool-mineral", thicknessM: 50 / 1000 };
export const backBoard: Layer = { id: "board", kind: "sheet", material: "plywood", thicknessM: 0.006, coating: null };
export const liner: Layer = {
  id: "liner",
  kind: "sheet",
  material: "aluminium-thin",
  thicknessM: 0.0003,
  coating: null,
};
export const PAINT = "paint-black-matt";
/** Lining that itself takes light between pipes. */
export const paintedLiner: Layer = {
  ...liner,
  kind: "sheet",
  material: "aluminium-thin",
  thicknessM: 0.0003,
  coating: PAINT,
};
