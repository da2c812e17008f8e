import { unzip, type Unzipped } from "fflate";
import { SaidError, saidOf } from "@/ui/said";

/** Unpacked, all logs of an archive together, bytes. */
const MOST_UNPACKED = 512 * 1024 * 1024;

const starts = (bytes: Uint8Array, ...signature: number[]): boolean => signature.every((b, i) => bytes[i] === b);

const PACKED = /\.(gz|tgz|zip)$/i;

/** The logs in what was dropped. A packed file is what its first bytes say; one that only calls itself packed is taken as it is. */
async function unpacked(file: File): Promise<File[]> {
  if (!PACKED.test(file.name)) return [file];
  const head = new Uint8Array(await file.slice(0, 4).arrayBuffer());
  if (starts(head, 0x1f, 0x8b)) return [await gunzipped(file)];
  return starts(head, 0x50, 0x4b, 0x03, 0x04) ? unzipped(file) : [file];
}

async function gunzipped(file: File): Promise<File> {
  const name = file.name.replace(/\.gz$/i, "") || file.name;
  try {
    const blob = await new Response(file.stream().pipeThrough(new DecompressionStream("gzip"))).blob();
    return new File([blob], name);
  } catch {
    throw new SaidError(`${file.name} is cut or damaged: it cannot be unpacked. Copy it from the logger again.`);
  }
}

/** Folders and what an operating system puts beside its files are no logs. */
const isLog = (name: string): boolean => !name.endsWith("/") && !/(^|\/)(__MACOSX|\.|thumbs\.db)/i.test(name);

async function unzipped(file: File): Promise<File[]> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let total = 0;
  let packed = false;
  const entries = await new Promise<Unzipped>((resolve, reject) =>
    unzip(
      bytes,
      {
        filter: ({ name, originalSize }) => {
          if (name === "datapackage.json") packed = true;
          if (packed || !isLog(name)) return false;
          total += originalSize;
          return total <= MOST_UNPACKED;
        },
      },
      (error, found) =>
        error
          ? reject(new SaidError(`${file.name} is cut or damaged: it cannot be unpacked. Copy it again.`))
          : resolve(found),
    ),
  );
  if (packed) throw new IsPackage();
  if (total > MOST_UNPACKED)
    throw new SaidError(`${file.name} holds more than 512 MB of logs. Unpack it and drop its files in parts.`);
  const logs = Object.entries(entries).map(
    ([name, content]) => new File([content as BlobPart], name.split("/").pop()!),
  );
  if (!logs.length) throw new SaidError(`${file.name} holds no file.`);
  return logs;
}

/** What was dropped is no log but a whole experiment. */
class IsPackage extends Error {}

/** All logs in what was dropped; what cannot be unpacked is told and left out, a packed experiment is opened as one. */
export async function logsIn(
  files: readonly File[],
  { onProblem, onPackage }: { onProblem: (problem: string) => void; onPackage: (file: File) => void },
): Promise<File[]> {
  const found: File[] = [];
  for (const file of files)
    try {
      found.push(...(await unpacked(file)));
    } catch (error) {
      if (error instanceof IsPackage) onPackage(file);
      else onProblem(saidOf(error, `${file.name} could not be read. Copy it from the logger again.`));
    }
  return found;
}
