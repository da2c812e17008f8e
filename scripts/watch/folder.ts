import { openSync, readSync, closeSync, readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import { gunzipSync } from "node:zlib";
import { unzipSync } from "fflate";
import { detectEncoding } from "../../src/core/log/decode";
import { CannotFollow, GrownLog, type GrownLogOptions } from "../../src/core/ingest/grownLog";
import type { Frame } from "../../src/core/ingest/frame";

interface Followed {
  log: GrownLog;
  decoder: TextDecoder;
  read: number;
  /** Size and time of change when it was last looked at. */
  stamp: string;
  /** Why it is not followed; told once. */
  refused: boolean;
}

export interface FolderOptions extends GrownLogOptions {
  folder: string;
  say(text: string): void;
  /** @returns false when they were not acknowledged: they come again */
  send(frames: readonly Frame[]): Promise<boolean>;
}

const LOGS = /\.(csv|tsv|txt|log|dat)$/i;
const PACKED = /\.(gz|zip)$/i;
const PIECE = 1 << 20;
const BATCH = 1000;
const LARGEST_PACKED = 64 * 1024 * 1024;

/** Follows the logs of a folder: what is new in them goes out in order, and what was not acknowledged goes out again. */
export class WatchedFolder {
  private readonly files = new Map<string, Followed>();
  private readonly waiting: Frame[] = [];

  constructor(private readonly options: FolderOptions) {}

  /** One look at the folder. */
  async look(): Promise<void> {
    for (const name of readdirSync(this.options.folder).sort()) {
      // What could not be sent waits; more is not read until it is gone.
      if (this.waiting.length > BATCH) break;
      if (LOGS.test(name)) this.follow(name);
      else if (PACKED.test(name)) this.unpack(name);
    }
    while (this.waiting.length) {
      const batch = this.waiting.slice(0, BATCH);
      if (!(await this.options.send(batch))) return;
      this.waiting.splice(0, batch.length);
    }
  }

  private begin(name: string, head: Uint8Array): Followed {
    const nature = detectEncoding(head);
    const file: Followed = {
      log: new GrownLog(this.options),
      decoder: new TextDecoder(nature.kind === "text" ? nature.encoding : "utf-8"),
      read: 0,
      stamp: "",
      refused: nature.kind !== "text",
    };
    if (file.refused) this.options.say(`${name} is no text and is left alone.`);
    this.files.set(name, file);
    return file;
  }

  private follow(name: string): void {
    const path = join(this.options.folder, name);
    const { size, mtimeMs } = statSync(path);
    const known = this.files.get(name);
    // A logger that begins its file anew begins anew here too; what was sent before is recognised.
    const fresh = !known || size < known.read;
    if (!fresh && (known.read === size || known.refused)) return;
    const handle = openSync(path, "r");
    try {
      const piece = new Uint8Array(PIECE);
      let file = fresh ? null : known;
      for (;;) {
        const n = readSync(handle, piece, 0, PIECE, file?.read ?? 0);
        file ??= this.begin(name, piece.subarray(0, n));
        if (n === 0 || file.refused) return;
        file.read += n;
        this.take(name, file, file.decoder.decode(piece.subarray(0, n), { stream: true }), false);
        if (file.refused) return;
      }
    } finally {
      closeSync(handle);
      const file = this.files.get(name);
      if (file) file.stamp = `${size} ${mtimeMs}`;
    }
  }

  /** A packed log does not grow: it is read once, and again when it was changed. */
  private unpack(name: string): void {
    const path = join(this.options.folder, name);
    const { size, mtimeMs } = statSync(path);
    const stamp = `${size} ${mtimeMs}`;
    if (this.files.get(name)?.stamp === stamp) return;
    const file = this.begin(name, new TextEncoder().encode("text"));
    file.stamp = stamp;
    try {
      for (const content of unpackedLogs(name, readFileSync(path))) {
        file.log = new GrownLog(this.options);
        this.take(name, file, new TextDecoder().decode(content), true);
      }
    } catch (error) {
      this.options.say(`${name} cannot be unpacked yet: ${(error as Error).message}`);
      // Still being copied, perhaps.
      file.stamp = "";
    }
  }

  private take(name: string, file: Followed, text: string, ended: boolean): void {
    try {
      const before = file.log.leftOut;
      this.waiting.push(...file.log.push(text, ended));
      if (file.log.leftOut > before) this.options.say(`${name}: ${file.log.leftOut - before} rows gave no reading.`);
    } catch (error) {
      if (!(error instanceof CannotFollow)) throw error;
      file.refused = true;
      this.options.say(`${name} is not followed: ${error.message}.`);
    }
  }
}

function unpackedLogs(name: string, bytes: Buffer): Uint8Array[] {
  if (/\.gz$/i.test(name)) return [gunzipSync(bytes, { maxOutputLength: LARGEST_PACKED })];
  const entries = unzipSync(bytes, { filter: (e) => LOGS.test(e.name) && e.originalSize < LARGEST_PACKED });
  return Object.values(entries);
}
