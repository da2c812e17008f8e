import { around, type DoubtFinder, type Effect } from "./doubt";
import { FLOW_TOLERANCE } from "./tolerances";
import { flowsApart } from "./unequalFlow";

export interface IdenticalPairApart {
  kind: "identicalPairApart";
  a: string;
  b: string;
  difference: number;
  expanded: number;
  /** Their flows' distance, share of the mean, where it is more than tolerance: reason enough to differ. */
  flowsApart: number | null;
  effect: Effect;
}

/** Two copies of one variant that differ: the bench is not as good as its parts. */
export const identicalPairApart: DoubtFinder<IdenticalPairApart> = {
  find: (input) =>
    input.pairs
      .filter((p) => p.identical && (p.decision === "aBetter" || p.decision === "bBetter"))
      .map((p) => ({
        kind: "identicalPairApart",
        a: p.a,
        b: p.b,
        difference: p.measured.value,
        expanded: p.expanded,
        flowsApart: flowShare(flowsApart(input, p.a, p.b)),
        effect: around(Math.abs(p.measured.value)),
      })),
};

const flowShare = (share: number): number | null => (share > FLOW_TOLERANCE ? share : null);
