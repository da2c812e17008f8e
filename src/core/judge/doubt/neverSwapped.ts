import { coverageFactor } from "../../uncertainty/coverage";
import { around, leadingPair, type DoubtFinder, type Effect } from "./doubt";

export interface NeverSwapped {
  kind: "neverSwapped";
  a: string;
  b: string;
  effect: Effect;
}

/** The leading lanes never stood in each other's place: what belongs to the places stays in the difference. */
export const neverSwapped: DoubtFinder<NeverSwapped> = {
  find(input) {
    const pair = leadingPair(input);
    if (!pair || pair.swapped) return [];
    const half = coverageFactor(Infinity) * Math.SQRT2 * input.stationShare * input.ranking[0].heat.value;
    return [{ kind: "neverSwapped", a: pair.a, b: pair.b, effect: around(half) }];
  },
};
