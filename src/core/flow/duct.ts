export type DuctShape = { kind: "round"; diameterM: number } | { kind: "rectangular"; widthM: number; heightM: number };

/** Cross-section of a duct, m². Throws RangeError for a size that is not positive. */
export function ductArea(shape: DuctShape): number {
  const sides = shape.kind === "round" ? [shape.diameterM] : [shape.widthM, shape.heightM];
  if (!sides.every((s) => s > 0 && Number.isFinite(s))) throw new RangeError("a duct's size is positive");
  return shape.kind === "round" ? (Math.PI / 4) * shape.diameterM ** 2 : shape.widthM * shape.heightM;
}
