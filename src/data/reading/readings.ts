import type { Knex } from "knex";

/** Readings a block. With 16 KB pages 2,000 doubles waste least, docs/decisions/0002. */
export const BLOCK = 2000;

/** One channel of a stream as it goes into blocks; number 0 is the times. */
export interface ChannelValues {
  channelNo: number;
  values: Float64Array;
}

const asBuffer = (a: Float64Array) => Buffer.from(a.buffer, a.byteOffset, a.byteLength);

/** The driver's buffers are not aligned to eight bytes, so they are copied before being viewed. */
function fromBuffer(buffer: Buffer): Float64Array {
  const copy = new Uint8Array(buffer.byteLength);
  copy.set(buffer);
  return new Float64Array(copy.buffer);
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
  for (let seq = 0; seq < blocks; seq++) {
    const from = seq * BLOCK;
    const to = Math.min(times.length, from + BLOCK);
    const rows = all.map(({ channelNo, values }) => {
      const part = values.slice(from, to);
      return {
        stream_id: streamId,
        channel_no: channelNo,
        seq,
        t_start: times[from],
        t_end: times[to - 1],
        n: part.length,
        ...statistics(part),
        vals: asBuffer(part),
      };
    });
    // Forty channels of one block stay far below the packet limit.
    for (let i = 0; i < rows.length; i += 40) await trx("reading_block").insert(rows.slice(i, i + 40));
    onProgress((seq + 1) / blocks);
  }
}

function statistics(values: Float64Array): {
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

/** Whole channels of a stream, in reading order. @returns by channel number; 0 holds the times */
export async function readChannels(
  knex: Knex,
  streamId: number,
  channelNos: readonly number[],
): Promise<Map<number, Float64Array>> {
  const rows: { channel_no: number; vals: Buffer }[] = await knex("reading_block")
    .where({ stream_id: streamId })
    .whereIn("channel_no", channelNos as number[])
    .orderBy(["channel_no", "seq"])
    .select("channel_no", "vals");
  const parts = new Map<number, Float64Array[]>();
  for (const row of rows) parts.set(row.channel_no, [...(parts.get(row.channel_no) ?? []), fromBuffer(row.vals)]);
  return new Map(
    [...parts].map(([no, list]) => {
      const whole = new Float64Array(list.reduce((s, p) => s + p.length, 0));
      let at = 0;
      for (const p of list) {
        whole.set(p, at);
        at += p.length;
      }
      return [no, whole];
    }),
  );
}

export interface ChannelRange {
  channelNo: number;
  readings: number;
  /** Raw, SI, error codes and all; null when there is no reading. */
  lowest: number | null;
  highest: number | null;
}

/** What each channel of a stream spans, from the blocks' own statistics: no reading is opened. */
export async function channelRanges(knex: Knex, streamId: number): Promise<ChannelRange[]> {
  const rows = await knex("reading_block")
    .where({ stream_id: streamId })
    .where("channel_no", ">", 0)
    .groupBy("channel_no")
    .orderBy("channel_no")
    .select({ channelNo: "channel_no" })
    .sum({ readings: "n" })
    .min({ lowest: "min_value" })
    .max({ highest: "max_value" });
  return rows.map((r: Record<string, number | string | null>) => ({
    channelNo: Number(r.channelNo),
    readings: Number(r.readings),
    lowest: r.lowest === null ? null : Number(r.lowest),
    highest: r.highest === null ? null : Number(r.highest),
  }));
}
