import { randomUUID } from "node:crypto";
import { existsSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { basename, join } from "node:path";
import type { Knex } from "knex";
import { createDatabase } from "../../src/data/database";
import { migrate, MIGRATION_TABLES, pendingMigrations } from "../../src/data/migrate";
import { checkCopy, dumpDatabase, IDENTITY, keepNewest, loadDatabase } from "./dump";
import { LaunchError } from "./progress";
import { writeWhole } from "./ready";

/** Copies kept beside the database from before its last upgrades. */
const KEPT = 3;
/** One lock a database: several may lie on one server. */
const LOCK = "LEFT(CONCAT('bravel upgrade ', DATABASE()), 64)";
const LOCK_SECONDS = 600;

interface Upgrading {
  /** The copy made before, by name. */
  copy: string;
  /** Whose upgrade it is: the identity the database holds, and its name, for one cloned table by table under another. */
  identity: string;
  database: string;
}

const folderOf = (home: string) => join(home, "backup");
const MARK = /^upgrading-[0-9a-f-]{36}\.json$/;
const markOf = (home: string, identity: string) => join(folderOf(home), `upgrading-${identity}.json`);
/** Written by earlier versions: it does not say which database it belongs to. */
const namelessMark = (home: string) => join(folderOf(home), "upgrading.json");

/**
 * Brings a database to today's tables. Statements that change tables cannot be undone by the server, so a copy is written
 * first; an upgrade that was interrupted, at whatever statement, begins again from that copy. The mark that says so belongs to
 * one database and is held against what that database says of itself: nothing is dropped whose identity differs. Several
 * instances: one upgrades, the others wait; a lock falls with the connection that holds it.
 *
 * @param home folder beside which copies are kept
 * @param apply brings the tables up to date; tests interrupt it
 */
export async function upgrade(
  url: string,
  home: string,
  note: (text: string) => void = () => undefined,
  apply: (knex: Knex) => Promise<void> = migrate,
): Promise<void> {
  const knex = createDatabase(url);
  try {
    await alone(knex, note, async () => {
      await putBack(url, knex, home, note);
      const pending = await pendingMigrations(knex);
      if (!pending.length) return;
      const tables = await tablesOf(knex);
      let mark: string | null = null;
      if (tables.length) {
        const copy = `${stamp()}-before-${pending[0]}.copy.gz`;
        const own = await identityOf(knex, { give: true });
        note("writing a copy first");
        await dumpDatabase(url, join(folderOf(home), copy));
        keepNewest(folderOf(home), /-before-.*\.(sql|copy)\.gz$/, KEPT, copiesInUse(home));
        mark = markOf(home, own!.identity);
        writeWhole(mark, JSON.stringify({ copy, ...own! } satisfies Upgrading));
      }
      note(`${pending.length} step${pending.length > 1 ? "s" : ""}`);
      await apply(knex);
      if (mark) rmSync(mark, { force: true });
    });
  } finally {
    await knex.destroy();
  }
}

/** When the last upgrade of this very database did not end, it is put back to the copy made before it. */
async function putBack(url: string, knex: Knex, home: string, note: (text: string) => void): Promise<void> {
  await refuseNameless(knex, home);
  const own = await identityOf(knex);
  if (!own || !existsSync(markOf(home, own.identity))) return;
  const mark = markOf(home, own.identity);
  const read = markIn(mark);
  // A copy of this database under another name, table by table: the upgrade that broke off was not this one's.
  if (read && (read.identity !== own.identity || read.database !== own.database)) return;
  const file = read && join(folderOf(home), read.copy);
  if (!file || !existsSync(file))
    throw new LaunchError(
      `the last upgrade of the database was interrupted, and its copy (${file ?? "named in " + mark}) is not there. Put the copy back into ${folderOf(home)}, or read another with ./bravel restore FILE; nothing was changed.`,
    );
  note(`the last upgrade was interrupted; beginning again from ${read.copy}`);
  // Read to its end before anything goes; and what there is now is kept beside, however far it came.
  await checkCopy(file);
  if (await knex.schema.hasTable(MIGRATION_TABLES[0])) {
    await dumpDatabase(url, join(folderOf(home), `${stamp()}-aside.copy.gz`));
    keepNewest(folderOf(home), /-aside\.copy\.gz$/, KEPT);
  }
  await dropTables(knex);
  await loadDatabase(url, file);
}

/** A mark that names no database is never acted on: it may be that of a restored copy. */
async function refuseNameless(knex: Knex, home: string): Promise<void> {
  const mark = namelessMark(home);
  if (!existsSync(mark)) return;
  // Up to date: this database's upgrade ended, so the mark is another one's.
  if (!(await pendingMigrations(knex)).length) return;
  const copy = markIn(mark)?.copy;
  throw new LaunchError(
    `an upgrade by an earlier Bravel was interrupted, and its mark (${mark}) does not say of which database. If it was this one, read its copy into a new database: ./bravel restore ${copy ? join(folderOf(home), copy) : "FILE"} NAME. If this database is whole, remove the mark and start again. Nothing was changed.`,
  );
}

/** Copies that an upgrade which did not end still needs. */
const copiesInUse = (home: string): ReadonlySet<string> =>
  new Set(
    readdirSync(folderOf(home))
      .filter((name) => MARK.test(name))
      .flatMap((name) => markIn(join(folderOf(home), name))?.copy ?? []),
  );

function markIn(file: string): Upgrading | null {
  try {
    const read = JSON.parse(readFileSync(file, "utf8")) as Upgrading;
    // A name, never a way out of its folder.
    return typeof read.copy === "string" && read.copy === basename(read.copy) ? read : null;
  } catch {
    return null;
  }
}

/** Who a database says it is; null for one that was never asked before, unless it is to be given an identity. */
async function identityOf(knex: Knex, { give = false } = {}): Promise<Pick<Upgrading, "identity" | "database"> | null> {
  if (!(await knex.schema.hasTable(IDENTITY))) {
    if (!give) return null;
    await knex.raw("CREATE TABLE ?? (identity CHAR(36) CHARACTER SET ascii PRIMARY KEY)", [IDENTITY]);
  }
  let [row] = (await knex(IDENTITY).select("identity")) as { identity: string }[];
  if (!row && give) {
    row = { identity: randomUUID() };
    await knex(IDENTITY).insert(row);
  }
  if (!row) return null;
  const [[{ name }]] = (await knex.raw("SELECT DATABASE() AS name")) as [[{ name: string }]];
  return { identity: row.identity, database: name };
}

/** Runs work while no other instance upgrades this database. */
async function alone(knex: Knex, note: (text: string) => void, work: () => Promise<void>): Promise<void> {
  const connection = (await knex.client.acquireConnection()) as unknown;
  const ask = async (sql: string): Promise<unknown> => {
    const [[row]] = (await knex.raw(sql).connection(connection as never)) as [[{ answer: unknown }]];
    return row.answer;
  };
  try {
    if ((await ask(`SELECT GET_LOCK(${LOCK}, 0) AS answer`)) !== 1) {
      note("another Bravel is upgrading this database; waiting for it");
      if ((await ask(`SELECT GET_LOCK(${LOCK}, ${LOCK_SECONDS}) AS answer`)) !== 1)
        throw new LaunchError(
          "another Bravel has been upgrading this database for ten minutes. Look at it, then run this again.",
        );
    }
    await work();
  } finally {
    await ask(`SELECT RELEASE_LOCK(${LOCK}) AS answer`).catch(() => undefined);
    await knex.client.releaseConnection(connection);
  }
}

/** The tables that hold data: all but the one that says who the database is. */
export async function tablesOf(knex: Knex): Promise<string[]> {
  const [rows] = (await knex.raw(
    "SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME <> ?",
    [IDENTITY],
  )) as [{ name: string }[]];
  return rows.map((r) => r.name);
}

export async function dropTables(knex: Knex): Promise<void> {
  await knex.transaction(async (trx) => {
    await trx.raw("SET FOREIGN_KEY_CHECKS = 0");
    for (const name of await tablesOf(trx)) await trx.raw("DROP TABLE IF EXISTS ??", [name]);
    await trx.raw("SET FOREIGN_KEY_CHECKS = 1");
  });
}

const stamp = () => new Date().toISOString().slice(0, 19).replace(/[-:]/g, "");
