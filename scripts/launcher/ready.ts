import { closeSync, existsSync, fsyncSync, openSync, readdirSync, readFileSync, renameSync, writeSync } from "node:fs";
import { join } from "node:path";
import { z } from "zod";

/** How a database of the project's own is reached. */
const settingsSchema = z.object({
  port: z.number().int().min(1).max(65535),
  user: z.string().regex(/^\w+$/),
  password: z.string().min(8),
  database: z.string().regex(/^\w+$/),
});
export type DatabaseSettings = z.infer<typeof settingsSchema>;

const READY = "ready.json";

/** What the settings beside a database say; `null` when they are not there, a reason when they cannot be read. */
export function readReady(root: string): { settings: DatabaseSettings | null; damage: string | null } {
  const file = join(root, READY);
  if (!existsSync(file)) return { settings: null, damage: null };
  try {
    const text = readFileSync(file, "utf8");
    if (!text.trim()) return { settings: null, damage: "it is empty" };
    const parsed = settingsSchema.safeParse(JSON.parse(text));
    return parsed.success
      ? { settings: parsed.data, damage: null }
      : { settings: null, damage: `it lacks ${parsed.error.issues.map((i) => i.path.join(".")).join(", ")}` };
  } catch (error) {
    return { settings: null, damage: (error as Error).message };
  }
}

/** Written whole or not at all: beside, to the disk, then in its place. */
export function writeWhole(file: string, text: string): void {
  const beside = `${file}.${process.pid}.new`;
  const handle = openSync(beside, "w", 0o600);
  try {
    writeSync(handle, text);
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
  renameSync(beside, file);
}

export const writeReady = (root: string, settings: DatabaseSettings): void =>
  writeWhole(join(root, READY), JSON.stringify(settings));

/** Folders of the server itself; whatever else holds a table is somebody's data. */
const SYSTEM = new Set(["mysql", "performance_schema", "sys"]);

/** Names of databases in a data directory that hold at least one table. Such a directory is never removed. */
export function databasesIn(data: string): string[] {
  if (!existsSync(data)) return [];
  return readdirSync(data, { withFileTypes: true })
    .filter((d) => d.isDirectory() && !SYSTEM.has(d.name) && !d.name.startsWith("#"))
    .map((d) => d.name)
    .filter((name) => readdirSync(join(data, name)).some((f) => /\.(?:ibd|frm|MYD|MAD)$/.test(f)));
}
