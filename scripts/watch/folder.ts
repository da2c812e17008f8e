import { createHash } from "node:crypto";
import { openSync, readSync, closeSync, readdirSync, readFileSync, statSync, type Stats } from "node:fs";
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
  /** Which file it was, and what stood at its head and last before `read`: another is a file begun anew. */
  inode: number;
  marks: string;
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
/** Bytes at either end of what was read that tell whether it is still the same file. */
const MARK = 4096;
/** Instants remembered of each log: what comes again from another is a copy, and what lies between them another logger. */
const REMEMBERED = 200_000;
const LARGEST_PACKED = 64 * 1024 * 1024;

/** Follows the logs of a folder: what is new in them goes out in order, and what was not acknowledged goes out again. */
export class WatchedFolder {
  private readonly files = new Map<string, Followed>();
  private readonly waiting: Frame[] = [];
  private readonly said = new Set<string>();
  private readonly sources = new Map<string, Source>();
  /** Whose a channel's name is. */
  private readonly owners = new Map<string, Source>();

  constructor(private readonly options: FolderOptions) {}

  /** One look at the folder. */
  async look(): Promise<void> {
    for (const name of readdirSync(this.options.folder).sort()) {
      // What could not be sent waits; more is not read until it is gone.
      if (this.waiting.length > BATCH) break;
      try {
        this.lookAt(name);
      } catch (error) {
        // One entry that cannot be read keeps nobody from the others.
        this.once(`${name} cannot be read: ${(error as Error).message}`);
      }
    }
    while (this.waiting.length) {
      const batch = this.waiting.slice(0, BATCH);
      if (!(await this.options.send(batch))) return;
      this.waiting.splice(0, batch.length);
    }
  }

  private lookAt(name: string): void {
    const [log, packed] = [LOGS.test(name), PACKED.test(name)];
    if (!log && !packed) return;
    const stats = statSync(join(this.options.folder, name));
    // A folder named like a log, or a pipe that would keep us waiting.
    if (!stats.isFile()) this.once(`${name} is no file and is left alone.`);
    else if (log) this.follow(name, stats);
    else this.unpack(name, stats);
  }

  private once(text: string): void {
    if (this.said.has(text)) return;
    this.said.add(text);
    this.options.say(text);
  }

  private begin(name: string, head: Uint8Array): Followed {
    const nature = detectEncoding(head);
    const file: Followed = {
      log: new GrownLog(this.options),
      decoder: new TextDecoder(nature.kind === "text" ? nature.encoding : "utf-8"),
      read: 0,
      inode: 0,
      marks: "",
      stamp: "",
      refused: nature.kind !== "text",
    };
    if (file.refused) this.options.say(`${name} is no text and is left alone.`);
    this.files.set(name, file);
    return file;
  }

  private follow(name: string, { size, mtimeMs, ino }: Stats): void {
    const path = join(this.options.folder, name);
    const known = this.files.get(name);
    const stamp = `${size} ${mtimeMs}`;
    if (known && (known.stamp === stamp || known.refused)) return;
    const handle = openSync(path, "r");
    try {
      const piece = new Uint8Array(PIECE);
      // A logger that begins its file anew, be it as long as before, begins anew here too; what was sent before is recognised.
      const same = known && known.inode === ino && size >= known.read && known.marks === marksOf(handle, known.read);
      let file = same ? known : null;
      for (;;) {
        const n = readSync(handle, piece, 0, PIECE, file?.read ?? 0);
        file ??= this.begin(name, piece.subarray(0, n));
        if (n === 0 || file.refused) return;
        file.read += n;
        this.take(name, file, file.decoder.decode(piece.subarray(0, n), { stream: true }), false);
        if (file.refused) return;
      }
    } finally {
      const file = this.files.get(name);
      if (file) Object.assign(file, { stamp, inode: ino, marks: marksOf(handle, file.read) });
      closeSync(handle);
    }
  }

  /** A packed log does not grow: it is read once, and again when it was changed. */
  private unpack(name: string, { size, mtimeMs }: Stats): void {
    const path = join(this.options.folder, name);
    const stamp = `${size} ${mtimeMs}`;
    if (this.files.get(name)?.stamp === stamp) return;
    const file = this.begin(name, new TextEncoder().encode("text"));
    file.stamp = stamp;
    try {
      for (const [entry, content] of unpackedLogs(name, readFileSync(path))) {
        const nature = detectEncoding(content.subarray(0, MARK));
        if (nature.kind !== "text") {
          this.once(`${entry} is no text and is left alone.`);
          continue;
        }
        file.log = new GrownLog(this.options);
        file.refused = false;
        this.take(entry, file, new TextDecoder(nature.encoding).decode(content), true);
      }
    } catch (error) {
      this.options.say(`${name} cannot be unpacked yet: ${(error as Error).message}`);
      // Still being copied, perhaps.
      file.stamp = "";
    }
  }

  /**
   * Two logs whose rows lie between each other's and whose columns are named alike are two loggers: one channel would hold both. A log that
   * goes on where another ended, or repeats its rows, is the same one's.
   * @throws CannotFollow
   */
  private claim(name: string, frames: readonly Frame[]): void {
    const own = this.sources.get(name) ?? { name, fromMs: Infinity, toMs: -Infinity, instants: new Set<number>() };
    this.sources.set(name, own);
    const others = (atMs: number, values: Frame["values"]) =>
      values.flatMap(([channel]) => {
        const owner = this.owners.get(channel);
        return owner && owner !== own ? [{ channel, owner, isAfter: atMs >= owner.toMs }] : [];
      });
    for (const { atMs, values } of frames)
      for (const { channel, owner } of others(atMs!, values))
        if (atMs! > owner.fromMs && atMs! < owner.toMs && !owner.instants.has(atMs!))
          throw new CannotFollow(
            `“${channel}” was read from ${owner.name} at the same time; give each logger a folder of its own, or its columns other names`,
          );
    for (const { atMs, values } of frames) {
      grow(own, atMs!);
      for (const { channel, owner, isAfter } of others(atMs!, values))
        if (isAfter) {
          this.owners.set(channel, own);
          if (![...this.owners.values()].includes(owner)) owner.instants.clear();
        }
      for (const [channel] of values) if (!this.owners.has(channel)) this.owners.set(channel, own);
    }
  }

  private take(name: string, file: Followed, text: string, ended: boolean): void {
    try {
      const before = file.log.leftOut;
      const frames = file.log.push(text, ended);
      this.claim(name, frames);
      this.waiting.push(...frames);
      if (file.log.leftOut > before) this.options.say(`${name}: ${file.log.leftOut - before} rows gave no reading.`);
    } catch (error) {
      if (!(error instanceof CannotFollow)) throw error;
      file.refused = true;
      this.options.say(`${name} is not followed: ${error.message}.`);
    }
  }
}

function grow(source: Source, atMs: number): void {
  source.fromMs = Math.min(source.fromMs, atMs);
  source.toMs = Math.max(source.toMs, atMs);
  source.instants.add(atMs);
  if (source.instants.size <= REMEMBERED) return;
  const [oldest] = source.instants;
  source.instants.delete(oldest);
  source.fromMs = Math.max(source.fromMs, oldest);
}

/** A log as a source of channels: its span, and its instants. */
interface Source {
  name: string;
  fromMs: number;
  toMs: number;
  instants: Set<number>;
}

function marksOf(handle: number, read: number): string {
  const hash = createHash("sha256");
  for (const from of [0, Math.max(0, read - MARK)]) {
    const bytes = new Uint8Array(Math.min(MARK, read));
    const n = readSync(handle, bytes, 0, bytes.length, from);
    hash.update(bytes.subarray(0, n));
  }
  return hash.digest("hex");
}

function unpackedLogs(name: string, bytes: Buffer): [entry: string, content: Uint8Array][] {
  if (/\.gz$/i.test(name)) return [[name, gunzipSync(bytes, { maxOutputLength: LARGEST_PACKED })]];
  const entries = unzipSync(bytes, { filter: (e) => LOGS.test(e.name) && e.originalSize < LARGEST_PACKED });
  return Object.entries(entries).map(([entry, content]) => [`${name}/${entry}`, content]);
}
