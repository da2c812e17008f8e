import { coverageFactor } from "../uncertainty/coverage";
import { combine, effectiveDof, standardUncertainty, withSource, type Uncertain } from "../uncertainty/uncertain";

/** A variant with what a box of it gives and costs. */
export interface Offer {
  variant: string;
  /** Heat of one box, W. */
  heat: Uncertain;
  cost: number;
}

export interface Placed extends Offer {
  /** Nothing that costs no more gives more. */
  front: boolean;
  /** The variant that gives more and costs no more. */
  beatenBy: string | null;
  /** Its heat is told to be more; else cost alone is sure. */
  surely: boolean;
  /** Heat and money more than the cheaper neighbour on the front; null for the cheapest and for what is beaten. */
  step: { from: string; heat: Uncertain; expanded: number; cost: number } | null;
}

/**
 * Cost against heat (Pareto): which variants nobody would choose, because another gives more for no more money. Differences of heat share the
 * lanes' common errors, as their ± are combined source by source; the scatter of each counts as its own, and the bench's repeatability once a box, so
 * "surely" is never said too early.
 *
 * @param repeatability bench's own spread of two equal boxes, W a box
 */
export function costFront(offers: readonly Offer[], repeatability = 0): Placed[] {
  const sorted = [...offers].sort((a, b) => a.cost - b.cost || b.heat.value - a.heat.value);
  const more = (a: Offer, b: Offer) => {
    const heat = combine(a.heat.value - b.heat.value, [
      [1, a.heat],
      [-1, b.heat],
      [
        1,
        withSource(0, repeatability, {
          kind: "repeatability",
          lanes: `${a.variant}/${b.variant}`,
          owner: "",
          dof: Infinity,
        }),
      ],
    ]);
    return { heat, expanded: coverageFactor(effectiveDof(heat)) * standardUncertainty(heat) };
  };
  let last: Offer | null = null;
  return sorted.map((offer, i): Placed => {
    const rivals = sorted.slice(0, i).filter((r) => r.heat.value >= offer.heat.value);
    // Of those that beat it, the one that does so most surely.
    const [best] = rivals
      .map((r) => ({ r, ...more(r, offer) }))
      .sort((a, b) => b.heat.value - b.expanded - (a.heat.value - a.expanded));
    if (best)
      return { ...offer, front: false, beatenBy: best.r.variant, surely: best.heat.value > best.expanded, step: null };
    const from = last;
    last = offer;
    const step = from && { from: from.variant, ...more(offer, from), cost: offer.cost - from.cost };
    return { ...offer, front: true, beatenBy: null, surely: step ? step.heat.value > step.expanded : true, step };
  });
}
