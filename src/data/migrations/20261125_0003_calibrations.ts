import type { Knex } from "knex";

/** Calibrations of probes, instruments, and the dated layers that apply them to runs. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable("calibration", (t) => {
    t.increments("id");
    t.string("name", 120).notNullable();
    t.string("kind", 20).notNullable();
    t.integer("raw_file_id").unsigned().references("id").inTable("raw_file");
    t.json("settings").notNullable();
    t.json("result").notNullable();
    t.bigInteger("at_ms").notNullable();
    t.bigInteger("created_at").notNullable();
    t.bigInteger("deleted_at");
  });
  await knex.schema.createTable("run_layer", (t) => {
    t.increments("id");
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    t.string("kind", 20).notNullable();
    t.integer("calibration_id").unsigned().references("id").inTable("calibration");
    t.json("detail").notNullable();
    t.string("reason", 300).notNullable();
    t.bigInteger("created_at").notNullable();
    t.bigInteger("removed_at");
  });
  await knex.schema.createTable("instrument", (t) => {
    t.increments("id");
    t.string("label", 120).notNullable();
    t.json("detail").notNullable();
    t.bigInteger("created_at").notNullable();
    t.bigInteger("changed_at").notNullable();
    t.bigInteger("deleted_at");
  });
}

export async function down(knex: Knex): Promise<void> {
  for (const table of ["instrument", "run_layer", "calibration"]) await knex.schema.dropTableIfExists(table);
}
