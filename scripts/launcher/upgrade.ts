import { existsSync, readFileSync, rmSync } from "node:fs";
import { basename, join } from "node:path";
import type { Knex } from "knex";
import { createDatabase } from "../../src/data/database";
import { migrate, pendingMigrations } from "../../src/data/migrate";
import { dumpDatabase, keepNewest, loadDatabase } from "./dump";
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
}

const folderOf = (home: string) => join(home, "backup");
const markOf = (home: string) => join(folderOf(home), "upgrading.json");

/**
 * Brings a database to today's tables. Statements that change tables cannot be undone by the server, so a copy is written
 * first; an upgrade that was interrupted, at whatever statement, begins again from that copy. Several instances: one
 * upgrades, the others wait; a lock falls with the connection that holds it.
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
      if (tables.length) {
        const copy = `${stamp()}-before-${pending[0]}.sql.gz`;
        note("writing a copy first");
        await dumpDatabase(url, join(folderOf(home), copy));
        keepNewest(folderOf(home), /-before-.*\.sql\.gz$/, KEPT);
        writeWhole(markOf(home), JSON.stringify({ copy } satisfies Upgrading));
      }
      note(`${pending.length} step${pending.length > 1 ? "s" : ""}`);
      await apply(knex);
      rmSync(markOf(home), { force: true });
    });
  } finally {
    await knex.destroy();
  }
}

/** When the last upgrade did not end, the database is put back to the copy made before it. */
async function putBack(url: string, knex: Knex, home: string, note: (text: string) => void): Promise<void> {
  const mark = markOf(home);
  if (!existsSync(mark)) return;
  const copy = copyNamed(mark);
  const file = copy && join(folderOf(home), copy);
  if (!file || !existsSync(file))
    throw new LaunchError(
      `the last upgrade of the database was interrupted, and its copy (${file ?? "named in " + mark}) is not there. Put the copy back into ${folderOf(home)}, or read another with ./bravel restore FILE; nothing was changed.`,
    );
  note(`the last upgrade was interrupted; beginning again from ${copy}`);
  await dropTables(knex);
  await loadDatabase(url, file);
}

function copyNamed(mark: string): string | null {
  try {
    const { copy } = JSON.parse(readFileSync(mark, "utf8")) as Upgrading;
    // A name, never a way out of its folder.
    return typeof copy === "string" && copy === basename(copy) ? copy : null;
  } catch {
    return null;
  }
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

export async function tablesOf(knex: Knex): Promise<string[]> {
  const [rows] = (await knex.raw(
    "SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE()",
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
