import { flowPerGrossArea } from "../../analysis/points";
import { around, laneMean, leadingPair, type DoubtFinder, type Effect } from "./doubt";
import { FLOW_SENSITIVITY } from "./tolerances";

export interface OtherFlow {
  kind: "otherFlow";
  lanes: { lane: string; tested: number; operating: number; moved: boolean }[];
  effect: Effect | null;
}

/** Flows apart by more than this factor are named. */
const APART = 1.25;

/**
 * Lanes judged at another flow than they were tested at. Where the drawing moved them its own doubt is in the difference already; else
 * transfer from wall to stream may have changed by as much, in either lane.
 */
export const otherFlow: DoubtFinder<OtherFlow> = {
  find(input) {
    const { lanes, points, way, operatingPoint } = input;
    if (way !== "point") return [];
    const far = lanes.flatMap(({ lane, flowPerArea = operatingPoint.flowPerArea, move }) => {
      const tested = laneMean(points, lane, flowPerGrossArea);
      const ratio = flowPerArea / tested;
      return tested > 0 && (ratio > APART || ratio < 1 / APART)
        ? [{ lane, tested, operating: flowPerArea, moved: move !== null && move !== undefined }]
        : [];
    });
    if (far.length === 0) return [];
    const pair = leadingPair(input);
    const unmoved = far.filter((f) => !f.moved && (!pair || [pair.a, pair.b].includes(f.lane)));
    const level = input.ranking[0]?.heat.value ?? 0;
    const half = Math.hypot(...unmoved.map((f) => FLOW_SENSITIVITY * Math.log(f.operating / f.tested) * level));
    return [{ kind: "otherFlow", lanes: far, effect: unmoved.length ? around(half) : null }];
  },
};
