import type { Knex } from "knex";
import { MOST_CHANNELS } from "../../core/ingest/frame";
import { transact } from "../transact";
import { asBuffer, fromBuffer, openBlock } from "./packed";

/** A frame whose time is known. */
export interface TimedFrame {
  atMs: number;
  values: readonly (readonly [name: string, value: number])[];
}

export interface Appended {
  /** Frames that were not there before. */
  added: number;
  /** Frames of an instant that was there: completed or said again. */
  repeated: number;
  /** Readings that came for an instant and channel that have another one: the first stands, these are kept beside. */
  second: number;
  /** Channels for which the stream has no room. */
  noRoom: string[];
  /** Frames in the tail after this. */
  tail: number;
}

/**
 * Adds frames to a device's stream, all or nothing, merged by (stream, time): the same message sent again changes nothing, a channel that an
 * instant lacked is added to it, and a reading that is there is never altered: another one for it is kept beside. When this has resolved the
 * frames are on disk.
 */
export async function appendFrames(
  knex: Knex,
  streamId: number,
  frames: readonly TimedFrame[],
  nowMs = Date.now(),
): Promise<Appended> {
  const names = namesOf(knex);
  const { numbers, ...appended } = await append(knex, streamId, frames, { remembered: names.get(streamId), nowMs });
  // Only what was kept is remembered: channels never change their number.
  names.set(streamId, numbers);
  return appended;
}

/** Channel numbers by stream, as far as they were seen: most messages bring no new name. */
const seen = new WeakMap<Knex, Map<number, ReadonlyMap<string, number>>>();

function namesOf(knex: Knex): Map<number, ReadonlyMap<string, number>> {
  const names = seen.get(knex) ?? new Map<number, ReadonlyMap<string, number>>();
  seen.set(knex, names);
  return names;
}

const append = (
  knex: Knex,
  streamId: number,
  frames: readonly TimedFrame[],
  { remembered, nowMs }: { remembered: ReadonlyMap<string, number> | undefined; nowMs: number },
): Promise<Appended & { numbers: ReadonlyMap<string, number> }> =>
  transact(knex, async (trx) => {
    // Appends, compaction and other instances wait here for one another.
    const stream = await trx("stream")
      .where({ id: streamId })
      .forUpdate()
      .first("version", "frames", "tail_frames", "t_end");
    const version = stream.version + 1;
    const allSeen = remembered && frames.every(({ values }) => values.every(([name]) => remembered.has(name)));
    const { numbers, noRoom } = allSeen
      ? { numbers: remembered, noRoom: [] }
      : await channelNumbers(trx, streamId, frames);
    const { packed, second } = pack(frames, numbers);
    // What is later than everything there meets nothing.
    const meets = stream.frames > 0 && [...packed.keys()].some((t) => t <= stream.t_end);
    const met = meets ? await meetsKnown(trx, streamId, packed) : { rows: packed, inTail: 0, inBlocks: 0, second: [] };
    second.push(...met.second);
    const times = [...met.rows.keys()];
    const rows = times.map((t) => ({ stream_id: streamId, t, version, vals: asBuffer(met.rows.get(t)!) }));
    for (let i = 0; i < rows.length; i += 1000)
      await trx("tail_frame")
        .insert(rows.slice(i, i + 1000))
        .onConflict(["stream_id", "t"])
        .merge(["version", "vals"]);
    await keepBeside(trx, streamId, second, nowMs);
    const inTail = times.length - met.inTail;
    const added = inTail - met.inBlocks;
    if (times.length) await noteAppended(trx, streamId, { version, added, inTail, times });
    const repeated = frames.length - added;
    return { added, repeated, second: second.length, noRoom, numbers, tail: stream.tail_frames + inTail };
  });

/** Another reading for an instant and a channel that have one. */
interface Second {
  t: number;
  no: number;
  value: number;
}

/** What of some frames is new beside the tail and the blocks: whole rows to be written, by time. */
async function meetsKnown(
  trx: Knex.Transaction,
  streamId: number,
  packed: ReadonlyMap<number, Float64Array>,
): Promise<{ rows: Map<number, Float64Array>; inTail: number; inBlocks: number; second: Second[] }> {
  const times = [...packed.keys()];
  const tail = await tailRows(trx, streamId, times);
  const blocks = await inBlocks(trx, streamId, packed);
  const rows = new Map<number, Float64Array>();
  const second: Second[] = [];
  let [known, completing] = [0, 0];
  for (const [t, came] of packed) {
    const [inTail, inBlock] = [tail.get(t), blocks.get(t)];
    // Where a block has the instant, only what it lacks goes into the tail.
    const left = inBlock ? lacking(came, inBlock, t, second) : came;
    const row = inTail ? completed(inTail, left, t, second) : left;
    if (inTail ? same(row, inTail) : row.every(Number.isNaN)) continue;
    rows.set(t, row);
    if (inTail) known++;
    else if (inBlock) completing++;
  }
  return { rows, inTail: known, inBlocks: completing, second };
}

const same = (a: Float64Array, b: Float64Array): boolean =>
  a.length === b.length && a.every((v, i) => Object.is(v, b[i]) || v === b[i]);

/** What a frame has that an instant lacks; a different reading is noted. */
function lacking(came: Float64Array, known: Float64Array, t: number, second: Second[]): Float64Array {
  return came.map((v, i) => {
    const stands = known[i] ?? NaN;
    if (Number.isNaN(v) || Number.isNaN(stands)) return v;
    if (v !== stands) second.push({ t, no: i + 1, value: v });
    return NaN;
  });
}

/** A frame completed by a later one of the same instant: what it has stands. */
function completed(first: Float64Array, came: Float64Array, t: number, second: Second[]): Float64Array {
  const out = new Float64Array(Math.max(first.length, came.length)).fill(NaN);
  out.set(lacking(came, first, t, second));
  first.forEach((v, i) => {
    if (!Number.isNaN(v)) out[i] = v;
  });
  return out;
}

/** Readings of these instants that lie in blocks already, by channel number less one. */
async function inBlocks(
  trx: Knex.Transaction,
  streamId: number,
  packed: ReadonlyMap<number, Float64Array>,
): Promise<Map<number, Float64Array>> {
  const out = new Map<number, Float64Array>();
  const times = [...packed.keys()].sort((a, b) => a - b);
  const spans: { seq: number; t_start: number; t_end: number }[] = await trx("reading_block")
    .where({ stream_id: streamId, channel_no: 0 })
    .where("t_start", "<=", times[times.length - 1])
    .where("t_end", ">=", times[0])
    .select("seq", "t_start", "t_end");
  const widest = [...packed.values()].reduce((w, v) => Math.max(w, v.length), 0);
  for (const { seq, t_start, t_end } of spans) {
    const own = times.filter((t) => t >= t_start && t <= t_end);
    if (own.length === 0) continue;
    const rows: { channel_no: number; n: number; vals: Buffer }[] = await trx("reading_block")
      .where({ stream_id: streamId, seq })
      .where("channel_no", "<=", widest)
      .select("channel_no", "n", "vals");
    const columns = new Map(rows.map((r) => [r.channel_no, openBlock(r.vals, r.n)]));
    const at = new Map(Array.from(columns.get(0)!, (t, i) => [t, i]));
    for (const t of own) {
      const i = at.get(t);
      if (i === undefined) continue;
      out.set(
        t,
        Float64Array.from({ length: widest }, (_, k) => columns.get(k + 1)?.[i] ?? NaN),
      );
    }
  }
  return out;
}

/** So many of one message; a device that says everything twice must not fill the disk. */
const MOST_SECOND = 2000;

async function keepBeside(trx: Knex.Transaction, streamId: number, second: readonly Second[], nowMs: number) {
  const rows = second
    .slice(0, MOST_SECOND)
    .map(({ t, no, value }) => ({ stream_id: streamId, t, channel_no: no, value, kept_at: nowMs }));
  for (let i = 0; i < rows.length; i += 500)
    await trx("second_reading")
      .insert(rows.slice(i, i + 500))
      .onConflict(["stream_id", "t", "channel_no", "value"])
      .ignore();
}

/** How many readings each of these streams keeps beside the ones that stand. */
export async function secondReadings(knex: Knex, streamIds: readonly number[]): Promise<Map<number, number>> {
  const rows: { stream_id: number; n: number }[] = await knex("second_reading")
    .whereIn("stream_id", streamIds)
    .groupBy("stream_id")
    .select("stream_id")
    .count({ n: "*" });
  return new Map(rows.map((r) => [r.stream_id, Number(r.n)]));
}

async function noteAppended(
  trx: Knex.Transaction,
  streamId: number,
  { version, added, inTail, times }: { version: number; added: number; inTail: number; times: number[] },
): Promise<void> {
  const first = times.reduce((a, b) => Math.min(a, b));
  const last = times.reduce((a, b) => Math.max(a, b));
  await trx.raw(
    "UPDATE stream SET version = ?, t_start = IF(frames = 0, ?, LEAST(t_start, ?)), t_end = IF(frames = 0, ?, GREATEST(t_end, ?)), frames = frames + ?, tail_frames = tail_frames + ? WHERE id = ?",
    [version, first, first, last, last, added, inTail, streamId],
  );
  // Results of a run depend on what came into its span, and on nothing else of the stream.
  await trx.raw(
    "UPDATE run_stream s JOIN run r ON r.id = s.run_id SET s.version = s.version + 1 WHERE s.stream_id = ? AND r.started_at <= ? AND (r.ended_at IS NULL OR r.ended_at > ?)",
    [streamId, last, first],
  );
}

/** Numbers of the channels named in frames; new names get the next ones while there is room. */
async function channelNumbers(
  trx: Knex.Transaction,
  streamId: number,
  frames: readonly TimedFrame[],
): Promise<{ numbers: Map<string, number>; noRoom: string[] }> {
  const rows = await trx("channel").where({ stream_id: streamId }).select("channel_no", "name");
  const numbers = new Map<string, number>(
    rows.map((r: { name: string; channel_no: number }) => [r.name, r.channel_no]),
  );
  const fresh = new Set<string>();
  for (const { values } of frames) for (const [name] of values) if (!numbers.has(name)) fresh.add(name);
  const names = [...fresh];
  const taken = names.splice(0, Math.max(0, MOST_CHANNELS - numbers.size));
  let next = Math.max(0, ...numbers.values());
  const inserted = taken.map((name) => {
    numbers.set(name, ++next);
    return { stream_id: streamId, channel_no: next, name, kind: null, unit: null };
  });
  if (inserted.length) await trx("channel").insert(inserted);
  return { numbers, noRoom: names };
}

/** Frames by time, each as its readings by channel number; the first of two for one channel stands. */
function pack(
  frames: readonly TimedFrame[],
  numbers: ReadonlyMap<string, number>,
): { packed: Map<number, Float64Array>; second: Second[] } {
  const packed = new Map<number, Float64Array>();
  const second: Second[] = [];
  for (const { atMs, values } of frames) {
    const known = values.flatMap(([name, value]): [number, number][] => {
      const no = numbers.get(name);
      return no === undefined ? [] : [[no, value]];
    });
    if (!known.length) continue;
    const row = new Float64Array(Math.max(...known.map(([no]) => no))).fill(NaN);
    for (const [no, value] of known) row[no - 1] = value;
    const first = packed.get(atMs);
    packed.set(atMs, first ? completed(first, row, atMs, second) : row);
  }
  return { packed, second };
}

async function tailRows(
  trx: Knex.Transaction,
  streamId: number,
  times: readonly number[],
): Promise<Map<number, Float64Array>> {
  const out = new Map<number, Float64Array>();
  for (let i = 0; i < times.length; i += 1000) {
    const rows: { t: number; vals: Buffer }[] = await trx("tail_frame")
      .where({ stream_id: streamId })
      .whereIn("t", times.slice(i, i + 1000))
      .select("t", "vals");
    for (const { t, vals } of rows) out.set(Number(t), fromBuffer(vals));
  }
  return out;
}

export interface TailFrame {
  atMs: number;
  version: number;
  /** By channel number less one; NaN or beyond its end: no reading. */
  values: Float64Array;
}

/** Frames of the tail in a span [from, until), in the order of time. */
export async function readTail(
  knex: Knex,
  streamId: number,
  { fromMs, untilMs }: { fromMs: number; untilMs: number | null },
): Promise<TailFrame[]> {
  const rows: { t: number; version: number; vals: Buffer }[] = await knex("tail_frame")
    .where({ stream_id: streamId })
    .where("t", ">=", fromMs)
    .modify((q) => untilMs !== null && q.where("t", "<", untilMs))
    .orderBy("t")
    .select("t", "version", "vals");
  return rows.map(({ t, version, vals }) => ({ atMs: Number(t), version, values: fromBuffer(vals) }));
}
