import type { DoubtFinder } from "./doubt";

export interface TimeConstantAssumed {
  kind: "timeConstantAssumed";
  lanes: string[];
  effect: null;
}

/** How long a window must have settled rests on a time constant that nobody measured or stated, of a box that is only a sketch. */
export const timeConstantAssumed: DoubtFinder<TimeConstantAssumed> = {
  find({ sketchedTimeConstants, heats, points, way }) {
    // Hours and days rest on no window.
    const windows = way === "point" || heats.length === points.length;
    const lanes = windows ? sketchedTimeConstants.filter((l) => heats.some((h) => h.lane === l)) : [];
    return lanes.length ? [{ kind: "timeConstantAssumed", lanes, effect: null }] : [];
  },
};
