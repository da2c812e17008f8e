import { standardUncertainty } from "../../uncertainty/uncertain";
import { around, type DoubtFinder, type Effect } from "./doubt";

export interface Extrapolated {
  kind: "extrapolated";
  lane: string;
  x: number;
  xRange: [number, number];
  effect: Effect;
}

/** Stretching beyond the data by more than this share of their range is named. */
const STRETCH = 0.15;

/** A curve stretched to an operating point its data do not reach. */
export const extrapolated: DoubtFinder<Extrapolated> = {
  find: ({ lanes, operatingXs, operatingPoint, way }) =>
    (way === "point" ? lanes : []).flatMap(({ lane, curve }): Extrapolated[] => {
      const x = operatingXs.get(lane);
      if (x === undefined) return [];
      const [low, high] = curve.xRange;
      const beyond = Math.max(0, low - x, x - high);
      if (beyond < STRETCH * (high - low)) return [];
      const half = 1.96 * standardUncertainty(curve.a1) * beyond * operatingPoint.irradianceWm2;
      return [{ kind: "extrapolated", lane, x, xRange: curve.xRange, effect: around(half) }];
    }),
};
