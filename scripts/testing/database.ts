import type { Knex } from "knex";
import { createDatabase } from "../../src/data/database";
import { migrate } from "../../src/data/migrate";
import { tablesOf } from "../launcher/upgrade";

/**
 * A database of one test file's own, made afresh beside the one ./bravel test starts, so that files can run side by side
 * and none meets another's leftovers. Its tables are copied from BRAVEL_TEST_TEMPLATE where that names a database.
 * @param name letters, digits and _, at most 40
 */
export const freshDatabase = (name: string): Promise<Knex> => ownDatabase(name, process.env.BRAVEL_TEST_TEMPLATE);

/**
 * The database of a test file, there before its first test and put away behind its last.
 * @param name as of `freshDatabase`
 */
export function testDatabase(name: string): Knex {
  let knex: Knex | null = null;
  const made = (): Knex => {
    if (!knex) throw new Error("The test's database is there from beforeAll on.");
    return knex;
  };
  beforeAll(async () => {
    knex = await freshDatabase(name);
  }, 60_000);
  afterAll(() => knex?.destroy());
  return new Proxy((() => undefined) as unknown as Knex, {
    apply: (_, __, args: Parameters<Knex>) => made()(...args),
    get: (_, key) => {
      const value: unknown = Reflect.get(made(), key);
      return typeof value === "function" ? (value.bind(made()) as unknown) : value;
    },
  });
}

/** @param from name of the database it begins as; undefined: tables alone, made step by step */
export async function ownDatabase(name: string, from: string | undefined): Promise<Knex> {
  const knex = createDatabase(await emptied(`bravel_${name}`));
  if (from) await copyTables(from, knex);
  else await migrate(knex);
  return knex;
}

/** The address of a test file's own database. */
export function ownUrl(name: string): string {
  return addressOf(`bravel_${name}`);
}

function addressOf(database: string): string {
  const address = process.env.BRAVEL_TEST_DATABASE_URL;
  if (!address) throw new Error("BRAVEL_TEST_DATABASE_URL is not set; run these through ./bravel test");
  const url = new URL(address);
  url.pathname = `/${database}`;
  return url.href;
}

async function emptied(database: string): Promise<string> {
  const url = addressOf(database);
  const server = createDatabase(process.env.BRAVEL_TEST_DATABASE_URL!);
  try {
    await server.raw("DROP DATABASE IF EXISTS ??", [database]);
    await server.raw("CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci", [database]);
  } finally {
    await server.destroy();
  }
  return url;
}

/** Tables of another database of the same server with all that is in them, foreign keys too. */
async function copyTables(from: string, into: Knex): Promise<void> {
  const source = createDatabase(addressOf(from));
  try {
    const names = await tablesOf(source);
    if (!names.length) throw new Error(`there is nothing to copy in ${from}`);
    await into.transaction(async (trx) => {
      await trx.raw("SET FOREIGN_KEY_CHECKS = 0");
      for (const name of names) {
        const [[made]] = (await source.raw("SHOW CREATE TABLE ??", [name])) as [{ "Create Table": string }[]];
        await trx.raw(made["Create Table"].replaceAll("?", "\\?"));
        await trx.raw("INSERT INTO ?? SELECT * FROM ??.??", [name, from, name]);
      }
      await trx.raw("SET FOREIGN_KEY_CHECKS = 1");
    });
  } finally {
    await source.destroy();
  }
}
