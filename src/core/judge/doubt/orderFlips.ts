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

/** What a plant's temperatures move by in an hour of use, K (by judgement): an order that turns within it is not one to build on. */
const NEAR_K = 5;

/** The leading curves cross near the operating point, by the crossing's own ± and a few kelvin: a little warmer or colder and the other one leads. */
export const orderFlips: DoubtFinder<OrderFlips> = {
  find(input) {
    const pair = leadingPair(input);
    const { crossings, operatingXs, way } = input;
    // Where nobody leads there is no order to flip.
    if (!pair || way !== "point" || input.verdict.kind !== "winner") return [];
    // Of copies any may be the one whose curve crosses inside its data.
    const { best, next } = input.verdict;
    const own = crossings.find(
      (c) => [c.a, c.b].some((l) => best.includes(l)) && [c.a, c.b].some((l) => next.includes(l)),
    );
    const x = operatingXs.get(pair.a);
    const near = NEAR_K / input.operatingPoint.irradianceWm2;
    if (!own || x === undefined || Math.abs(own.x.value - x) > own.expanded + near) return [];
    const { a, b } = pair;
    return [{ kind: "orderFlips", a, b, x, crossing: own.x.value, expanded: own.expanded, effect: null }];
  },
};
