import { around, leadingPair, measuredLanes, type DoubtFinder, type Effect } from "./doubt";

export interface ReadEarly {
  kind: "readEarly";
  lanes: { lane: string; timeConstants: number }[];
  effect: Effect | null;
}

/** Time constants after which a step is over but for 2 %: ISO 9806:2017 waits for four. */
const ENOUGH = 3.5;
/** A step before a window is taken to be a third of the lane's heat (by judgement). */
const STEP = 0.3;

/** Rules that let boxes settle for less than a few of their own time constants: the slower box is read too low after every cloud. */
export const readEarly: DoubtFinder<ReadEarly> = {
  find(input) {
    const { points, settling, ranking, way } = input;
    if (!settling || way !== "point") return [];
    const found = measuredLanes(points).flatMap((lane) => {
      const tauS = settling.timeConstants.get(lane) ?? 0;
      const timeConstants = tauS > 0 ? settling.settleS(tauS) / tauS : Infinity;
      return timeConstants < ENOUGH ? [{ lane, timeConstants }] : [];
    });
    if (found.length === 0) return [];
    const pair = leadingPair(input);
    const left = (lane: string) => {
      const n = found.find((f) => f.lane === lane)?.timeConstants;
      return n === undefined ? 0 : Math.exp(-n);
    };
    const half = pair ? STEP * Math.abs(left(pair.a) - left(pair.b)) * (ranking[0]?.heat.value ?? 0) : 0;
    return [{ kind: "readEarly", lanes: found, effect: half > 0 ? around(half) : null }];
  },
};
