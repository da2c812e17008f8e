import type { Knex } from "knex";
import { log } from "./log";

export interface Health {
  ok: boolean;
  /** Whether the database answered. */
  database: boolean;
}

/** Whether Bravel can do its work: its database answers. */
export async function health(database: () => Knex): Promise<Health> {
  try {
    await database().raw("SELECT 1");
    return { ok: true, database: true };
  } catch (error) {
    log.error({ err: error }, "the database does not answer");
    return { ok: false, database: false };
  }
}
