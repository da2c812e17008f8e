/** Readings a step of the overview. */
const STEP = 64;

/** What each `STEP` readings of a channel come to: sum and number of those kept. */
export interface Overview {
  sums: Float64Array;
  kept: Uint16Array;
}

/** @param codes non-zero codes are left out */
export function overviewOf(values: Float64Array, codes: Uint8Array): Overview {
  const steps = Math.floor(values.length / STEP);
  const sums = new Float64Array(steps);
  const kept = new Uint16Array(steps);
  for (let s = 0; s < steps; s++)
    for (let i = s * STEP; i < (s + 1) * STEP; i++) {
      if (codes[i] !== 0) continue;
      sums[s] += values[i];
      kept[s]++;
    }
  return { sums, kept };
}

/**
 * Where equal buckets of a span begin among readings: place b is the first reading of bucket b, the last place the end.
 * A reading at the very end of the span belongs to the last bucket.
 * @param times ms, ascending; @param fromMs, toMs on the same clock
 */
export function bucketEdges(times: Float64Array, fromMs: number, toMs: number, buckets: number): Uint32Array {
  const edges = new Uint32Array(buckets + 1);
  const length = (toMs - fromMs) / buckets;
  for (let b = 0; b < buckets; b++) edges[b] = firstAt(times, fromMs + b * length, false);
  edges[buckets] = firstAt(times, toMs, true);
  return edges;
}

function firstAt(times: Float64Array, ms: number, after: boolean): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (times[middle] < ms || (after && times[middle] === ms)) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Mean of the kept readings in each bucket (NaN where there is none), and how many were left out. Whole steps are not opened. */
export function bucketMeans(
  values: Float64Array,
  codes: Uint8Array,
  { sums, kept }: Overview,
  edges: Uint32Array,
): { mean: Float32Array; out: Float32Array } {
  const buckets = edges.length - 1;
  const mean = new Float32Array(buckets);
  const out = new Float32Array(buckets);
  for (let b = 0; b < buckets; b++) {
    const to = edges[b + 1];
    let sum = 0;
    let n = 0;
    for (let i = edges[b]; i < to;) {
      if (i % STEP === 0 && i + STEP <= to) {
        sum += sums[i / STEP];
        n += kept[i / STEP];
        i += STEP;
      } else {
        if (codes[i] === 0) {
          sum += values[i];
          n++;
        }
        i++;
      }
    }
    mean[b] = n ? sum / n : NaN;
    out[b] = to - edges[b] - n;
  }
  return { mean, out };
}
