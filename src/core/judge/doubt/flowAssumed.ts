import type { DoubtFinder } from "./doubt";

export interface FlowAssumed {
  kind: "flowAssumed";
  /** Lanes whose flow nobody logged, with its ± share. */
  lanes: { lane: string; limitShare: number }[];
  effect: null;
}

/** A flow that was stated once, not measured while the sun shone: its ± is in every figure, but a blocked duct would not show. */
export const flowAssumed: DoubtFinder<FlowAssumed> = {
  find: ({ assumedFlows }) =>
    assumedFlows.length ? [{ kind: "flowAssumed", lanes: [...assumedFlows], effect: null }] : [],
};
