import type { Knex } from "knex";
import { createDatabase } from "../../src/data/database";
import { migrate } from "../../src/data/migrate";

/**
 * A database of one test file's own, made afresh beside the one ./bravel test starts, so that files can run side by side
 * and none meets another's leftovers.
 * @param name letters, digits and _, at most 40
 */
export async function freshDatabase(name: string): Promise<Knex> {
  const address = process.env.BRAVEL_TEST_DATABASE_URL;
  if (!address) throw new Error("BRAVEL_TEST_DATABASE_URL is not set; run these through ./bravel test");
  const server = createDatabase(address);
  const own = `bravel_${name}`;
  try {
    await server.raw("DROP DATABASE IF EXISTS ??", [own]);
    await server.raw("CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci", [own]);
  } finally {
    await server.destroy();
  }
  const knex = createDatabase(ownUrl(name));
  await migrate(knex);
  return knex;
}

/** The address of a test file's own database. */
export function ownUrl(name: string): string {
  const url = new URL(process.env.BRAVEL_TEST_DATABASE_URL!);
  url.pathname = `/bravel_${name}`;
  return url.href;
}
