import type { Knex } from "knex";

/**
 * A variant's newest revision may still be drawn at: what is drawn changes it until it is named or built. A run remembers how many
 * channels its device had when it began: one that comes later was not set up.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable("variant_revision", (t) => {
    t.boolean("working").notNullable().defaultTo(false);
  });
  await knex.schema.alterTable("run_stream", (t) => {
    t.integer("known_channels").unsigned();
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable("run_stream", (t) => t.dropColumn("known_channels"));
  await knex.schema.alterTable("variant_revision", (t) => t.dropColumn("working"));
}
