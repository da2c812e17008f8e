import { around, laneMean, leadingPair, type DoubtFinder, type Effect } from "./doubt";

export interface InletsDiffer {
  kind: "inletsDiffer";
  a: string;
  b: string;
  /** Inlet of a less inlet of b, K. */
  differenceK: number;
  effect: Effect;
}

/** Inlets closer than this are one condition, K. */
const APART = 1;
/** What a box loses for each kelvin at most, W/(m²·K): unglazed or poorly insulated (typical value; a slope of one's own is better). */
const LOSS = 12;

/** Compared as tested, the lane with the warmer inlet has the harder work: the answer could move by what its losses may be. */
export const inletsDiffer: DoubtFinder<InletsDiffer> = {
  find(input) {
    const pair = input.way === "tested" ? leadingPair(input) : undefined;
    if (!pair) return [];
    const inlet = (lane: string) => laneMean(input.heats, lane, (p) => p.inlet.value);
    const differenceK = inlet(pair.a) - inlet(pair.b);
    if (!(Math.abs(differenceK) > APART)) return [];
    return [{ kind: "inletsDiffer", a: pair.a, b: pair.b, differenceK, effect: around(LOSS * Math.abs(differenceK)) }];
  },
};
