import { leadingPair, type DoubtFinder } from "./doubt";

export interface OrderFlips {
  kind: "orderFlips";
  a: string;
  b: string;
  x: number;
  crossing: number;
  expanded: number;
  effect: null;
}

/** The leading curves cross so near the operating point that it lies within the crossing's own ±: a little warmer or colder and the other one leads. */
export const orderFlips: DoubtFinder<OrderFlips> = {
  find(input) {
    const pair = leadingPair(input);
    const { crossings = [], operatingXs, way } = input;
    // Where nobody leads there is no order to flip.
    if (!pair || way !== "point" || input.verdict.kind !== "winner") return [];
    const own = crossings.find((c) => [c.a, c.b].includes(pair.a) && [c.a, c.b].includes(pair.b));
    const x = operatingXs.get(pair.a);
    if (!own || x === undefined || Math.abs(own.x.value - x) > own.expanded) return [];
    const { a, b } = pair;
    return [{ kind: "orderFlips", a, b, x, crossing: own.x.value, expanded: own.expanded, effect: null }];
  },
};
