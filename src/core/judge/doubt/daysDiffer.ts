import type { DoubtFinder } from "./doubt";

export interface DaysDiffer {
  kind: "daysDiffer";
  lanes: string[];
  effect: null;
}

/** Days that differ more than windows do: wind, dust or drift. */
export const daysDiffer: DoubtFinder<DaysDiffer> = {
  find({ lanes, way }) {
    if (way !== "point") return [];
    const restless = lanes.filter((l) => l.curve.daysDiffer).map((l) => l.lane);
    return restless.length ? [{ kind: "daysDiffer", lanes: restless, effect: null }] : [];
  },
};
