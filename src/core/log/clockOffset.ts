import { gridMean, type Grid } from "./grid";

/** A signal one logger recorded. */
export interface Signal {
  times: ArrayLike<number>;
  values: ArrayLike<number>;
  codes?: Uint8Array | null;
}

export interface ClockOffset {
  /** Add this to the second logger's times to agree with the first, ms: its clock was slow by so much. */
  offsetMs: number;
  /** Standard uncertainty, ms. */
  standardMs: number;
  /** Correlation of the two signals' changes at that offset, 0 to 1. */
  correlation: number;
}

const STEP = 10_000;
/** Clocks further apart are a wrong zone or date: other checks find those. */
const MOST = 3 * 3600_000;
/** Changes slower than this say nothing about seconds. */
export const SMOOTH_MS = 600_000;
/** Signals that move together less than this are not the same signal. */
const ALIKE = 0.5;
/** The best offset must beat all that lie further than ten minutes from it by so much. */
const AHEAD = 0.12;
const APART = 600_000;
const PARTS = 6;
/** Fewest cells that a correlation is made of. */
const FEWEST = 20;
/** A shift known worse than this is none, ms. */
const WORST = 90_000;
/** Longest stretch that is looked at, cells: more adds no precision worth waiting for. */
const MOST_CELLS = 3 * 8640;

/**
 * How far a second logger's clock is behind a first, from a signal that both saw: the shift at which their changes are most alike.
 * Each signal loses its slow course (a running mean of ten minutes), so that morning and afternoon do not decide; the ± is the scatter
 * of the shift over six parts of the common time (a jack-knife of the peak), never less than half a reading of the slower logger.
 *
 * @param smoothMs changes slower than this are taken out; longer for what follows slowly
 *
 * @returns null where the signals do not tell: too little in common, or two shifts that are nearly as good
 */
export function clockOffsetOf(a: Signal, b: Signal, smoothMs = SMOOTH_MS): ClockOffset | null {
  if (!overlap(a, b)) return null;
  const paces = Math.max(coarsest(a), coarsest(b));
  // By the minute over hours first, then by the reading near the best minute.
  const minutes = onGrid(a, b, Math.max(60_000, paces), smoothMs);
  if (!minutes) return null;
  const all = correlogram(minutes, MOST, [0, 1]);
  const best = peakOf(all);
  if (!best || best.r < ALIKE) return null;
  const rival = Math.max(-1, ...all.filter((c) => Math.abs(c.ms - best.ms) > APART).map((c) => c.r));
  if (best.r - rival < AHEAD) return null;
  const fine = onGrid(a, b, Math.max(STEP, paces), smoothMs) ?? minutes;
  const near = (part: readonly [number, number]) => peakOf(correlogram(fine, APART / 2, part, best.ms));
  const found = near([0, 1]);
  if (!found) return null;
  const parts = Array.from({ length: PARTS }, (_, p) => near([p / PARTS, (p + 1) / PARTS])).flatMap((c) =>
    c && c.r > ALIKE / 2 ? [c.ms] : [],
  );
  if (parts.length < 3) return null;
  const scatter = Math.sqrt(parts.reduce((s, v) => s + (v - found.ms) ** 2, 0) / (parts.length - 1) / parts.length);
  const standardMs = Math.hypot(scatter, fine.stepMs / Math.sqrt(12));
  return standardMs > WORST ? null : { offsetMs: found.ms, standardMs, correlation: found.r };
}

/** Both signals' changes on one grid. */
interface Pair {
  x: Float64Array;
  y: Float64Array;
  stepMs: number;
}

function onGrid(a: Signal, b: Signal, stepMs: number, smoothMs: number): Pair | null {
  const from = Math.min(a.times[0], b.times[0]);
  const to = Math.max(a.times[a.times.length - 1], b.times[b.times.length - 1]);
  const count = Math.min(MOST_CELLS, Math.floor((to - from) / stepMs));
  if (!(count > 10 * PARTS)) return null;
  const grid: Grid = { startMs: from, stepMs, count };
  const [x, y] = [a, b].map((s) =>
    changes(gridMean(s.times, s.values, s.codes ?? null, grid), Math.round(smoothMs / stepMs / 2)),
  );
  return { x, y, stepMs };
}

/** One logger that goes on where another ended saw nothing of what the other saw. */
function overlap({ times: a }: Signal, { times: b }: Signal): boolean {
  const [endA, endB] = [a[a.length - 1], b[b.length - 1]];
  const shared = Math.min(endA, endB) - Math.max(a[0], b[0]);
  return shared > 0.4 * Math.min(endA - a[0], endB - b[0]);
}

/** Typical interval of a signal, ms. */
function coarsest({ times }: Signal): number {
  const n = Math.min(times.length, 2000);
  const gaps = Array.from({ length: Math.max(0, n - 1) }, (_, i) => times[i + 1] - times[i]).sort((p, q) => p - q);
  return gaps[gaps.length >> 1] ?? STEP;
}

/** A signal less its running mean. */
function changes(values: Float64Array, width: number): Float64Array {
  const half = Math.max(2, width);
  const sums = new Float64Array(values.length + 1);
  const known = new Float64Array(values.length + 1);
  values.forEach((v, i) => {
    sums[i + 1] = sums[i] + (Number.isNaN(v) ? 0 : v);
    known[i + 1] = known[i] + (Number.isNaN(v) ? 0 : 1);
  });
  return values.map((v, i) => {
    const [lo, hi] = [Math.max(0, i - half), Math.min(values.length, i + half + 1)];
    return v - (sums[hi] - sums[lo]) / (known[hi] - known[lo]);
  });
}

interface Correlation {
  /** y moved later by so much, ms. */
  ms: number;
  r: number;
}

/** Correlation of x with y moved by up to `within` about `near`, over a part of x; where little is known a shift is left out. */
function correlogram(
  { x, y, stepMs }: Pair,
  within: number,
  [from, to]: readonly [number, number],
  near = 0,
): Correlation[] {
  const middle = Math.round(near / stepMs);
  const lags = Math.max(2, Math.round(within / stepMs));
  const [first, last] = [Math.floor(from * x.length), Math.floor(to * x.length)];
  return Array.from({ length: 2 * lags + 1 }, (_, k) => {
    const shift = middle + k - lags;
    let xy = 0;
    let xx = 0;
    let yy = 0;
    let n = 0;
    for (let i = Math.max(first, shift); i < Math.min(last, y.length + shift); i++) {
      const p = x[i];
      const q = y[i - shift];
      if (Number.isNaN(p + q)) continue;
      xy += p * q;
      xx += p * p;
      yy += q * q;
      n++;
    }
    return { ms: shift * stepMs, r: n > FEWEST && xx > 0 && yy > 0 ? xy / Math.sqrt(xx * yy) : NaN };
  }).filter((c) => !Number.isNaN(c.r));
}

/** The best shift, between its neighbours by a parabola. null where the best lies at an end: it is not known how it goes on. */
function peakOf(all: readonly Correlation[]): Correlation | null {
  const k = all.reduce((best, c, i) => (c.r > all[best].r ? i : best), 0);
  if (k === 0 || k >= all.length - 1) return null;
  const [a, b, c] = [all[k - 1].r, all[k].r, all[k + 1].r];
  const bend = a - 2 * b + c;
  const between = bend < 0 ? (0.5 * (a - c)) / bend : 0;
  return { ms: all[k].ms + between * (all[k + 1].ms - all[k].ms), r: b };
}
