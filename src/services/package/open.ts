import { Unzip, UnzipInflate, UnzipPassThrough } from "fflate";
import { entryProblem, LIMITS } from "../../core/package/limits";

/** A package that is not taken, and why. */
export class PackageRefused extends Error {}

/** Reads an entry: called with each piece, then once with null. */
export type EntryReader = (piece: Uint8Array | null) => void | Promise<void>;

/**
 * Walks through a zip as it comes, entry by entry, and refuses what means harm before it costs anything: names that climb, too many
 * entries, what unpacks beyond measure.
 * @param readerOf what reads an entry; null passes it over, counted all the same
 */
export async function walkZip(
  pieces: AsyncIterable<Uint8Array>,
  readerOf: (name: string) => EntryReader | null,
): Promise<string[]> {
  const names: string[] = [];
  let refused: PackageRefused | null = null;
  let [pushed, unpacked] = [0, 0];
  let waiting: Promise<void> = Promise.resolve();
  const refuse = (why: string) => {
    refused ??= new PackageRefused(why);
  };
  const unzip = new Unzip((file) => {
    const problem = entryProblem(file.name);
    if (problem) return refuse(`It holds ${problem} (“${file.name.slice(0, 80)}”).`);
    if (names.includes(file.name)) return refuse(`It holds “${file.name}” twice.`);
    if (names.push(file.name) > LIMITS.entries) return refuse(`It holds more than ${LIMITS.entries} entries.`);
    if (file.compression !== 0 && file.compression !== 8)
      return refuse(`“${file.name}” is packed in a way that is not read here.`);
    const read = readerOf(file.name);
    file.ondata = (error, data, final) => {
      if (error) return refuse(`“${file.name}” is cut or damaged.`);
      unpacked += data.length;
      if (unpacked > LIMITS.unpacked) refuse("It unpacks to more than 2 GB.");
      if (unpacked > 1 << 20 && unpacked > LIMITS.ratio * pushed)
        refuse(`“${file.name}” unpacks to more than ${LIMITS.ratio} times its size.`);
      if (refused) return file.terminate();
      if (read && data.length) waiting = waiting.then(() => read(data));
      if (read && final) waiting = waiting.then(() => read(null));
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  unzip.register(UnzipPassThrough);
  let first = true;
  for await (const piece of pieces) {
    if (first && !(piece[0] === 0x50 && piece[1] === 0x4b)) throw new PackageRefused("It is no zip file.");
    first = false;
    try {
      for (let at = 0; at < piece.length; at += 1 << 16) {
        const part = piece.subarray(at, at + (1 << 16));
        pushed += part.length;
        unzip.push(part);
        if (refused) throw refused;
      }
    } catch (error) {
      throw refused ?? (error instanceof PackageRefused ? error : new PackageRefused("It is cut or damaged."));
    }
    await waiting;
    if (refused) throw refused;
  }
  try {
    unzip.push(new Uint8Array(), true);
  } catch {
    throw refused ?? new PackageRefused("It is cut or damaged: its end is missing.");
  }
  await waiting;
  if (refused) throw refused;
  if (first) throw new PackageRefused("It is empty.");
  return names;
}
