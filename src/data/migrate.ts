import type { Knex } from "knex";
import * as firstSlice from "./migrations/20261125_0001_first_slice";
import * as designs from "./migrations/20261125_0002_designs";
import * as calibrations from "./migrations/20261125_0003_calibrations";
import * as siteAndPlan from "./migrations/20261125_0004_site_and_plan";
import * as oneFluid from "./migrations/20261126_0005_one_fluid";
import * as layersAndPlaces from "./migrations/20261126_0006_layers_and_places";
import * as importKey from "./migrations/20261126_0007_import_key";
import * as live from "./migrations/20261126_0008_live";
import * as byPlan from "./migrations/20261127_0009_by_plan";
import * as verdicts from "./migrations/20261127_0010_verdicts";
import * as mirrors from "./migrations/20261127_0011_mirrors";
import * as deviceClock from "./migrations/20261130_0012_device_clock";
import * as secondReadings from "./migrations/20261201_0013_second_readings";
import * as people from "./migrations/20261202_0014_people";
import * as heldFrames from "./migrations/20261202_0015_held_frames";
import * as workingDrawing from "./migrations/20261202_0016_working_drawing";

/** In order of time; a landed one is never edited, a change of schema is a new one. */
const MIGRATIONS: Record<string, Knex.Migration> = {
  "20261125_0001_first_slice": firstSlice,
  "20261125_0002_designs": designs,
  "20261125_0003_calibrations": calibrations,
  "20261125_0004_site_and_plan": siteAndPlan,
  "20261126_0005_one_fluid": oneFluid,
  "20261126_0006_layers_and_places": layersAndPlaces,
  "20261126_0007_import_key": importKey,
  "20261126_0008_live": live,
  "20261127_0009_by_plan": byPlan,
  "20261127_0010_verdicts": verdicts,
  "20261127_0011_mirrors": mirrors,
  "20261130_0012_device_clock": deviceClock,
  "20261201_0013_second_readings": secondReadings,
  "20261202_0014_people": people,
  "20261202_0015_held_frames": heldFrames,
  "20261202_0016_working_drawing": workingDrawing,
};

/** What Knex itself keeps of the changes: the list, and its lock. */
export const MIGRATION_TABLES = ["schema_migration", "schema_migration_lock"];

const config: Knex.MigratorConfig = {
  tableName: MIGRATION_TABLES[0],
  migrationSource: {
    getMigrations: () => Promise.resolve(Object.keys(MIGRATIONS)),
    getMigrationName: (name: string) => name,
    getMigration: (name: string) => Promise.resolve(MIGRATIONS[name]),
  },
};

/** Brings the tables to the newest schema; safe to call again and by several instances (Knex locks). */
export async function migrate(knex: Knex): Promise<void> {
  try {
    await knex.migrate.latest(config);
  } catch (error) {
    // A process killed while migrating leaves Knex's lock behind.
    if (!/migration table is already locked/i.test((error as Error).message)) throw error;
    await knex.migrate.forceFreeMigrationsLock(config);
    await knex.migrate.latest(config);
  }
}

/** A database that a newer Bravel has changed already. */
export class NewerDatabase extends Error {
  constructor(unknown: string) {
    super(`this database has had changes this Bravel does not know: ${unknown}`);
  }
}

/** Migrations a database has not had yet, in order. Throws when it had one this Bravel does not know. */
export async function pendingMigrations(knex: Knex): Promise<string[]> {
  const [, pending] = await knex.migrate.list(config).catch((error: Error) => {
    // Knex's words for changes it finds in the database and not here.
    const unknown = /files are missing: (.*)$/s.exec(error.message)?.[1];
    throw unknown ? new NewerDatabase(unknown) : error;
  });
  return pending as string[];
}

/** Makes the tables of an empty database as they were after these changes, and no further. Throws when one is not known here. */
export async function migrateThrough(knex: Knex, names: readonly string[]): Promise<void> {
  const known = Object.keys(MIGRATIONS);
  const unknown = names.filter((name, i) => known[i] !== name);
  if (unknown.length) throw new NewerDatabase(unknown.join(", "));
  for (const name of names) await knex.migrate.up({ ...config, name } as Knex.MigratorConfig);
}

/** Undoes every migration: for tests of the migrations themselves. @testing */
export async function migrateDown(knex: Knex): Promise<void> {
  await knex.migrate.rollback(config, true);
}

/** Undoes the last migrations up to and with the one named: for tests of a single step. @testing */
export async function migrateBackTo(knex: Knex, name: string): Promise<void> {
  for (const done = Object.keys(MIGRATIONS).reverse(); done.length; done.shift()) {
    await knex.migrate.down(config);
    if (done[0] === name) return;
  }
}
