import type { Grid } from "./grid";

/**
 * How fast a counter counts, per second, on a grid. Between two changes of its reading the rate is what was counted over the time
 * it took: a meter that clicks once a minute gives a smooth flow and not a needle a minute. Before its first change a counter's
 * rate is unknown, for nobody saw its last; one that goes back was reset, and that interval is unknown too.
 *
 * @param times ms, ascending; @param codes non-zero codes are left out
 */
export function rateOnGrid(
  times: ArrayLike<number>,
  values: ArrayLike<number>,
  codes: Uint8Array | null,
  { startMs, stepMs, count }: Grid,
): Float64Array {
  const counted = new Float64Array(count);
  const known = new Float64Array(count);
  /** A rate from one instant to another, shared out to the cells it crosses. */
  const add = (fromMs: number, toMs: number, perMs: number) => {
    let from = Math.max(fromMs, startMs);
    for (let cell = Math.floor((from - startMs) / stepMs); from < toMs && cell < count; cell++) {
      const to = Math.min(toMs, startMs + (cell + 1) * stepMs);
      counted[cell] += (to - from) * perMs;
      known[cell] += to - from;
      from = to;
    }
  };
  let changed = -1;
  let seen = -1;
  let longest = 0;
  let changes = 0;
  for (let i = 0; i < times.length; i++) {
    if ((codes && codes[i] !== 0) || Number.isNaN(values[i])) continue;
    if (changed < 0) changed = i;
    const step = values[i] - values[changed];
    if (step !== 0) {
      if (step > 0 && changes > 0) {
        add(times[changed], times[i], step / (times[i] - times[changed]));
        longest = Math.max(longest, times[i] - times[changed]);
      }
      changed = i;
      changes = step > 0 ? changes + 1 : 0;
    }
    seen = i;
  }
  // After its last click a counter stands still: known once it is silent longer than it ever was while it counted.
  if (changed >= 0 && times[seen] - times[changed] > longest) add(times[changed], times[seen], 0);
  return counted.map((c, i) => (known[i] >= stepMs / 2 ? c / (known[i] / 1000) : NaN));
}
