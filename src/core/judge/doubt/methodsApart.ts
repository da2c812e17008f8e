import type { SpanUnit, WaysApart } from "../tested";
import { bestFirst, type DoubtFinder } from "./doubt";

export interface MethodsApart {
  kind: "methodsApart";
  a: string;
  b: string;
  /** Heat of the best over the next, less 1, by each way that pairs them, with its ends at 95 %. */
  by: { unit: SpanUnit; share: number; low: number; high: number }[];
  effect: null;
}

/**
 * The leading two by steady windows, by hours, by days or by rounds: one question, the same readings and instruments. Where two of these lie apart by
 * more than their scatter and the instruments they do not share, something is in the one that is not in the other: heat stored, a morning's shade, a span that was disturbed.
 */
export const methodsApart: DoubtFinder<MethodsApart> = {
  find(input) {
    // Beside curves, windows at other inlets than the hours' are another condition, and boxes whose curves cross differ by it.
    const pair = input.way === "tested" ? bestFirst(input) : undefined;
    if (!pair) return [];
    const by = input.tested.flatMap(({ unit, pairs }) => {
      const own = pairs.find((p) => [p.a, p.b].includes(pair.best) && [p.a, p.b].includes(pair.next));
      if (!own) return [];
      const turned = own.a !== pair.best;
      const [ratio, low, high] = turned ? [1 / own.ratio, 1 / own.high, 1 / own.low] : [own.ratio, own.low, own.high];
      return [{ unit, share: ratio - 1, low: low - 1, high: high - 1 }];
    });
    const isOf = ({ a, b }: WaysApart) => [a, b].includes(pair.best) && [a, b].includes(pair.next);
    return input.apart.some(isOf) ? [{ kind: "methodsApart", a: pair.best, b: pair.next, by, effect: null }] : [];
  },
};
