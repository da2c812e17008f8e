import type { Knex } from "knex";

/** When a device's readings last came, and since when its clock has been off by the same: a slow clock is no silence. */
export const up = (knex: Knex): Promise<void> =>
  knex.schema.alterTable("device", (t) => {
    t.bigInteger("heard_at").nullable();
    t.bigInteger("lag_since").nullable();
  });

export const down = (knex: Knex): Promise<void> =>
  knex.schema.alterTable("device", (t) => t.dropColumns("heard_at", "lag_since"));
