import { overModifier } from "../../analysis/points";
import { measuredLanes, saidRight, type DoubtFinder } from "./doubt";

export interface AboveOpticalLimit {
  kind: "aboveOpticalLimit";
  lane: string;
  efficiency: number;
  limit: number;
  windows: number;
  /** Of so many windows in all. */
  of: number;
  /** A person has said at import that it is right. */
  accepted: boolean;
  effect: null;
}

/** An efficiency that glass and coating do not allow: area, flow or sun must be wrong. */
export const aboveOpticalLimit: DoubtFinder<AboveOpticalLimit> = {
  grave: true,
  find: ({ points, opticalLimits, implausible }) =>
    measuredLanes(points).flatMap((lane): AboveOpticalLimit[] => {
      const limit = opticalLimits.get(lane);
      if (limit === undefined) return [];
      const own = points.filter((p) => p.lane === lane);
      const over = own.map(overModifier).filter((e) => e > limit);
      if (over.length === 0) return [];
      const efficiency = Math.max(...over);
      return [
        {
          ...{ kind: "aboveOpticalLimit", lane, efficiency, limit, windows: over.length, of: own.length },
          accepted: saidRight(implausible, "efficiencyAboveLimit", lane),
          effect: null,
        },
      ];
    }),
};
