import type { Knex } from "knex";
import { insertBinary } from "../binary";
import { openBlock, packBlock } from "./packed";
import { readTail } from "./tail";

/** Readings a block. With 16 KB pages 2,000 doubles waste least, docs/decisions/0002. */
export const BLOCK = 2000;
/** Blocks in one statement. */
const ROWS_AT_ONCE = 1000;

/** One channel of a stream as it goes into blocks; number 0 is the times. */
export interface ChannelValues {
  channelNo: number;
  values: { slice(from: number, to: number): Float64Array };
}

/**
 * Writes a stream's channels as blocks, inside the caller's transaction so that a cancelled import leaves nothing.
 * @param onProgress called with the share written, 0 to 1; throwing from it cancels
 */
export async function writeBlocks(
  trx: Knex.Transaction,
  streamId: number,
  times: Float64Array,
  channels: readonly ChannelValues[],
  onProgress: (share: number) => void,
): Promise<void> {
  const blocks = Math.ceil(times.length / BLOCK);
  const all: ChannelValues[] = [{ channelNo: 0, values: times }, ...channels];
  const together = Math.max(1, Math.floor(ROWS_AT_ONCE / all.length));
  for (let first = 0; first < blocks; first += together) {
    const rows = all.flatMap((channel) =>
      blockRowsOf(streamId, times, channel, first, Math.min(blocks, first + together)),
    );
    await insertBinary(trx, "reading_block", rows);
    onProgress(Math.min(blocks, first + together) / blocks);
  }
}

/** Blocks of a channel from one number until before another, as rows. */
function blockRowsOf(
  streamId: number,
  times: Float64Array,
  { channelNo, values }: ChannelValues,
  first: number,
  until: number,
) {
  const whole = values.slice(first * BLOCK, Math.min(times.length, until * BLOCK));
  return Array.from({ length: until - first }, (_, i) => {
    const part = whole.subarray(i * BLOCK, (i + 1) * BLOCK);
    const from = (first + i) * BLOCK;
    return {
      stream_id: streamId,
      channel_no: channelNo,
      seq: first + i,
      t_start: times[from],
      t_end: times[from + part.length - 1],
      n: part.length,
      ...statistics(part),
      vals: packBlock(part),
    };
  });
}

/** What a block knows of its readings without opening them; null where it has none. */
export function statistics(values: Float64Array): {
  min_value: number | null;
  max_value: number | null;
  mean_value: number | null;
} {
  let min = Infinity;
  let max = -Infinity;
  let sum = 0;
  let n = 0;
  for (const v of values) {
    if (Number.isNaN(v)) continue;
    if (v < min) min = v;
    if (v > max) max = v;
    sum += v;
    n++;
  }
  return n === 0
    ? { min_value: null, max_value: null, mean_value: null }
    : { min_value: min, max_value: max, mean_value: sum / n };
}

/** A part of a stream that is open: from an instant, until before another; null: as far as there is. */
export interface StreamSpan {
  fromMs: number;
  untilMs: number | null;
}

interface BlockRow {
  channel_no: number;
  seq: number;
  n: number;
  vals: Buffer;
}

/**
 * Channels of a stream in the order of time, from blocks and tail alike.
 * @param span of a device's stream, whose tail is read too; left out: an imported stream, whole
 * @returns by channel number; 0 holds the times. A channel that has no reading is not there.
 */
export async function readChannels(
  knex: Knex,
  streamId: number,
  channelNos: readonly number[],
  span?: StreamSpan,
): Promise<Map<number, Float64Array>> {
  const numbers = span && !channelNos.includes(0) ? [0, ...channelNos] : [...channelNos];
  if (!span) {
    // One channel after another: the rows of all of a long log would lie in memory twice.
    const series = new Map<number, Float64Array>();
    for (const no of numbers) {
      const rows = await blockRows(knex, streamId, [no]);
      if (rows.length) series.set(no, joinedBlocks(rows));
    }
    return series;
  }
  const rows = await blockRows(knex, streamId, numbers, span);
  const tail = await readTail(knex, streamId, span);
  const blocks = alignedBlocks(rows, numbers);
  const both = tail.length ? overlaid(blocks, tail, numbers) : blocks;
  return cut(both, span);
}

async function blockRows(
  knex: Knex,
  streamId: number,
  numbers: readonly number[],
  span?: StreamSpan,
): Promise<BlockRow[]> {
  return (
    knex("reading_block")
      .where({ stream_id: streamId })
      .whereIn("channel_no", numbers)
      .modify((q) => {
        if (span) q.where("t_end", ">=", span.fromMs);
        if (span && span.untilMs !== null) q.where("t_start", "<", span.untilMs);
      })
      // Late readings begin blocks of their own: what counts is when a block begins.
      .orderBy(["channel_no", "t_start", "seq"])
      .select("channel_no", "seq", "n", "vals")
  );
}

/** One channel's blocks in a row. */
function joinedBlocks(rows: readonly BlockRow[]): Float64Array {
  const whole = new Float64Array(rows.reduce((n, r) => n + r.n, 0));
  let at = 0;
  for (const { vals, n } of rows) {
    whole.set(openBlock(vals, n), at);
    at += n;
  }
  return whole;
}

/** A channel without a reading in a block has no row there. */
function alignedBlocks(rows: readonly BlockRow[], numbers: readonly number[]): Map<number, Float64Array> {
  const starts = new Map<number, number>();
  let count = 0;
  for (const r of rows.filter((row) => row.channel_no === 0)) {
    starts.set(r.seq, count);
    count += r.n;
  }
  const out = new Map(numbers.map((no) => [no, new Float64Array(count).fill(NaN)]));
  for (const r of rows) {
    const at = starts.get(r.seq);
    if (at !== undefined) out.get(r.channel_no)!.set(openBlock(r.vals, r.n), at);
  }
  return out;
}

/** The tail over the blocks: what came later goes over what was there. */
function overlaid(
  blocks: ReadonlyMap<number, Float64Array>,
  tail: readonly { atMs: number; values: Float64Array }[],
  numbers: readonly number[],
): Map<number, Float64Array> {
  const old = blocks.get(0)!;
  const out = new Map(numbers.map((no) => [no, new Float64Array(old.length + tail.length).fill(NaN)]));
  let [i, k, n] = [0, 0, 0];
  while (i < old.length || k < tail.length) {
    const t = Math.min(i < old.length ? old[i] : Infinity, k < tail.length ? tail[k].atMs : Infinity);
    const fromBlock = i < old.length && old[i] === t;
    const fromTail = k < tail.length && tail[k].atMs === t;
    for (const no of numbers) {
      const stands = fromBlock ? blocks.get(no)![i] : NaN;
      out.get(no)![n] = Number.isNaN(stands) && fromTail ? (tail[k].values[no - 1] ?? NaN) : stands;
    }
    out.get(0)![n] = t;
    if (fromBlock) i++;
    if (fromTail) k++;
    n++;
  }
  return new Map([...out].map(([no, v]) => [no, v.slice(0, n)]));
}

function cut(series: Map<number, Float64Array>, { fromMs, untilMs }: StreamSpan): Map<number, Float64Array> {
  const times = series.get(0)!;
  const from = firstFrom(times, fromMs);
  const to = untilMs === null ? times.length : firstFrom(times, untilMs);
  if (from === 0 && to === times.length) return series;
  return new Map([...series].map(([no, v]) => [no, v.slice(from, to)]));
}

/** First index whose time is no earlier. */
export function firstFrom(times: Float64Array, ms: number): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (times[middle] < ms) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** When a stream's newest reading was taken, ms; null while it has none. */
export async function newestOf(knex: Knex, streamId: number): Promise<number | null> {
  const stream = await knex("stream").where({ id: streamId }).first("frames", "t_end");
  return stream?.frames ? Number(stream.t_end) : null;
}

/** How many frames a span of a device's stream holds, and from when until when; null where it holds none. */
export async function spanExtent(
  knex: Knex,
  streamId: number,
  span: StreamSpan,
): Promise<{ frames: number; startMs: number; endMs: number } | null> {
  const inSpan = (q: Knex.QueryBuilder) => {
    q.where({ stream_id: streamId, channel_no: 0 }).where("t_end", ">=", span.fromMs);
    if (span.untilMs !== null) q.where("t_start", "<", span.untilMs);
  };
  const blocks: { seq: number; n: number; t_start: number; t_end: number }[] = await knex("reading_block")
    .modify(inSpan)
    .orderBy("t_start")
    .select("seq", "n", "t_start", "t_end");
  const inside = (t: number) => t >= span.fromMs && (span.untilMs === null || t < span.untilMs);
  let frames = 0;
  let startMs = Infinity;
  let endMs = -Infinity;
  for (const b of blocks) {
    if (inside(b.t_start) && inside(b.t_end)) {
      frames += b.n;
      startMs = Math.min(startMs, b.t_start);
      endMs = Math.max(endMs, b.t_end);
      continue;
    }
    const row = await knex("reading_block")
      .where({ stream_id: streamId, channel_no: 0, seq: b.seq })
      .first("vals", "n");
    for (const t of openBlock(row.vals, row.n).filter(inside)) {
      frames++;
      startMs = Math.min(startMs, t);
      endMs = Math.max(endMs, t);
    }
  }
  const [tail] = await knex("tail_frame")
    .where({ stream_id: streamId })
    .where("t", ">=", span.fromMs)
    .modify((q) => span.untilMs !== null && q.where("t", "<", span.untilMs))
    .select(knex.raw("COUNT(*) AS n, MIN(t) AS lowest, MAX(t) AS highest"));
  if (Number(tail.n)) {
    frames += Number(tail.n);
    startMs = Math.min(startMs, Number(tail.lowest));
    endMs = Math.max(endMs, Number(tail.highest));
  }
  return frames ? { frames, startMs, endMs } : null;
}

export interface ChannelRange {
  channelNo: number;
  readings: number;
  /** Raw, SI, error codes and all; null when there is no reading. */
  lowest: number | null;
  highest: number | null;
}

/**
 * What each channel of a stream spans, from the blocks' own statistics: no reading of a block is opened.
 * @param span of a device's stream: the blocks that reach into it, and its tail; readings are as sent
 */
export async function channelRanges(knex: Knex, streamId: number, span?: StreamSpan): Promise<ChannelRange[]> {
  const rows = await knex("reading_block")
    .where({ stream_id: streamId })
    .where("channel_no", ">", 0)
    .modify((q) => {
      if (span) q.where("t_end", ">=", span.fromMs);
      if (span && span.untilMs !== null) q.where("t_start", "<", span.untilMs);
    })
    .groupBy("channel_no")
    .orderBy("channel_no")
    .select({ channelNo: "channel_no" })
    .sum({ readings: "n" })
    .min({ lowest: "min_value" })
    .max({ highest: "max_value" });
  const ranges = rows.map((r: Record<string, number | string | null>): ChannelRange => ({
    channelNo: Number(r.channelNo),
    readings: Number(r.readings),
    lowest: r.lowest === null ? null : Number(r.lowest),
    highest: r.highest === null ? null : Number(r.highest),
  }));
  return span ? withTail(ranges, await readTail(knex, streamId, span)) : ranges;
}

function withTail(ranges: readonly ChannelRange[], tail: readonly { values: Float64Array }[]): ChannelRange[] {
  const out = new Map(ranges.map((r) => [r.channelNo, { ...r }]));
  for (const { values } of tail)
    values.forEach((v, i) => {
      if (Number.isNaN(v)) return;
      const known = out.get(i + 1) ?? { channelNo: i + 1, readings: 0, lowest: null, highest: null };
      known.readings++;
      known.lowest = known.lowest === null ? v : Math.min(known.lowest, v);
      known.highest = known.highest === null ? v : Math.max(known.highest, v);
      out.set(i + 1, known);
    });
  return [...out.values()].sort((a, b) => a.channelNo - b.channelNo);
}
