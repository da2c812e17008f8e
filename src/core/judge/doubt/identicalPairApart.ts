import { around, type DoubtFinder, type Effect } from "./doubt";

export interface IdenticalPairApart {
  kind: "identicalPairApart";
  a: string;
  b: string;
  difference: number;
  expanded: number;
  effect: Effect;
}

/** Two copies of one variant that differ: the bench is not as good as its parts. */
export const identicalPairApart: DoubtFinder<IdenticalPairApart> = {
  find: ({ pairs }) =>
    pairs
      .filter((p) => p.identical && (p.decision === "aBetter" || p.decision === "bBetter"))
      .map((p) => ({
        kind: "identicalPairApart",
        a: p.a,
        b: p.b,
        difference: p.measured.value,
        expanded: p.expanded,
        effect: around(Math.abs(p.measured.value)),
      })),
};
