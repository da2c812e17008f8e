import { atNormal } from "../../analysis/alongCurve";
import { onlyParts } from "../../analysis/points";
import { expanded as halfWidth } from "../../uncertainty/coverage";
import { combine, measured as measure, standardUncertainty, type Uncertain } from "../../uncertainty/uncertain";
import { measuredLanes, type DoubtFinder } from "./doubt";

export interface UnlikePrediction {
  kind: "unlikePrediction";
  lane: string;
  /** Efficiencies straight on with their half-widths at 95 %. */
  measured: { value: number; expanded: number };
  expected: { value: number; expanded: number };
  /** Distance over both standard uncertainties together. */
  apart: number;
  effect: null;
}

/** So far from its drawing, in standard uncertainties of both and as a share, a lane is named; beyond the second pair no verdict stands on it. */
const NAMED = { apart: 3, share: 0.15 };
const STOPS = { apart: 4, most: 1.5, least: 0.5 };

/** A lane that measures far from what its drawing predicts at the same condition: unit, area, flow, sun or drawing is wrong. */
export const unlikePrediction: DoubtFinder<UnlikePrediction> = {
  grave: true,
  stops({ apart, measured, expected }) {
    const ratio = measured.value / expected.value;
    return apart > STOPS.apart && (ratio > STOPS.most || ratio < STOPS.least);
  },
  find: ({ points, lanes, expected }) =>
    measuredLanes(points).flatMap((lane): UnlikePrediction[] => {
      const predicted = expected.get(lane)?.efficiency;
      if (!predicted || !(predicted.value > 0)) return [];
      const eta0 = lanes.find((l) => l.lane === lane)?.curve.eta0;
      const own = points.filter((p) => p.lane === lane).map((p) => atNormal(p, eta0));
      const measured = combine(
        own.reduce((s, e) => s + e.value, 0) / own.length,
        own.map((e) => [1 / own.length, onlyParts(e, "systematic")] as const),
      );
      const far = Math.abs(measured.value - predicted.value);
      const apart = far / Math.hypot(standardUncertainty(measured), standardUncertainty(predicted));
      if (apart < NAMED.apart || far < NAMED.share * predicted.value) return [];
      const told = (u: Uncertain) => ({ value: u.value, expanded: halfWidth(measure(u)) });
      return [
        { kind: "unlikePrediction", lane, measured: told(measured), expected: told(predicted), apart, effect: null },
      ];
    }),
};
