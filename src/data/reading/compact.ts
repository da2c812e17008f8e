import type { Knex } from "knex";
import { transact } from "../transact";
import { insertBinary } from "../binary";
import { fromBuffer, openBlock, packBlock } from "./packed";
import { BLOCK, statistics } from "./readings";

/** Newest frames that stay in the tail, where a live page finds them. */
export const KEPT_IN_TAIL = 600;
/** From here on a tail is worth moving. */
export const FULL_TAIL = BLOCK + KEPT_IN_TAIL;
/** Frames moved in one transaction, so that a stream that was away for days does not hold up its device. */
const MOST_AT_ONCE = 5 * BLOCK;

/** Readings in the order of time, columns by channel number. */
interface Columns {
  times: Float64Array;
  values: Map<number, Float64Array>;
}

/** Streams whose tail is worth packing. */
export const fullStreams = (knex: Knex): Promise<number[]> =>
  knex("stream").where("tail_frames", ">=", FULL_TAIL).pluck("id");

/**
 * Moves a stream's older tail into blocks, in one transaction: killed at any moment, each frame is in one of the two, once.
 * Late frames are merged into the block they belong to. @returns frames moved
 */
export const compactStream = (knex: Knex, streamId: number, keep = KEPT_IN_TAIL): Promise<number> =>
  transact(knex, async (trx) => {
    const stream = await trx("stream").where({ id: streamId }).forUpdate().first("id");
    if (!stream) return 0;
    const [{ n }] = await trx("tail_frame").where({ stream_id: streamId }).count({ n: "*" });
    const rows: { t: number; vals: Buffer }[] = await trx("tail_frame")
      .where({ stream_id: streamId })
      .orderBy("t")
      .limit(Math.min(MOST_AT_ONCE, Math.max(0, Number(n) - keep)))
      .select("t", "vals");
    if (!rows.length) return 0;
    const moving = columnsOf(rows.map(({ t, vals }) => ({ t: Number(t), values: fromBuffer(vals) })));
    for (const part of await byBlock(trx, streamId, moving)) await mergeInto(trx, streamId, part);
    await trx("tail_frame")
      .where({ stream_id: streamId })
      .where("t", "<=", moving.times[moving.times.length - 1])
      .delete();
    await recount(trx, streamId);
    return rows.length;
  });

/** A frame that came again after its instant had gone into a block was counted twice until now. */
async function recount(trx: Knex.Transaction, streamId: number): Promise<void> {
  const [{ kept }] = await trx("reading_block").where({ stream_id: streamId, channel_no: 0 }).sum({ kept: "n" });
  const [{ left }] = await trx("tail_frame").where({ stream_id: streamId }).count({ left: "*" });
  await trx("stream")
    .where({ id: streamId })
    .update({ frames: Number(kept) + Number(left), tail_frames: Number(left) });
}

function columnsOf(frames: readonly { t: number; values: Float64Array }[]): Columns {
  const widest = frames.reduce((w, f) => Math.max(w, f.values.length), 0);
  const values = new Map<number, Float64Array>();
  for (let no = 1; no <= widest; no++) {
    const column = Float64Array.from(frames, (f) => f.values[no - 1] ?? NaN);
    if (column.some((v) => !Number.isNaN(v))) values.set(no, column);
  }
  return { times: Float64Array.from(frames, (f) => f.t), values };
}

interface Part extends Columns {
  /** The block to merge into; null: a new one at the end. */
  seq: number | null;
}

/** Which frames belong to which block: the last block takes more while it is not full, earlier ones take what came late. */
async function byBlock(trx: Knex.Transaction, streamId: number, moving: Columns): Promise<Part[]> {
  const blocks: { seq: number; t_start: number; t_end: number; n: number }[] = await trx("reading_block")
    .where({ stream_id: streamId, channel_no: 0 })
    .orderBy("t_start")
    .select("seq", "t_start", "t_end", "n");
  const last = blocks.at(-1);
  const blockOf = (t: number): number | null => {
    if (!last || (t > last.t_end && last.n >= BLOCK)) return null;
    // The last block that begins no later; what is older than all goes to the first.
    return (blocks.findLast((b) => b.t_start <= t) ?? blocks[0]).seq;
  };
  const parts: Part[] = [];
  let from = 0;
  for (let i = 1; i <= moving.times.length; i++) {
    const seq = blockOf(moving.times[from]);
    if (i < moving.times.length && blockOf(moving.times[i]) === seq) continue;
    parts.push({ seq, ...sliced(moving, from, i) });
    from = i;
  }
  return parts;
}

const sliced = ({ times, values }: Columns, from: number, to: number): Columns => ({
  times: times.slice(from, to),
  values: new Map([...values].map(([no, v]) => [no, v.slice(from, to)])),
});

async function mergeInto(trx: Knex.Transaction, streamId: number, { seq, ...part }: Part): Promise<void> {
  let whole: Columns = part;
  if (seq !== null) {
    whole = mergedColumns(await blockColumns(trx, streamId, seq), part);
    await trx("reading_block").where({ stream_id: streamId, seq }).delete();
  }
  const [{ last }] = await trx("reading_block").where({ stream_id: streamId, channel_no: 0 }).max({ last: "seq" });
  let next = Math.max(last ?? -1, seq ?? -1) + 1;
  for (let from = 0; from < whole.times.length; from += BLOCK) {
    const own = from === 0 && seq !== null ? seq : next++;
    await insertBlock(trx, streamId, own, sliced(whole, from, Math.min(whole.times.length, from + BLOCK)));
  }
}

async function blockColumns(trx: Knex.Transaction, streamId: number, seq: number): Promise<Columns> {
  const rows: { channel_no: number; n: number; vals: Buffer }[] = await trx("reading_block")
    .where({ stream_id: streamId, seq })
    .select("channel_no", "n", "vals");
  const values = new Map(rows.map((r) => [r.channel_no, openBlock(r.vals, r.n)]));
  const times = values.get(0)!;
  values.delete(0);
  return { times, values };
}

async function insertBlock(trx: Knex.Transaction, streamId: number, seq: number, { times, values }: Columns) {
  const rows = [[0, times] as const, ...values]
    // A channel without a reading in a block has no row in it.
    .filter(([no, v]) => no === 0 || v.some((x) => !Number.isNaN(x)))
    .map(([no, v]) => ({
      stream_id: streamId,
      channel_no: no,
      seq,
      t_start: times[0],
      t_end: times[times.length - 1],
      n: v.length,
      ...statistics(v),
      vals: packBlock(v),
    }));
  await insertBinary(trx, "reading_block", rows);
}

/** Two series as one in the order of time; where both know an instant the first's readings stand. */
export function mergedColumns(under: Columns, over: Columns): Columns {
  const numbers = new Set([...under.values.keys(), ...over.values.keys()]);
  const times = Float64Array.from(new Set([...under.times, ...over.times])).sort();
  const place = (part: Columns) => {
    const at = new Int32Array(part.times.length);
    let i = 0;
    part.times.forEach((t, k) => {
      while (times[i] < t) i++;
      at[k] = i;
    });
    return at;
  };
  const [a, b] = [place(under), place(over)];
  const values = new Map<number, Float64Array>();
  for (const no of numbers) {
    const column = new Float64Array(times.length).fill(NaN);
    under.values.get(no)?.forEach((v, k) => (column[a[k]] = v));
    over.values.get(no)?.forEach((v, k) => {
      if (Number.isNaN(column[b[k]])) column[b[k]] = v;
    });
    values.set(no, column);
  }
  return { times, values };
}
