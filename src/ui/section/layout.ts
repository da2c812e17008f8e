import { layerDepth, type Design, type Layer } from "@/core/collector/design";

export interface Slab {
  layer: Layer;
  index: number;
  /** Depth from the sun side, m. */
  fromM: number;
  toM: number;
  /** Drawn between these, px. */
  y0: number;
  y1: number;
}

export interface SectionLayout {
  slabs: Slab[];
  pxPerM: number;
  height: number;
  /** Some layer is drawn thicker than it is, because it would not be seen. */
  thickened: boolean;
}

/** Least height a layer needs to be seen, as a share of what a large drawing takes. */
const LEAST: Record<Layer["kind"], [badge: number, large: number]> = {
  cover: [1.4, 5],
  gap: [3, 7],
  channel: [4, 14],
  absorber: [2, 4],
  sheet: [1, 3],
  insulation: [5, 12],
};

const finite = (m: number): number => (Number.isFinite(m) && m > 0 ? Math.min(m, 2) : 0);

/** Layers in their true depths on one scale that fills the height; what would be thinner than can be seen is drawn thicker, and said so. */
export function layoutSection(design: Pick<Design, "layers">, height: number, size: "badge" | "large"): SectionLayout {
  const depths = design.layers.map((l) => finite(layerDepth(l)));
  const least = design.layers.map((l) => LEAST[l.kind][size === "badge" ? 0 : 1]);
  const floor = least.reduce((a, b) => a + b, 0);
  // More layers than fit at their least: all shrink alike.
  const squeeze = floor > height ? height / floor : 1;
  const total = (scale: number) => depths.reduce((sum, d, i) => sum + Math.max(least[i] * squeeze, d * scale), 0);
  let [low, high] = [0, 1e5];
  for (let k = 0; k < 60; k++) {
    const middle = (low + high) / 2;
    if (total(middle) > height) high = middle;
    else low = middle;
  }
  let y = 0;
  let m = 0;
  const slabs = design.layers.map((layer, index): Slab => {
    const px = Math.max(least[index] * squeeze, depths[index] * low);
    const slab = { layer, index, fromM: m, toM: m + depths[index], y0: y, y1: y + px };
    y += px;
    m += depths[index];
    return slab;
  });
  return { slabs, pxPerM: low, height: y, thickened: depths.some((d, i) => d * low < least[i] * squeeze - 0.5) };
}

/** Where a depth lies on the drawing, px. */
export function depthToPx(layout: SectionLayout, depthM: number): number {
  for (const s of layout.slabs)
    if (depthM <= s.toM + 1e-9)
      return s.toM > s.fromM ? s.y0 + ((depthM - s.fromM) / (s.toM - s.fromM)) * (s.y1 - s.y0) : s.y0;
  return layout.height;
}
