import { measuredLanes, saidRight, type DoubtFinder } from "./doubt";

export interface NegativeFlow {
  kind: "negativeFlow";
  lane: string;
  windows: number;
  /** A person has said at import that it is right. */
  accepted: boolean;
  effect: null;
}

/** A stream that runs backwards, or a meter the wrong way round. */
export const negativeFlow: DoubtFinder<NegativeFlow> = {
  grave: true,
  find: ({ heats, implausible }) =>
    measuredLanes(heats).flatMap((lane): NegativeFlow[] => {
      const windows = heats.filter((p) => p.lane === lane && p.massFlow.value < 0).length;
      const accepted = saidRight(implausible, "flowBackwards", lane);
      return windows ? [{ kind: "negativeFlow", lane, windows, accepted, effect: null }] : [];
    }),
};
