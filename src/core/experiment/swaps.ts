import type { Arrangement } from "./layers";
import type { Stand } from "./schema/layer";

/** Two boxes that changed places at an instant of a run. */
export interface Swap {
  atMs: number;
  lanes: readonly [string, string];
}

/** More swaps in one run than anybody makes by hand: the column is something else. */
export const MOST_SWAPS = 48;
/** A column that goes back within this never meant a swap, ms. */
const SHORTEST_MS = 60000;

/**
 * Instants at which a column's value changes for good, ms: the first reading of each new value. What goes back within a minute is a
 * slip of the logger.
 */
export function changesOf(times: ArrayLike<number>, values: ArrayLike<number>): number[] {
  const found: { atMs: number; value: number }[] = [];
  for (let i = 0; i < times.length; i++) {
    const value = values[i];
    if (Number.isNaN(value)) continue;
    const last = found[found.length - 1];
    if (last && value === last.value) continue;
    const before = found[found.length - 2];
    if (last && before && before.value === value && times[i] - last.atMs < SHORTEST_MS) found.pop();
    else found.push({ atMs: times[i], value });
  }
  return found.slice(1).map((f) => f.atMs);
}

/**
 * Who stands where once two boxes changed places at an instant: from then on, in every arrangement that follows, each stands where
 * the other would have stood, so that a swap put in before another leaves the other a swap. null when the two do not both stand
 * somewhere at that instant.
 */
export function standsAfter(arrangements: readonly Arrangement[], { atMs, lanes: [a, b] }: Swap): Stand[] | null {
  const later = arrangements.filter((x) => (x.untilMs ?? Infinity) > atMs);
  const placeOf = ({ lanes }: Arrangement, letter: string) => [...lanes].find(([, l]) => l === letter)?.[0];
  if (a === b || !later.length || placeOf(later[0], a) === undefined || placeOf(later[0], b) === undefined) return null;
  return later.flatMap((x, i) => {
    const span = { fromMs: i === 0 ? atMs : x.fromMs, untilMs: x.untilMs };
    const exchanged = [
      [placeOf(x, a), b],
      [placeOf(x, b), a],
    ] as const;
    return exchanged.flatMap(([station, lane]) => (station === undefined ? [] : [{ station, lane, ...span }]));
  });
}
