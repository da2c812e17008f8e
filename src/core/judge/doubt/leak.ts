import { bestFirst, laneMean, type DoubtFinder, type Effect } from "./doubt";

export interface Leak {
  kind: "leak";
  lane: string;
  /** Of its stream, share; negative: more comes in than goes out. */
  share: number;
  limitShare: number;
  effect: Effect | null;
}

/** Two meters of one lane differ by more than both may be off: what was counted as its stream is not all of it, or more. */
export const leak: DoubtFinder<Leak> = {
  find(input) {
    const pair = bestFirst(input);
    return input.leaks
      .filter((l) => Math.abs(l.share) > l.limitShare)
      .map(({ lane, share, limitShare }): Leak => {
        const heat = laneMean(input.heats, lane, (p) => p.heat.value / p.area.value);
        const moved = Math.abs(share) * heat;
        const own = pair && (pair.best === lane || pair.next === lane);
        return { kind: "leak", lane, share, limitShare, effect: own ? { low: -moved, high: moved } : null };
      });
  },
};
