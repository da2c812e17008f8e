import type { Layer } from "./design";

/** Lowest and highest thickness of each kind of layer, m. */
export const THICKNESS_RANGE: Record<Layer["kind"], readonly [number, number]> = {
  cover: [0.00001, 0.06],
  gap: [0.002, 0.3],
  channel: [0.002, 0.4],
  absorber: [0.00001, 0.3],
  sheet: [0.00001, 0.1],
  insulation: [0.002, 0.5],
};
