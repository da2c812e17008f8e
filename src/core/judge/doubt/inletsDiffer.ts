import { bestFirst, laneMean, leadingPair, type DoubtFinder, type Effect } from "./doubt";

export interface InletsDiffer {
  kind: "inletsDiffer";
  a: string;
  b: string;
  /** Inlet of a less inlet of b, K. */
  differenceK: number;
  /** What runs in is the lane's own tank. */
  tanks?: true;
  /** null where each lane was moved to one inlet, by all daylight. */
  effect: Effect | null;
}

/** Inlets closer than this are one condition, K. */
const APART = 1;
/** What a box loses for each kelvin at most, W/(m²·K): unglazed or poorly insulated (typical value; a slope of one's own is better). */
const LOSS = 12;

/** Compared as tested, the lane with the warmer inlet has the harder work: at one inlet its heat would be more by what its losses may be, never less. */
export const inletsDiffer: DoubtFinder<InletsDiffer> = {
  find(input) {
    const pair = input.way === "tested" ? bestFirst(input) : undefined;
    // Lanes tested in turn were moved to one inlet.
    if (!pair || leadingPair(input)?.inTurn) return [];
    const inlet = (lane: string) => laneMean(input.heats, lane, (p) => p.inlet.value);
    const differenceK = inlet(pair.best) - inlet(pair.next);
    if (!(Math.abs(differenceK) > APART)) return [];
    const reach = LOSS * differenceK;
    const effect = { low: Math.min(0, reach), high: Math.max(0, reach) };
    const tanks = input.heats.some((h) => h.byTank && h.lane === pair.best) ? { tanks: true as const } : {};
    return [{ kind: "inletsDiffer", a: pair.best, b: pair.next, differenceK, ...tanks, effect }];
  },
};
