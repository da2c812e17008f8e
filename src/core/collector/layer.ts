/** Layers other than the absorber lie across the box, sun side first. A channel carries the air stream; a gap is closed. */
export type PlainLayer =
  | { id: string; kind: "cover"; material: string; thicknessM: number }
  | { id: string; kind: "gap"; thicknessM: number }
  | { id: string; kind: "channel"; thicknessM: number }
  | { id: string; kind: "sheet"; material: string; thicknessM: number; coating: string | null }
  | { id: string; kind: "insulation"; material: string; thicknessM: number };
