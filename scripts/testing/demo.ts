import type { Knex } from "knex";
import { loadDemoWorld } from "../../demo/load";
import { freshDatabase, ownDatabase } from "./database";

/**
 * A database of one test file's own with the demo world as shipped: a copy of BRAVEL_TEST_DEMO where that names a database, loaded
 * from its files where it does not.
 */
export async function demoDatabase(name: string): Promise<Knex> {
  const kept = process.env.BRAVEL_TEST_DEMO;
  if (kept) return ownDatabase(name, kept);
  const knex = await freshDatabase(name);
  await loadDemoWorld(knex, () => undefined);
  return knex;
}
