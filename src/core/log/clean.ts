import { CHANNEL_KINDS, channelOf, type ChannelKind } from "./channel";
import { median } from "../numeric/middle";
import { medianInterval } from "./grid";

/** Why a reading is left out. 0 keeps it. */
export const CLEAN = { kept: 0, missing: 1, errorCode: 2, outOfRange: 3, stuck: 4, spike: 5, excluded: 6 } as const;
export type CleanReason = Exclude<keyof typeof CLEAN, "kept">;
export const CLEAN_REASONS = (Object.keys(CLEAN) as (keyof typeof CLEAN)[]).filter(
  (k): k is CleanReason => k !== "kept",
);

export interface CleanFinding {
  reason: CleanReason;
  count: number;
  firstMs: number;
  lastMs: number;
}

export interface CleanResult {
  /** One code of CLEAN a reading; the raw values are not touched. */
  codes: Uint8Array;
  findings: CleanFinding[];
}

export interface CleanOptions {
  /** Spans set aside by a person. */
  exclude?: readonly { fromMs: number; toMs: number }[];
  /** Findings that a person knows to be measurements: not left out. What is missing stays missing. */
  keep?: ReadonlySet<CleanReason>;
  /** A reading unchanged for this long can be stuck, s. */
  stuckAfterS?: number;
}

const MINUTE = 60000;
/** Median absolute deviation to standard deviation for normal data (Hampel 1974). */
const MAD_TO_SD = 1.4826;
const SPIKE_HALF_WIDTH = 7;
const SPIKE_LIMIT = 6;
/**
 * Marks readings that are not measurements: gaps, probe error codes (−127 for a lost digital
 * probe, 85.0 at its power-up), values outside the physically possible, a stuck channel, and lone spikes
 * (Hampel filter, 15 readings, 6 scaled MAD, only above a floor).
 *
 * Stuck means exactly one value for `stuckAfterS` (15 min) and six times longer than the channel's
 * own usual repeats, so a coarse probe in calm air is not accused. Zero sun or flow may last all night.
 */
export function cleanChannel(
  times: ArrayLike<number>,
  values: ArrayLike<number>,
  kind: ChannelKind,
  options: CleanOptions = {},
): CleanResult {
  const n = values.length;
  const codes = new Uint8Array(n);
  const [low, high] = CHANNEL_KINDS[kind].range;
  const isTemperature = CHANNEL_KINDS[kind].quantity === "temperature";
  for (let i = 0; i < n; i++) {
    const v = values[i];
    if (v >= low && v <= high && v !== 85) continue;
    if (Number.isNaN(v)) codes[i] = CLEAN.missing;
    else if (isTemperature && (v === -127 || v === -196.6 || isPowerUp(values, i))) codes[i] = CLEAN.errorCode;
    else if (v < low || v > high) codes[i] = CLEAN.outOfRange;
  }
  if (!channelOf(kind).mayStandStill) markStuck(times, values, codes, kind, (options.stuckAfterS ?? 900) * 1000);
  const floor = channelOf(kind).spikeFloor;
  if (floor !== undefined) markSpikes(values, codes, floor);
  for (const reason of options.keep ?? [])
    if (reason !== "missing") for (let i = 0; i < n; i++) if (codes[i] === CLEAN[reason]) codes[i] = CLEAN.kept;
  for (const { fromMs, toMs } of options.exclude ?? []) {
    for (let i = 0; i < n; i++) if (times[i] >= fromMs && times[i] <= toMs) codes[i] = CLEAN.excluded;
  }
  return { codes, findings: summarise(times, codes) };
}

function isPowerUp(values: ArrayLike<number>, i: number): boolean {
  if (values[i] !== 85) return false;
  const near = [values[i - 1], values[i + 1]].filter((v) => v !== undefined && v !== 85 && !Number.isNaN(v));
  return near.length === 0 || near.some((v) => Math.abs(v - 85) > 5);
}

function markStuck(
  times: ArrayLike<number>,
  values: ArrayLike<number>,
  codes: Uint8Array,
  kind: ChannelKind,
  afterMs: number,
): void {
  const { restsAtZero } = channelOf(kind);
  const suspects: { from: number; to: number }[] = [];
  // The logger's silence says nothing about its probe.
  const gapMs = 5 * medianInterval(times);
  eachRun(times, values, codes, gapMs, (from, to) => {
    if (times[to] - times[from] >= afterMs && !(restsAtZero && Math.abs(values[from]) < 5)) suspects.push({ from, to });
  });
  if (suspects.length === 0) return;
  const lengths: number[] = [];
  eachRun(times, values, codes, gapMs, (from, to) => lengths.push(times[to] - times[from]));
  lengths.sort((a, b) => a - b);
  // Where nearly every run is long the logger is coarse or slow, not stuck.
  const usual = lengths[Math.floor(0.95 * (lengths.length - 1))];
  for (const { from, to } of suspects) {
    if (times[to] - times[from] >= 6 * Math.max(usual, MINUTE / 6)) codes.fill(CLEAN.stuck, from, to + 1);
  }
}

/** Calls back for each stretch of one repeated, kept value without a gap. */
function eachRun(
  times: ArrayLike<number>,
  values: ArrayLike<number>,
  codes: Uint8Array,
  gapMs: number,
  found: (from: number, to: number) => void,
): void {
  const n = values.length;
  let from = 0;
  for (let i = 1; i <= n; i++) {
    if (i < n && values[i] === values[from] && codes[i] === codes[from] && !(times[i] - times[i - 1] > gapMs)) continue;
    if (codes[from] === CLEAN.kept) found(from, i - 1);
    from = i;
  }
}

function markSpikes(values: ArrayLike<number>, codes: Uint8Array, floor: number): void {
  const n = values.length;
  const near: number[] = [];
  for (let i = 1; i < n - 1; i++) {
    if (codes[i] !== CLEAN.kept) continue;
    // Cheap test first: only a point far from both neighbours can be a lone spike.
    if (Math.abs(values[i] - values[i - 1]) < floor || Math.abs(values[i] - values[i + 1]) < floor) continue;
    near.length = 0;
    for (let k = Math.max(0, i - SPIKE_HALF_WIDTH); k <= Math.min(n - 1, i + SPIKE_HALF_WIDTH); k++)
      if (codes[k] === CLEAN.kept) near.push(values[k]);
    if (near.length < 5) continue;
    const centre = median(near);
    const spread = MAD_TO_SD * median(near.map((v) => Math.abs(v - centre)));
    if (Math.abs(values[i] - centre) > Math.max(floor, SPIKE_LIMIT * spread)) codes[i] = CLEAN.spike;
  }
}

function summarise(times: ArrayLike<number>, codes: Uint8Array): CleanFinding[] {
  const found = new Map<number, { count: number; first: number; last: number }>();
  for (let i = 0; i < codes.length; i++) {
    if (codes[i] === CLEAN.kept) continue;
    const entry = found.get(codes[i]);
    if (entry) {
      entry.count++;
      entry.last = i;
    } else found.set(codes[i], { count: 1, first: i, last: i });
  }
  return CLEAN_REASONS.flatMap((reason) => {
    const entry = found.get(CLEAN[reason]);
    return entry ? [{ reason, count: entry.count, firstMs: times[entry.first], lastMs: times[entry.last] }] : [];
  });
}
