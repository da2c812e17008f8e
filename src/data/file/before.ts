import { createHash } from "node:crypto";
import type { Knex } from "knex";
import type { RawFile } from "../../core/experiment/records";
import { logSettingsSchema, storedRunSchema } from "../../core/experiment/schema/run";
import type { LogSettings } from "../../core/log/logData";
import { readable } from "../json";
import { readFileChunks } from "./files";

/** Where a file was seen before: the stream it became. */
export interface SeenBefore {
  experimentId: number;
  experiment: string;
  run: number;
}

/** How many of the newest streams are looked through. */
const LOOK_BACK = 60;

const liveStreams = (knex: Knex) =>
  knex("stream as s")
    .join("run as r", "r.id", "s.run_id")
    .join("experiment as e", "e.id", "r.experiment_id")
    .whereNull("s.deleted_at")
    .whereNull("r.deleted_at")
    .whereNull("e.deleted_at");

/** How the last file with these very headers was mapped whose run raised nothing that cannot be; null when there was none. */
export async function mappedBefore(
  knex: Knex,
  headers: readonly string[],
): Promise<(SeenBefore & { settings: LogSettings }) | null> {
  const imported = await liveStreams(knex)
    .orderBy("s.id", "desc")
    .limit(LOOK_BACK)
    .select({ settings: "s.settings", experimentId: "e.id", experiment: "e.name", run: "r.number", setup: "r.setup" });
  const followed = await knex("run_stream as s")
    .join("run as r", "r.id", "s.run_id")
    .join("experiment as e", "e.id", "r.experiment_id")
    .whereNull("r.deleted_at")
    .whereNull("e.deleted_at")
    .orderBy("r.id", "desc")
    .limit(LOOK_BACK)
    .select({ settings: "s.settings", experimentId: "e.id", experiment: "e.name", run: "r.number", setup: "r.setup" });
  const rows = [...followed, ...imported];
  const wanted = headers.join("\u0000");
  for (const { settings, setup, ...where } of rows) {
    // What was kept although it cannot be is no example.
    if (readable(storedRunSchema, setup)?.accepted?.length) continue;
    const stored = readable(logSettingsSchema, settings);
    if (stored && stored.columns.map((c) => c.header).join("\u0000") === wanted) return { ...where, settings: stored };
  }
  return null;
}

/** A stream whose file is the beginning of another: the logger wrote on. */
export interface GrownFrom extends SeenBefore {
  streamId: number;
  /** Its last reading, ms UTC. */
  untilMs: number;
  newBytes: number;
}

/** The longest kept file that this one begins with, byte by byte; null when it is a file of its own. */
export async function grownFrom(knex: Knex, file: RawFile): Promise<GrownFrom | null> {
  const rows = await liveStreams(knex)
    .join("raw_file as f", "f.id", "s.raw_file_id")
    .where("f.bytes", ">", 0)
    .where("f.bytes", "<", file.bytes)
    .orderBy([
      { column: "f.bytes", order: "desc" },
      { column: "s.id", order: "desc" },
    ])
    .limit(LOOK_BACK)
    .select({
      streamId: "s.id",
      untilMs: "s.t_end",
      experimentId: "e.id",
      experiment: "e.name",
      run: "r.number",
      bytes: "f.bytes",
      sha256: "f.sha256",
    });
  const begins = await beginnings(
    knex,
    file.id,
    rows.map((r) => Number(r.bytes)),
  );
  const found = rows.find((r) => begins.get(Number(r.bytes)) === r.sha256);
  if (!found) return null;
  const { bytes, sha256: _, ...stream } = found;
  return { ...stream, newBytes: file.bytes - Number(bytes) };
}

/** Hashes of a file's first so many bytes, all in one pass. */
async function beginnings(knex: Knex, fileId: number, lengths: readonly number[]): Promise<Map<number, string>> {
  const wanted = [...new Set(lengths)].sort((a, b) => a - b);
  const found = new Map<number, string>();
  const hash = createHash("sha256");
  let at = 0;
  for await (const chunk of readFileChunks(knex, fileId)) {
    let from = 0;
    while (wanted.length && wanted[0] <= at + chunk.length) {
      const length = wanted.shift()!;
      hash.update(chunk.subarray(from, length - at));
      from = length - at;
      found.set(length, hash.copy().digest("hex"));
    }
    if (!wanted.length) return found;
    hash.update(chunk.subarray(from));
    at += chunk.length;
  }
  return found;
}
