import type { Knex } from "knex";

/** Verdicts as they stood on a day: the results, with the fingerprint of what they rest on. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable("verdict_version", (t) => {
    t.increments("id");
    t.integer("experiment_id").unsigned().notNullable().references("id").inTable("experiment").onDelete("CASCADE");
    t.bigInteger("at").notNullable();
    t.string("note", 300).notNullable();
    t.specificType("fingerprint", "CHAR(64) NOT NULL");
    t.specificType("results", "LONGTEXT NOT NULL");
    t.index(["experiment_id", "at"]);
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.dropTable("verdict_version");
}
