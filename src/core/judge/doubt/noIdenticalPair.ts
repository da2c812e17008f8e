import type { DoubtFinder } from "./doubt";

export interface NoIdenticalPair {
  kind: "noIdenticalPair";
  effect: null;
}

/** Nothing shows what two equal boxes would differ by on this bench. */
export const noIdenticalPair: DoubtFinder<NoIdenticalPair> = {
  find: ({ pairs, ranking }) =>
    ranking.length > 1 && !pairs.some((p) => p.identical) ? [{ kind: "noIdenticalPair", effect: null }] : [],
};
