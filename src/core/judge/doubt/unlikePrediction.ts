import { expanded as halfWidth } from "../../uncertainty/coverage";
import { measured as measure, standardUncertainty, type Uncertain } from "../../uncertainty/uncertain";
import { besidePrediction } from "./besidePrediction";
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

/** So far from its drawing, in standard uncertainties of both and as a share, a lane is named. */
const NAMED = { apart: 3, share: 0.15 };

/** A lane that measures far from what its drawing predicts at the same condition: unit, area, flow, sun or drawing is wrong. */
export const unlikePrediction: DoubtFinder<UnlikePrediction> = {
  grave: true,
  find: (input) =>
    measuredLanes(input.points).flatMap((lane): UnlikePrediction[] => {
      const both = besidePrediction(input, lane, "systematic");
      if (!both) return [];
      const { measured, predicted } = both;
      const far = Math.abs(measured.value - predicted.value);
      const apart = far / Math.hypot(standardUncertainty(measured), standardUncertainty(predicted));
      if (apart < NAMED.apart || far < NAMED.share * predicted.value) return [];
      const told = (u: Uncertain) => ({ value: u.value, expanded: halfWidth(measure(u)) });
      return [
        { kind: "unlikePrediction", lane, measured: told(measured), expected: told(predicted), apart, effect: null },
      ];
    }),
};
