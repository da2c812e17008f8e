import { nice, ticks } from "d3-array";

export interface Scale {
  (value: number): number;
  /** Round values within the domain, about so many. */
  ticks(count: number): number[];
}

type Pair = readonly [number, number];

/** A straight scale from one span to another. @param clamped what lies outside is put at the end */
export function linear([from, to]: Pair, [start, end]: Pair, clamped = false): Scale {
  const at = (value: number) => {
    const share = to === from ? 0.5 : (value - from) / (to - from);
    return start + (clamped ? Math.min(1, Math.max(0, share)) : share) * (end - start);
  };
  return Object.assign(at, { ticks: (count: number) => ticks(from, to, count) });
}

/** The span widened to round ends. */
export const rounded = ([from, to]: Pair, count: number): [number, number] => nice(from, to, count);
