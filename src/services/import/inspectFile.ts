import type { Knex } from "knex";
import type { RawFile } from "../../core/experiment/records";
import { detectEncoding, type Encoding, type FileNature } from "../../core/log/decode";
import type { LogSettings } from "../../core/log/logData";
import {
  sniffLog,
  tokenise,
  withoutLongLines,
  type Delimiter,
  HEAD_LENGTH,
  type LogLayout,
  type SniffProblem,
} from "../../core/log/sniff";
import { grownFrom, mappedBefore, type GrownFrom, type SeenBefore } from "../../data/file/before";
import { findFile, readFilePieces, runsWithFile } from "../../data/file/files";

/** A character has a byte at least. */
export const HEAD_BYTES = HEAD_LENGTH;
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
  const [first] = await readFilePieces(knex, fileId, 1);
  const head = first?.subarray(0, HEAD_BYTES) ?? new Uint8Array();
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
const SAMPLED_PIECES = 8;
const SAMPLED_ROWS = 480;
const SAMPLED_CELLS = 40_000;
/** Places looked at in all pieces together, and bytes of each: many rows of an ordinary log. */
const SAMPLED_PLACES = 24;
const PLACE_BYTES = 1 << 14;

async function sampleRows(knex: Knex, fileId: number, encoding: Encoding, layout: LogLayout): Promise<string[][]> {
  const pieces = await readFilePieces(knex, fileId, SAMPLED_PIECES);
  const wanted = Math.min(SAMPLED_ROWS, Math.floor(SAMPLED_CELLS / layout.columns.length));
  const each = Math.ceil(wanted / Math.max(1, pieces.length));
  return pieces.flatMap((piece, i) => {
    const places = placesIn(piece, Math.ceil(SAMPLED_PLACES / pieces.length)).map((place, k) =>
      rowsIn(place, encoding, layout, { begins: i === 0 && k === 0, ends: place === piece && pieces.length === 1 }),
    );
    // Lines longer than a place: the piece is looked at whole.
    const rows = places.some((r) => r.length)
      ? places.flat()
      : rowsIn(piece, encoding, layout, { begins: i === 0, ends: pieces.length === 1 });
    const step = Math.max(1, rows.length / each);
    return Array.from({ length: Math.min(each, rows.length) }, (_, k) =>
      rows[Math.floor(k * step)].map((c) => c.slice(0, 40)),
    );
  });
}

/** Parts from all over a piece, its begin among them; a short piece whole. */
function placesIn(piece: Buffer, count: number): Buffer[] {
  if (piece.length <= count * PLACE_BYTES) return [piece];
  return Array.from({ length: count }, (_, k) => {
    const at = Math.floor((k * (piece.length - PLACE_BYTES)) / Math.max(1, count - 1));
    return piece.subarray(at, at + PLACE_BYTES);
  });
}

/** The whole rows of a part of a file. @param place whether the part begins with the file, and whether it ends with it */
function rowsIn(
  part: Buffer,
  encoding: Encoding,
  { delimiter, columns, firstDataRow }: LogLayout,
  place: { begins: boolean; ends: boolean },
): string[][] {
  const text = new TextDecoder(encoding).decode(part);
  // Lines cut at an end are no rows.
  const from = place.begins ? 0 : text.indexOf("\n") + 1;
  const to = place.ends ? text.length : text.lastIndexOf("\n");
  return tokenise(
    withoutLongLines(text.slice(from, Math.max(from, to)), () => undefined),
    delimiter,
  )
    .slice(place.begins ? firstDataRow : 0)
    .filter((r) => r.length === columns.length);
}
