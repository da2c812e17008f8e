import { join } from "node:path";
import type { Knex } from "knex";

/** The launcher and the tests run from the project's folder; the built application never migrates. */
const config = { directory: join(process.cwd(), "src/data/migrations"), loadExtensions: [".ts"], tableName: "schema_migration" };

/** Brings the tables to the newest schema; safe to call again and by several instances (Knex locks). */
export async function migrate(knex: Knex): Promise<void> {
  try {
    await knex.migrate.latest(config);
  } catch (error) {
    // A process killed while migrating leaves Knex's lock behind; its transaction was rolled back by the server.
    if (!/migration table is already locked/i.test((error as Error).message)) throw error;
    await knex.migrate.forceFreeMigrationsLock(config);
    await knex.migrate.latest(config);
  }
}

/** Undoes every migration: for tests of the migrations themselves. */
export async function migrateDown(knex: Knex): Promise<void> {
  await knex.migrate.rollback(config, true);
}
