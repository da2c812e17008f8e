/** Where an instant that was chosen on one reading of a log lies on another, ms. */
export type TimeShift = (ms: number) => number;

/**
 * Follows instants from one reading of a log to another, in another zone or with its days and months the other way round.
 * With as many rows as before each instant moves with the row next to it, so that it keeps its place across a change of clocks;
 * else all move as the first row did.
 *
 * @param before instants of the rows as first read, ms, ascending @param after as read again
 *
 * @example
 * shiftedTimes([0, 60_000], [3_600_000, 3_660_000])(50_000); // → 3_650_000
 */
export function shiftedTimes(before: ArrayLike<number>, after: ArrayLike<number>): TimeShift {
  if (!before.length || !after.length) return (ms) => ms;
  if (before.length !== after.length) return (ms) => ms + after[0] - before[0];
  return (ms) => {
    let [low, high] = [0, before.length - 1];
    while (low < high) {
      const mid = (low + high) >> 1;
      if (before[mid] < ms) low = mid + 1;
      else high = mid;
    }
    const near = low > 0 && ms - before[low - 1] < before[low] - ms ? low - 1 : low;
    return ms + after[near] - before[near];
  };
}
