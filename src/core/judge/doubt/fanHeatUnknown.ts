import { measuredLanes, type DoubtFinder } from "./doubt";

export interface FanHeatUnknown {
  kind: "fanHeatUnknown";
  lanes: string[];
  effect: null;
}

/** The fan stands between the probes, so its electricity is in the rise; nobody measured how much it draws. */
export const fanHeatUnknown: DoubtFinder<FanHeatUnknown> = {
  find({ points, fanShares }) {
    const lanes = measuredLanes(points).filter(
      (lane) => (fanShares.get(lane) ?? 0) > 0 && points.some((p) => p.lane === lane && Number.isNaN(p.fanW)),
    );
    return lanes.length ? [{ kind: "fanHeatUnknown", lanes, effect: null }] : [];
  },
};
