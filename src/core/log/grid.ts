import { kthSmallest } from "../numeric/middle";

/** A common clock for channels logged at different intervals: cell i covers [startMs + i·stepMs, + stepMs). */
export interface Grid {
  startMs: number;
  stepMs: number;
  count: number;
}

/** Typical interval between readings, ms: the median of the first 2,000. NaN for fewer than two. */
export function medianInterval(times: ArrayLike<number>): number {
  const n = Math.min(times.length, 2000);
  if (n < 2) return NaN;
  const gaps = new Float64Array(n - 1);
  for (let i = 0; i < gaps.length; i++) gaps[i] = times[i + 1] - times[i];
  return kthSmallest(gaps, Math.min(gaps.length - 1, (n - 1) >> 1));
}

/**
 * Mean of a channel in each grid cell, weighted by time.
 *
 * Between neighbouring good readings the signal is taken as straight; across a gap longer than
 * `maxGapMs` (three usual intervals) it is unknown. A cell known for less than half of its length is NaN.
 * Time-weighting keeps a burst of quick readings from outvoting the rest of the cell.
 *
 * @param times ms, ascending; @param values same length; @param codes non-zero codes are left out
 */
export function gridMean(
  times: ArrayLike<number>,
  values: ArrayLike<number>,
  codes: Uint8Array | null,
  grid: Grid,
  maxGapMs = 3 * medianInterval(times),
): Float64Array {
  const { startMs, stepMs, count } = grid;
  const integral = new Float64Array(count);
  const known = new Float64Array(count);
  const n = times.length;
  let t0 = NaN;
  let v0 = 0;
  // The cell in which the last stretch ended: the next begins there.
  let cell = -1;
  for (let i = 0; i < n; i++) {
    const v1 = values[i];
    if ((codes && codes[i] !== 0) || Number.isNaN(v1)) continue;
    const t1 = times[i];
    if (t1 - t0 <= maxGapMs) {
      // The straight line from (t0, v0) to (t1, v1), added to the cells it crosses.
      const slope = (v1 - v0) / (t1 - t0);
      let from = t0 > startMs ? t0 : startMs;
      if (cell < 0) cell = Math.floor((from - startMs) / stepMs);
      while (from < t1 && cell < count) {
        const edge = startMs + (cell + 1) * stepMs;
        const to = t1 < edge ? t1 : edge;
        const length = to - from;
        integral[cell] += length * (v0 + slope * ((from + to) / 2 - t0));
        known[cell] += length;
        from = to;
        if (to === edge) cell++;
      }
    } else cell = -1;
    t0 = t1;
    v0 = v1;
  }
  const mean = new Float64Array(count);
  for (let c = 0; c < count; c++) mean[c] = known[c] >= stepMs / 2 ? integral[c] / known[c] : NaN;
  return mean;
}

/** Means of consecutive blocks of `width` cells; NaN where more than half is missing. */
export function blockMeans(values: Float64Array, width: number): Float64Array {
  if (width <= 1) return values;
  const out = new Float64Array(Math.floor(values.length / width));
  for (let b = 0; b < out.length; b++) {
    let sum = 0;
    let known = 0;
    for (let i = b * width; i < (b + 1) * width; i++) {
      const v = values[i];
      if (Number.isNaN(v)) continue;
      sum += v;
      known++;
    }
    out[b] = known * 2 >= width ? sum / known : NaN;
  }
  return out;
}
