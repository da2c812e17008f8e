import type { Knex } from "knex";
import type { RawFile } from "../../core/experiment/records";
import { detectEncoding } from "../../core/log/decode";
import type { LogData, LogSettings } from "../../core/log/logData";
import { LogReader } from "../../core/log/readLog";
import { readFileChunks } from "../../data/file/files";
import { ImportCancelled } from "./importRequest";
import { HEAD_BYTES } from "./inspectFile";

/** A kept file read whole as its settings say. @throws ImportCancelled */
export async function readStoredLog(
  knex: Knex,
  file: RawFile,
  settings: LogSettings,
  onProgress: (share: number, rows: number) => void,
  signal: AbortSignal,
): Promise<LogData> {
  const reader = new LogReader(settings, Date.now());
  let decoder: TextDecoder | null = null;
  let bytes = 0;
  for await (const chunk of readFileChunks(knex, file.id)) {
    if (signal.aborted) throw new ImportCancelled();
    if (!decoder) {
      const nature = detectEncoding(chunk.subarray(0, HEAD_BYTES));
      decoder = new TextDecoder(nature.kind === "text" ? nature.encoding : "utf-8");
    }
    // A quarter of a megabyte at a time keeps other requests answered in between.
    for (let at = 0; at < chunk.length; at += 1 << 18) {
      reader.push(decoder.decode(chunk.subarray(at, at + (1 << 18)), { stream: true }));
      await new Promise((r) => setImmediate(r));
    }
    bytes += chunk.length;
    onProgress(bytes / Math.max(1, file.bytes), reader.rowsRead);
  }
  if (decoder) reader.push(decoder.decode());
  return reader.finish();
}
