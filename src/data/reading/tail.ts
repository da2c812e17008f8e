import type { Knex } from "knex";
import { MOST_CHANNELS } from "../../core/ingest/frame";
import { transact } from "../transact";
import { asBuffer, fromBuffer } from "./packed";

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
  /** Channels for which the stream has no room. */
  noRoom: string[];
  /** Frames in the tail after this. */
  tail: number;
}

/**
 * Adds frames to a device's stream, all or nothing, merged by (stream, time): the same message sent again changes nothing, and what comes
 * later goes over what came before. When this has resolved the frames are on disk.
 */
export async function appendFrames(knex: Knex, streamId: number, frames: readonly TimedFrame[]): Promise<Appended> {
  const names = namesOf(knex);
  const { numbers, ...appended } = await append(knex, streamId, frames, names.get(streamId));
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
  remembered: ReadonlyMap<string, number> | undefined,
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
    const packed = pack(frames, numbers);
    const times = [...packed.keys()];
    // What is later than everything there meets nothing.
    const meets = stream.frames > 0 && times.some((t) => t <= stream.t_end);
    const known = meets ? await tailRows(trx, streamId, times) : new Map<number, Float64Array>();
    const rows = times.map((t) => ({
      stream_id: streamId,
      t,
      version,
      vals: asBuffer(merged(known.get(t), packed.get(t)!)),
    }));
    for (let i = 0; i < rows.length; i += 1000)
      await trx("tail_frame")
        .insert(rows.slice(i, i + 1000))
        .onConflict(["stream_id", "t"])
        .merge(["version", "vals"]);
    const added = times.length - known.size;
    if (times.length) await noteAppended(trx, streamId, { version, added, times });
    return { added, repeated: frames.length - added, noRoom, numbers, tail: stream.tail_frames + added };
  });

async function noteAppended(
  trx: Knex.Transaction,
  streamId: number,
  { version, added, times }: { version: number; added: number; times: number[] },
): Promise<void> {
  const first = times.reduce((a, b) => Math.min(a, b));
  const last = times.reduce((a, b) => Math.max(a, b));
  await trx.raw(
    "UPDATE stream SET version = ?, t_start = IF(frames = 0, ?, LEAST(t_start, ?)), t_end = IF(frames = 0, ?, GREATEST(t_end, ?)), frames = frames + ?, tail_frames = tail_frames + ? WHERE id = ?",
    [version, first, first, last, last, added, added, streamId],
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

/** Frames by time, each as its readings by channel number. */
function pack(frames: readonly TimedFrame[], numbers: ReadonlyMap<string, number>): Map<number, Float64Array> {
  const out = new Map<number, Float64Array>();
  for (const { atMs, values } of frames) {
    const known = values.flatMap(([name, value]): [number, number][] => {
      const no = numbers.get(name);
      return no === undefined ? [] : [[no, value]];
    });
    if (!known.length) continue;
    const row = new Float64Array(Math.max(...known.map(([no]) => no))).fill(NaN);
    for (const [no, value] of known) row[no - 1] = value;
    out.set(atMs, merged(out.get(atMs), row));
  }
  return out;
}

/** A frame over another of the same instant. */
export function merged(under: Float64Array | undefined, over: Float64Array): Float64Array {
  if (!under) return over;
  const out = new Float64Array(Math.max(under.length, over.length)).fill(NaN);
  out.set(under);
  over.forEach((v, i) => {
    if (!Number.isNaN(v)) out[i] = v;
  });
  return out;
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
