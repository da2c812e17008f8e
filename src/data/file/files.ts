import { createHash } from "node:crypto";
import { promisify } from "node:util";
import { gunzip, gzip } from "node:zlib";
import type { Knex } from "knex";
import { insertBinary } from "../binary";
import type { RawFile } from "../../core/experiment/records";

const pack = promisify(gzip);
const inflate = promisify(gunzip);
const CHUNK = 1 << 20;
/** A chunk opened in one piece rather than joined from many. */
const unpack = (content: Buffer): Promise<Buffer> => inflate(content, { chunkSize: CHUNK });

/** No piece of a file came for too long. */
export class StalledUpload extends Error {
  constructor(readonly seconds: number) {
    super(`nothing arrived for ${seconds} s`);
  }
}

export interface StoreLimits {
  bytes: number;
  /** Longest pause between two pieces, ms. */
  stallMs: number;
}

/** A file that is still arriving has no hash yet, and nobody finds it. */
const ARRIVING = "";

/**
 * Keeps a file's bytes as they come, compressed in chunks of one megabyte; memory stays at a chunk, and between two chunks
 * neither a transaction nor a connection is held: however many uploads stall, others are served.
 * Throws RangeError when the file grows beyond its limit, StalledUpload when it stops coming; nothing is kept then.
 */
export async function storeFile(
  knex: Knex,
  name: string,
  source: AsyncIterable<Uint8Array>,
  limits: StoreLimits,
): Promise<RawFile> {
  const [id] = await knex("raw_file").insert({
    name: name.slice(0, 255),
    bytes: 0,
    sha256: ARRIVING,
    created_at: Date.now(),
  });
  // A chunk is written while the next is compressed.
  let writing = Promise.resolve();
  try {
    const hash = createHash("sha256");
    // One megabyte, filled again and again: pieces can be views of a buffer that is used again, and a new one each would pile up.
    const chunk = Buffer.allocUnsafe(CHUNK);
    let held = 0;
    let bytes = 0;
    let seq = 0;
    const flush = async () => {
      if (held === 0) return;
      const content = await pack(chunk.subarray(0, held), { level: 1 });
      await writing;
      writing = insertBinary(knex, "raw_chunk", [{ file_id: id, seq: seq++, content }]);
      // Its failure is met where it is waited for.
      writing.catch(() => undefined);
      held = 0;
    };
    for await (const piece of unstalled(source, limits.stallMs)) {
      bytes += piece.byteLength;
      if (bytes > limits.bytes) throw new RangeError("file too large");
      hash.update(piece);
      for (let at = 0; at < piece.byteLength;) {
        const part = piece.subarray(at, at + CHUNK - held);
        chunk.set(part, held);
        held += part.byteLength;
        at += part.byteLength;
        if (held === CHUNK) await flush();
      }
    }
    await flush();
    await writing;
    const sha256 = hash.digest("hex");
    await knex("raw_file").where({ id }).update({ bytes, sha256 });
    return { id, name, bytes, sha256 };
  } catch (error) {
    await writing.catch(() => undefined);
    // What is left behind when even this fails goes with the housekeeping.
    await knex("raw_file")
      .where({ id })
      .delete()
      .catch(() => undefined);
    throw error;
  }
}

/** Takes a file's bytes away, unless something has been made of them. */
export const removeFile = (knex: Knex, id: number): Promise<number> =>
  ["stream", "calibration", "climate"]
    .reduce(
      (q, table) => q.whereNotIn("id", knex(table).whereNotNull("raw_file_id").select("raw_file_id")),
      knex("raw_file").where({ id }),
    )
    .delete();

/** The pieces of a source; throws when the next does not come in time. */
async function* unstalled<T>(source: AsyncIterable<T>, ms: number): AsyncGenerator<T> {
  const pieces = source[Symbol.asyncIterator]();
  try {
    for (;;) {
      let timer: NodeJS.Timeout | undefined;
      const stalled = new Promise<never>((_, reject) => {
        timer = setTimeout(() => reject(new StalledUpload(ms / 1000)), ms);
      });
      const next = await Promise.race([pieces.next(), stalled]).finally(() => clearTimeout(timer));
      if (next.done) return;
      yield next.value;
    }
  } finally {
    // Not waited for: a source that stalled may never answer.
    void pieces.return?.()?.catch(() => undefined);
  }
}

export async function findFile(knex: Knex, id: number): Promise<RawFile | undefined> {
  const row = await knex("raw_file")
    .where({ id })
    .whereNot({ sha256: ARRIVING })
    .first("id", "name", "bytes", "sha256");
  return row && { ...row, bytes: Number(row.bytes) };
}

async function readChunk(knex: Knex, id: number, seq: number): Promise<Buffer | null> {
  const row: { content: Buffer } | undefined = await knex("raw_chunk").where({ file_id: id, seq }).first("content");
  return row ? unpack(row.content) : null;
}

/** The file's bytes, chunk by chunk; the next is fetched while one is looked at. */
export async function* readFileChunks(knex: Knex, id: number): AsyncGenerator<Buffer> {
  let coming = readChunk(knex, id, 0);
  for (let seq = 1; ; seq++) {
    const chunk = await coming;
    if (!chunk) return;
    coming = readChunk(knex, id, seq);
    // Its failure is met where it is waited for; nobody may wait any longer.
    coming.catch(() => undefined);
    yield chunk;
  }
}

/** Pieces from all over a file, the first one among them: at most so many, evenly spaced. */
export async function readFilePieces(knex: Knex, id: number, most: number): Promise<Buffer[]> {
  const last = (await knex("raw_chunk").where({ file_id: id }).max({ seq: "seq" }).first()) as
    { seq: number | null } | undefined;
  const count = (last?.seq ?? -1) + 1;
  const wanted = new Set(
    Array.from({ length: Math.min(most, count) }, (_, i) => Math.floor((i * count) / Math.min(most, count))),
  );
  const pieces = await Promise.all([...wanted].map((seq) => readChunk(knex, id, seq)));
  return pieces.filter((p) => p !== null);
}

/** Runs that already took these very bytes, if any: the same file dropped twice should be noticed. */
export async function runsWithFile(
  knex: Knex,
  sha256: string,
): Promise<{ experimentId: number; experiment: string; run: number }[]> {
  return knex("stream")
    .join("raw_file", "raw_file.id", "stream.raw_file_id")
    .join("run", "run.id", "stream.run_id")
    .join("experiment", "experiment.id", "run.experiment_id")
    .where("raw_file.sha256", sha256)
    .whereNull("stream.deleted_at")
    .whereNull("run.deleted_at")
    .whereNull("experiment.deleted_at")
    .select({ experimentId: "experiment.id", experiment: "experiment.name", run: "run.number" });
}

/** A whole kept file as text (UTF-8); null when it is not there. For files of a few megabytes. */
export async function readFileText(knex: Knex, id: number): Promise<string | null> {
  if (!(await findFile(knex, id))) return null;
  const chunks: Buffer[] = [];
  for await (const chunk of readFileChunks(knex, id)) chunks.push(chunk);
  return Buffer.concat(chunks).toString("utf8");
}
