import { expanded as halfWidth } from "../../uncertainty/coverage";
import { measured as measure, scale, standardUncertainty, subtract, type Uncertain } from "../../uncertainty/uncertain";
import { besidePrediction } from "./besidePrediction";
import { measuredLanes, type DoubtFinder } from "./doubt";

interface Told {
  value: number;
  expanded: number;
}

export interface DifferenceUnlike {
  kind: "differenceUnlike";
  /** The one with more by its drawing, and the other. */
  a: string;
  b: string;
  /** Heat of a less that of b, W/m² straight on under the sun of their windows, with half-widths at 95 %. */
  measured: Told;
  predicted: Told;
  effect: null;
}

/** Standard uncertainties of measured and predicted difference together, beyond which they do not agree. */
const NAMED = 3;

/**
 * Two lanes that differ by something else than their drawings say, although each alone may lie within its own ±: what both share
 * cancels in a difference, in the model as at the bench, so it is the sharper test of a lane, and of a drawing.
 */
export const differenceUnlike: DoubtFinder<DifferenceUnlike> = {
  find(input) {
    const { verdict } = input;
    const lanes = measuredLanes(input.points).flatMap((lane) => {
      // What was turned by turns is in its means half of the time: no drawing says that.
      if (verdict.kind === "turned" && verdict.lane === lane) return [];
      const both = besidePrediction(input, lane, "all");
      return both ? [{ lane, ...both }] : [];
    });
    const found: (DifferenceUnlike & { apart: number })[] = [];
    for (const [i, one] of lanes.entries())
      for (const other of lanes.slice(i + 1)) {
        const [a, b] = one.predicted.value >= other.predicted.value ? [one, other] : [other, one];
        const windows = input.points.filter((p) => p.lane === a.lane || p.lane === b.lane);
        const sun = windows.reduce((n, p) => n + p.irradiance.value, 0) / windows.length;
        const measured = scale(subtract(a.measured, b.measured), sun);
        const predicted = scale(subtract(a.predicted, b.predicted), sun);
        const far = Math.abs(measured.value - predicted.value);
        const apart = far / Math.hypot(standardUncertainty(measured), standardUncertainty(predicted));
        if (!(apart > NAMED) || far < input.smallestDifference) continue;
        const told = (u: Uncertain): Told => ({ value: u.value, expanded: halfWidth(measure(u)) });
        found.push({
          kind: "differenceUnlike",
          a: a.lane,
          b: b.lane,
          measured: told(measured),
          predicted: told(predicted),
          effect: null,
          apart,
        });
      }
    // One box that is not its drawing stands in several pairs: the widest of them names it.
    return found
      .sort((x, y) => y.apart - x.apart)
      .slice(0, 1)
      .map(({ apart: _, ...doubt }) => doubt);
  },
};
