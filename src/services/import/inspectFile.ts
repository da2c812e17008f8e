import type { Knex } from "knex";
import type { RawFile } from "../../core/experiment/records";
import { detectEncoding, type Encoding, type FileNature } from "../../core/log/decode";
import type { LogSettings } from "../../core/log/readLog";
import {
  sniffLog,
  tokenise,
  withoutLongLines,
  type Delimiter,
  type LogLayout,
  type SniffProblem,
} from "../../core/log/sniff";
import { grownFrom, mappedBefore, type GrownFrom, type SeenBefore } from "../../data/file/before";
import { findFile, readFileChunks, readFilePieces, runsWithFile } from "../../data/file/files";

/** How much of a file is looked at to find out how it is written. */
export const HEAD_BYTES = 256 * 1024;
export type InspectProblem = SniffProblem | Exclude<FileNature, { kind: "text" }> | { kind: "gone" };

export interface Inspection {
  file: RawFile;
  encoding: Encoding | null;
  layout: LogLayout | null;
  problem: InspectProblem | null;
  /** First rows as cells, for the table. */
  rows: string[][];
  /** Rows from all over the file: what a guess leads to is tried on them. */
  sample: string[][];
  alreadyIn: { experimentId: number; experiment: string; run: number }[];
  /** How the last file with these headers was mapped. */
  before?: (SeenBefore & { settings: LogSettings }) | null;
  /** The stream whose file this one begins with: the logger wrote on. */
  grown?: GrownFrom | null;
}

/** Looks at a stored file's head: encoding, columns, time, units, and what each column may stand for. */
export async function inspectFile(knex: Knex, fileId: number, delimiter?: Delimiter): Promise<Inspection | null> {
  const file = await findFile(knex, fileId);
  if (!file) return null;
  const alreadyIn = await runsWithFile(knex, file.sha256);
  const head = await readHead(knex, fileId);
  const nature = detectEncoding(head);
  const base = { file, alreadyIn, layout: null, rows: [], sample: [] };
  if (nature.kind !== "text") return { ...base, encoding: null, problem: nature };
  const text = new TextDecoder(nature.encoding, { ignoreBOM: false }).decode(head);
  const result = sniffLog(text, { whole: file.bytes <= head.length, delimiter });
  const rows = result.rows.slice(0, 12).map((r) => r.slice(0, 200).map((c) => c.slice(0, 80)));
  if (result.ok) {
    const sample = await sampleRows(knex, fileId, nature.encoding, result.layout);
    const headers = result.layout.columns.map((c) => c.header);
    const [before, grown] = await Promise.all([
      // Headers that the file does not have name nothing.
      result.layout.headerRow < 0 ? null : mappedBefore(knex, headers),
      alreadyIn.length ? null : grownFrom(knex, file),
    ]);
    return { ...base, encoding: nature.encoding, layout: result.layout, problem: null, rows, sample, before, grown };
  }
  return { ...base, encoding: nature.encoding, problem: result.problem, rows };
}

/** Pieces looked into, and rows kept of them all. */
const SAMPLED_PIECES = 12;
const SAMPLED_ROWS = 480;
const SAMPLED_CELLS = 40_000;

async function sampleRows(
  knex: Knex,
  fileId: number,
  encoding: Encoding,
  { delimiter, columns, firstDataRow }: LogLayout,
): Promise<string[][]> {
  const pieces = await readFilePieces(knex, fileId, SAMPLED_PIECES);
  const wanted = Math.min(SAMPLED_ROWS, Math.floor(SAMPLED_CELLS / columns.length));
  const each = Math.ceil(wanted / Math.max(1, pieces.length));
  return pieces.flatMap((piece, i) => {
    const text = new TextDecoder(encoding).decode(piece);
    // Cut lines at both ends are no rows; of the first piece only its end is cut.
    const from = i === 0 ? 0 : text.indexOf("\n") + 1;
    const to = pieces.length === 1 ? text.length : Math.max(from, text.lastIndexOf("\n"));
    const rows = tokenise(
      withoutLongLines(text.slice(from, to), () => undefined),
      delimiter,
    )
      .slice(i === 0 ? firstDataRow : 0)
      .filter((r) => r.length === columns.length);
    const step = Math.max(1, rows.length / each);
    return Array.from({ length: Math.min(each, rows.length) }, (_, k) =>
      rows[Math.floor(k * step)].map((c) => c.slice(0, 40)),
    );
  });
}

async function readHead(knex: Knex, fileId: number): Promise<Uint8Array> {
  for await (const chunk of readFileChunks(knex, fileId)) return chunk.subarray(0, HEAD_BYTES);
  return new Uint8Array();
}
