import { createHash } from "node:crypto";
import type { Knex } from "knex";
import type { HeldFrames } from "../../core/experiment/records";
import { json } from "../json";
import { appendFrames, type TimedFrame } from "./tail";

export interface HeldFrame extends TimedFrame {
  /** When it was taken, if it was taken just before it came. */
  arrivedMs: number;
}

/** When held readings were taken: as stamped, or by when they came; or they count for nothing. */
export type HeldAnswer = "stamped" | "arrived" | "left out";

const AT_ONCE = 1000;
const open = (knex: Knex, streamId: number) => knex("held_frame").where({ stream_id: streamId }).whereNull("settled");

/** Keeps frames apart from their stream, each once. */
export async function holdFrames(knex: Knex, streamId: number, frames: readonly HeldFrame[]): Promise<void> {
  const rows = frames.map(({ atMs, arrivedMs, values }) => {
    const readings = JSON.stringify(values);
    const sha256 = createHash("sha256").update(readings).digest("hex");
    return { stream_id: streamId, t: atMs, arrived_t: arrivedMs, readings, sha256 };
  });
  for (let i = 0; i < rows.length; i += AT_ONCE)
    await knex("held_frame")
      .insert(rows.slice(i, i + AT_ONCE))
      .onConflict(["stream_id", "t", "sha256"])
      .ignore();
}

/** What is held of each stream and nobody has settled. */
export async function heldByStream(knex: Knex, streamIds: readonly number[]): Promise<Map<number, HeldFrames>> {
  const rows = await knex("held_frame")
    .whereIn("stream_id", [...streamIds])
    .whereNull("settled")
    .groupBy("stream_id")
    .select("stream_id")
    .count({ frames: "*" })
    .min({ firstMs: "t", firstArrivedMs: "arrived_t" })
    .max({ lastMs: "t", lastArrivedMs: "arrived_t" });
  return new Map(
    rows.map(({ stream_id, ...held }: Record<string, unknown>) => [
      Number(stream_id),
      Object.fromEntries(Object.entries(held).map(([k, v]) => [k, Number(v)])) as unknown as HeldFrames,
    ]),
  );
}

/**
 * Settles what is held of a stream: into it, by one of its times, or for nothing. Part after part: interrupted, the rest stays held, and what was
 * taken twice is there once.
 * @returns how many
 */
export async function settleHeld(knex: Knex, streamId: number, answer: HeldAnswer): Promise<number> {
  let settled = 0;
  for (;;) {
    const rows: { id: number; t: number; arrived_t: number; readings: unknown }[] = await open(knex, streamId)
      .orderBy("id")
      .limit(AT_ONCE)
      .select("id", "t", "arrived_t", "readings");
    if (!rows.length) return settled;
    if (answer !== "left out")
      await appendFrames(
        knex,
        streamId,
        rows.map(({ t, arrived_t, readings }) => ({
          atMs: Number(answer === "stamped" ? t : arrived_t),
          values: json<[string, number][]>(readings),
        })),
      );
    await knex("held_frame")
      .whereIn(
        "id",
        rows.map((r) => r.id),
      )
      .update({ settled: answer });
    settled += rows.length;
  }
}
