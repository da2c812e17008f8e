import type { PlainLayer } from "../layer";

/** Layers of the usual builds: glazed box of two square metres, 50 mm of wool; a beginning, not advice. */
/** Toughened glass as it is sold; the material library is left out of here, so that drawings do not carry it to every page. */
export const cover = (id: string): PlainLayer => ({
  id,
  kind: "cover",
  material: "glass-toughened",
  thicknessM: 0.004,
});
export const gap = (id: string, mm: number): PlainLayer => ({ id, kind: "gap", thicknessM: mm / 1000 });
export const channel = (id: string, mm: number): PlainLayer => ({ id, kind: "channel", thicknessM: mm / 1000 });
export const wool: PlainLayer = { id: "wool", kind: "insulation", material: "wool-mineral", thicknessM: 50 / 1000 };
export const backBoard: PlainLayer = {
  id: "board",
  kind: "sheet",
  material: "plywood",
  thicknessM: 0.006,
  coating: null,
};
export const liner: PlainLayer = {
  id: "liner",
  kind: "sheet",
  material: "aluminium-thin",
  thicknessM: 0.0003,
  coating: null,
};
export const PAINT = "paint-black-matt";
/** Lining that itself takes light between pipes. */
export const paintedLiner: PlainLayer = {
  ...liner,
  kind: "sheet",
  material: "aluminium-thin",
  thicknessM: 0.0003,
  coating: PAINT,
};
