import { createHash } from "node:crypto";
import { createReadStream, createWriteStream, mkdirSync, readdirSync, renameSync, rmSync } from "node:fs";
import { dirname, join } from "node:path";
import { pipeline } from "node:stream/promises";
import { createGunzip, createGzip } from "node:zlib";
import type { Knex } from "knex";
import { createConnection, type Connection } from "mysql2";
import { z } from "zod";
import { createDatabase } from "../../src/data/database";
import { migrateThrough, MIGRATION_TABLES } from "../../src/data/migrate";
import { LaunchError } from "./progress";

/** Table that holds who a database is. No copy takes it along, and no upgrade removes it: no other database ever has the same. */
export const IDENTITY = "bravel_identity";

/** Of each experiment its name, and a hash of its verdict, ranking and points. */
const verdictsSchema = z.record(z.string(), z.object({ name: z.string(), hash: z.string() }));
export type Verdicts = z.infer<typeof verdictsSchema>;

/*
 * A copy is data and never a program: lines of JSON, compressed. First what it is and which changes its tables have had; then table by
 * table a line with its columns and a line for each row; last how much there was, and a hash of all lines before. Tables are made by this
 * Bravel's own migrations when it is read, so that nothing in it is ever carried out.
 */
const nameSchema = z.string().regex(/^[a-z][a-z0-9_]{0,63}$/);
const headSchema = z.object({
  bravel: z.literal("copy"),
  version: z.literal(2),
  at: z.string(),
  migrations: z.array(z.string().max(100)).max(1000),
  verdicts: verdictsSchema,
});
export type CopyHead = z.infer<typeof headSchema>;
const tableSchema = z.object({ table: nameSchema, columns: z.array(nameSchema).min(1).max(200) });
const endSchema = z.object({ end: z.literal(true), tables: z.number(), rows: z.number(), sha256: z.string() });
const cellSchema = z.union([z.null(), z.number(), z.string(), z.object({ bytes: z.base64() }).strict()]);
const rowSchema = z.array(cellSchema);
type Cell = z.infer<typeof cellSchema>;

/** A block of readings is a megabyte at most, a photo five. */
const LONGEST_LINE = 64 * 1024 * 1024;
const BATCH_ROWS = 500;
const BATCH_BYTES = 4 * 1024 * 1024;

/** A connection whose figures and times come as they lie in the table. */
function openRaw(url: string): Connection {
  const at = new URL(url);
  return createConnection({
    host: at.hostname.replace(/^\[|\]$/g, ""),
    port: Number(at.port || 3306),
    user: decodeURIComponent(at.username),
    password: decodeURIComponent(at.password),
    database: decodeURIComponent(at.pathname.slice(1)),
    charset: "utf8mb4",
    timezone: "Z",
    dateStrings: true,
    supportBigNumbers: true,
    rowsAsArray: true,
    // JSON as the text it is: parsed and written anew it would be another.
    jsonStrings: true,
    connectTimeout: 10_000,
  });
}

/** Writes a database as one compressed file, as it was at one moment, while others go on using it. Whole or not at all. */
export async function dumpDatabase(url: string, file: string, verdicts: Verdicts = {}): Promise<void> {
  mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
  const beside = `${file}.${process.pid}.new`;
  const connection = openRaw(url);
  // What it says comes with the query that fails of it.
  connection.on("error", () => undefined);
  try {
    // Before any file is made.
    await new Promise<void>((resolve, reject) => connection.connect((error) => (error ? reject(error) : resolve())));
    await pipeline(
      linesOf(connection, verdicts),
      createGzip({ level: 3 }),
      createWriteStream(beside, { mode: 0o600, flush: true }),
    );
    renameSync(beside, file);
  } catch (error) {
    rmSync(beside, { force: true });
    throw new LaunchError(`Writing the copy failed: ${(error as Error).message}`);
  } finally {
    connection.destroy();
  }
}

async function* linesOf(connection: Connection, verdicts: Verdicts): AsyncGenerator<string> {
  const hash = createHash("sha256");
  const line = (value: unknown) => {
    const text = `${JSON.stringify(value)}\n`;
    hash.update(text);
    return text;
  };
  const ask = (sql: string, values: unknown[] = []) =>
    new Promise<unknown[][]>((resolve, reject) =>
      connection.query(sql, values, (error, rows) => (error ? reject(error) : resolve(rows as unknown[][]))),
    );
  await ask("SET SESSION time_zone = '+00:00'");
  await ask("SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ");
  await ask("START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY");
  const columns = await ask(
    `SELECT TABLE_NAME, COLUMN_NAME FROM information_schema.COLUMNS
     WHERE TABLE_SCHEMA = DATABASE() AND GENERATION_EXPRESSION IS NULL ORDER BY TABLE_NAME, ORDINAL_POSITION`,
  );
  const tables = new Map<string, string[]>();
  for (const [table, column] of columns as [string, string][])
    if (table !== IDENTITY && !MIGRATION_TABLES.includes(table))
      tables.set(table, [...(tables.get(table) ?? []), column]);
  const done = await ask("SELECT name FROM ?? ORDER BY id", [MIGRATION_TABLES[0]]);
  const head: CopyHead = {
    bravel: "copy",
    version: 2,
    at: new Date().toISOString(),
    migrations: done.map(([name]) => String(name)),
    verdicts,
  };
  yield line(head);
  let rows = 0;
  for (const [table, own] of tables) {
    yield line({ table, columns: own });
    for await (const row of connection.query("SELECT ?? FROM ??", [own, table]).stream({ highWaterMark: 64 })) {
      rows++;
      yield line((row as unknown[]).map(cellOf));
    }
  }
  yield `${JSON.stringify({ end: true, tables: tables.size, rows, sha256: hash.digest("hex") })}\n`;
}

function cellOf(value: unknown): Cell {
  if (Buffer.isBuffer(value)) return { bytes: value.toString("base64") };
  if (value === null || typeof value === "string" || (typeof value === "number" && Number.isFinite(value)))
    return value;
  throw new LaunchError(`a value of the kind ${typeof value} has no place in a copy.`);
}

/** What a copy says of itself. All of it is read and held against its own shape and hash; nothing is changed. */
export async function checkCopy(file: string): Promise<CopyHead> {
  let head: CopyHead | null = null;
  await readCopy(file, (first) => {
    head = first;
  });
  return head!;
}

/**
 * Reads a copy into a database that holds none of its tables: they are made as this Bravel makes them, as far as the copy's had come, and
 * every table and column must be one of those. Checked to its end before anything is changed.
 */
export async function loadDatabase(url: string, file: string): Promise<void> {
  const { migrations } = await checkCopy(file);
  const knex = createDatabase(url);
  try {
    await migrateThrough(knex, migrations);
    const known = await columnsOf(knex);
    await knex.transaction(async (trx) => {
      // The order of tables in a copy is that of their names.
      await trx.raw("SET FOREIGN_KEY_CHECKS = 0");
      try {
        await readCopy(
          file,
          () => undefined,
          (table, columns, rows) => insert(trx, known, { table, columns, rows }),
        );
      } finally {
        await trx.raw("SET FOREIGN_KEY_CHECKS = 1");
      }
    });
  } finally {
    await knex.destroy();
  }
}

async function columnsOf(knex: Knex): Promise<Map<string, Set<string>>> {
  const [rows] = (await knex.raw(
    "SELECT TABLE_NAME AS t, COLUMN_NAME AS c FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE()",
  )) as [{ t: string; c: string }[]];
  const out = new Map<string, Set<string>>();
  for (const { t, c } of rows) out.set(t, (out.get(t) ?? new Set()).add(c));
  MIGRATION_TABLES.concat(IDENTITY).forEach((t) => out.delete(t));
  return out;
}

interface Batch {
  table: string;
  columns: readonly string[];
  rows: readonly Cell[][];
}

async function insert(knex: Knex, known: Map<string, Set<string>>, { table, columns, rows }: Batch): Promise<void> {
  const own = known.get(table);
  const odd = own ? columns.find((c) => !own.has(c)) : table;
  if (odd !== undefined)
    throw new LaunchError(
      `the copy holds ${own ? `a column ${odd} of ${table}` : `a table ${odd}`} that Bravel does not know.`,
    );
  const values = rows.map((row) =>
    Object.fromEntries(
      row.map((cell, i) => [
        columns[i],
        cell !== null && typeof cell === "object" ? Buffer.from(cell.bytes, "base64") : cell,
      ]),
    ),
  );
  if (values.length) await knex(table).insert(values);
}

/**
 * Goes through a copy line by line.
 * @param onRows gets some rows of one table at a time, and each table once without any: it must be known though it be empty
 */
async function readCopy(
  file: string,
  onHead: (head: CopyHead) => void,
  onRows: (table: string, columns: readonly string[], rows: readonly Cell[][]) => Promise<void> | void = () =>
    undefined,
): Promise<void> {
  const bad = (why: string) => new BadCopy(file, why);
  const hash = createHash("sha256");
  let head: CopyHead | null = null;
  let table: z.infer<typeof tableSchema> | null = null;
  let [tables, rows, bytes, ended] = [0, 0, 0, false];
  let batch: Cell[][] = [];
  const flush = async () => {
    if (table && batch.length) await onRows(table.table, table.columns, batch);
    [batch, bytes] = [[], 0];
  };
  const take = async (text: string): Promise<void> => {
    const value = json(text);
    if (ended) throw bad("something follows its last line");
    if (!head) {
      head = headSchema.safeParse(value).data ?? null;
      if (!head) throw bad("its first line does not say so");
      onHead(head);
    } else if (Array.isArray(value)) {
      const row = rowSchema.safeParse(value).data;
      if (!table || row?.length !== table.columns.length) throw bad(`row ${rows + 1} does not fit its table`);
      rows++;
      bytes += text.length;
      if (batch.push(row) >= BATCH_ROWS || bytes > BATCH_BYTES) await flush();
    } else {
      const end = endSchema.safeParse(value).data;
      await flush();
      if (end) {
        ended = end.tables === tables && end.rows === rows && end.sha256 === hash.digest("hex");
        if (!ended) throw bad("its hash or its count of rows is another");
        return;
      }
      table = tableSchema.safeParse(value).data ?? null;
      if (!table) throw bad(`after row ${rows} comes a line that is no table`);
      tables++;
      await onRows(table.table, table.columns, []);
    }
    hash.update(`${text}\n`);
  };
  const source = createReadStream(file);
  const plain = source.pipe(createGunzip());
  source.on("error", (error) => plain.destroy(error));
  try {
    for await (const text of linesIn(plain, bad)) await take(text);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw code?.startsWith("Z_") ? bad("it is not compressed, or cut short") : error;
  } finally {
    source.destroy();
  }
  if (!ended) throw bad("it is cut short");
}

/** A file that is no copy, or a damaged one. */
class BadCopy extends LaunchError {
  constructor(file: string, why: string) {
    super(
      `${file} is not a copy made by ./bravel backup, or it is damaged: ${why}. Nothing was changed. (Copies of before December 2026 are SQL, which is a program and no longer read: make a new one with the Bravel that wrote it, after its data was brought up to date by this one.)`,
    );
  }
}

function json(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

async function* linesIn(pieces: AsyncIterable<Buffer>, bad: (why: string) => Error): AsyncGenerator<string> {
  let held: Buffer[] = [];
  let length = 0;
  for await (const piece of pieces) {
    let from = 0;
    for (let at = piece.indexOf(10); at >= 0; at = piece.indexOf(10, from)) {
      yield Buffer.concat([...held, piece.subarray(from, at)]).toString("utf8");
      [held, length, from] = [[], 0, at + 1];
    }
    held.push(piece.subarray(from));
    length += piece.length - from;
    if (length > LONGEST_LINE) throw bad("a line is longer than any of a copy");
  }
  if (length) throw bad("its last line does not end");
}

/** Removes all but the newest files of a folder that match. @param needed never removed */
export function keepNewest(folder: string, match: RegExp, keep: number, needed: ReadonlySet<string> = new Set()): void {
  const files = readdirSync(folder)
    .filter((f) => match.test(f))
    .sort();
  for (const old of files.slice(0, Math.max(0, files.length - keep)))
    if (!needed.has(old)) rmSync(join(folder, old), { force: true });
}
