import { measuredLanes, type DoubtFinder } from "./doubt";

export interface NegativeFlow {
  kind: "negativeFlow";
  lane: string;
  windows: number;
  effect: null;
}

/** A stream that runs backwards, or a meter the wrong way round. */
export const negativeFlow: DoubtFinder<NegativeFlow> = {
  grave: true,
  find: ({ heats }) =>
    measuredLanes(heats).flatMap((lane): NegativeFlow[] => {
      const windows = heats.filter((p) => p.lane === lane && p.massFlow.value < 0).length;
      return windows ? [{ kind: "negativeFlow", lane, windows, effect: null }] : [];
    }),
};
