import type { Knex } from "knex";

/** Instants are UTC milliseconds since 1970 in BIGINT: exact, zone-free, and what the readings use. */
const instant = (t: Knex.CreateTableBuilder, name: string) => t.bigInteger(name);

export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable("site", (t) => {
    t.increments("id");
    t.string("name", 120).notNullable();
    t.decimal("latitude", 9, 6).notNullable();
    t.decimal("longitude", 9, 6).notNullable();
    t.decimal("altitude_m", 7, 1).notNullable();
    t.string("zone", 64).notNullable();
    t.decimal("linke_turbidity", 4, 2).notNullable();
    instant(t, "created_at").notNullable();
  });
  await knex.schema.createTable("variant", (t) => {
    t.increments("id");
    t.string("name", 120).notNullable();
    instant(t, "created_at").notNullable();
  });
  await knex.schema.createTable("variant_revision", (t) => {
    t.increments("id");
    t.integer("variant_id").unsigned().notNullable().references("id").inTable("variant").onDelete("CASCADE");
    t.integer("revision").unsigned().notNullable();
    t.json("specification").notNullable();
    instant(t, "created_at").notNullable();
    t.unique(["variant_id", "revision"]);
  });
  await knex.schema.createTable("specimen", (t) => {
    t.increments("id");
    t.integer("variant_id").unsigned().notNullable().references("id").inTable("variant").onDelete("CASCADE");
    t.integer("number").unsigned().notNullable();
    t.json("as_built").notNullable();
  });
  await knex.schema.createTable("experiment", (t) => {
    t.increments("id");
    t.string("name", 120).notNullable();
    t.string("question", 500).notNullable();
    t.integer("site_id").unsigned().notNullable().references("id").inTable("site");
    t.json("settings").notNullable();
    t.string("demo_key", 40).unique();
    instant(t, "created_at").notNullable();
    instant(t, "changed_at").notNullable();
    instant(t, "deleted_at");
  });
  await knex.schema.createTable("experiment_lane", (t) => {
    t.integer("experiment_id").unsigned().notNullable().references("id").inTable("experiment").onDelete("CASCADE");
    t.specificType("letter", "CHAR(1) NOT NULL");
    t.integer("specimen_id").unsigned().notNullable().references("id").inTable("specimen");
    t.primary(["experiment_id", "letter"]);
  });
  await knex.schema.createTable("run", (t) => {
    t.increments("id");
    t.integer("experiment_id").unsigned().notNullable().references("id").inTable("experiment").onDelete("CASCADE");
    t.integer("number").unsigned().notNullable();
    t.string("note", 500).notNullable().defaultTo("");
    t.json("setup").notNullable();
    instant(t, "created_at").notNullable();
    instant(t, "deleted_at");
    t.unique(["experiment_id", "number"]);
  });
  await knex.schema.createTable("run_lane", (t) => {
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    t.specificType("letter", "CHAR(1) NOT NULL");
    t.integer("station").unsigned().notNullable();
    t.json("setup").notNullable();
    t.primary(["run_id", "letter"]);
  });
  await knex.schema.createTable("raw_file", (t) => {
    t.increments("id");
    t.string("name", 255).notNullable();
    t.bigInteger("bytes").notNullable();
    t.specificType("sha256", "CHAR(64) NOT NULL").index();
    instant(t, "created_at").notNullable();
  });
  await knex.schema.createTable("raw_chunk", (t) => {
    t.integer("file_id").unsigned().notNullable().references("id").inTable("raw_file").onDelete("CASCADE");
    t.integer("seq").unsigned().notNullable();
    // Each chunk is a gzip member of its own, so a part of a file can be read without the rest.
    t.specificType("content", "MEDIUMBLOB NOT NULL");
    t.primary(["file_id", "seq"]);
  });
  await knex.schema.createTable("stream", (t) => {
    t.increments("id");
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    t.integer("raw_file_id").unsigned().references("id").inTable("raw_file");
    t.string("name", 255).notNullable();
    t.integer("frames").unsigned().notNullable();
    t.double("t_start").notNullable();
    t.double("t_end").notNullable();
    t.bigInteger("clock_offset_ms").notNullable().defaultTo(0);
    t.json("settings").notNullable();
    t.json("summary").notNullable();
    instant(t, "created_at").notNullable();
    instant(t, "deleted_at");
  });
  await knex.schema.createTable("channel", (t) => {
    t.integer("stream_id").unsigned().notNullable().references("id").inTable("stream").onDelete("CASCADE");
    t.specificType("channel_no", "SMALLINT UNSIGNED NOT NULL");
    t.string("name", 255).notNullable();
    t.string("kind", 24);
    t.specificType("lane", "CHAR(1)");
    t.string("unit", 24);
    t.primary(["stream_id", "channel_no"]);
  });
  // Readings in column blocks: channel 0 holds the times, docs/decisions/0002.
  await knex.schema.createTable("reading_block", (t) => {
    t.integer("stream_id").unsigned().notNullable().references("id").inTable("stream").onDelete("CASCADE");
    t.specificType("channel_no", "SMALLINT UNSIGNED NOT NULL");
    t.integer("seq").unsigned().notNullable();
    t.double("t_start").notNullable();
    t.double("t_end").notNullable();
    t.specificType("n", "SMALLINT UNSIGNED NOT NULL");
    t.double("min_value");
    t.double("max_value");
    t.double("mean_value");
    t.specificType("vals", "MEDIUMBLOB NOT NULL");
    t.primary(["stream_id", "channel_no", "seq"]);
  });
  await knex.schema.createTable("import_problem", (t) => {
    t.integer("stream_id").unsigned().notNullable().references("id").inTable("stream").onDelete("CASCADE");
    t.integer("seq").unsigned().notNullable();
    t.json("problem").notNullable();
    t.primary(["stream_id", "seq"]);
  });
  await knex.schema.createTable("exclusion", (t) => {
    t.increments("id");
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    t.specificType("lane", "CHAR(1)");
    t.double("from_ms").notNullable();
    t.double("to_ms").notNullable();
    t.string("reason", 300).notNullable();
    instant(t, "created_at").notNullable();
    instant(t, "removed_at");
  });
  await knex.schema.createTable("journal", (t) => {
    t.increments("id");
    instant(t, "at").notNullable();
    t.string("action", 40).notNullable();
    t.integer("experiment_id").unsigned().references("id").inTable("experiment").onDelete("CASCADE");
    t.json("detail").notNullable();
  });
  await knex.schema.createTable("result_summary", (t) => {
    t.integer("experiment_id").unsigned().primary().references("id").inTable("experiment").onDelete("CASCADE");
    t.specificType("fingerprint", "CHAR(64) NOT NULL");
    t.json("summary").notNullable();
  });
}

export async function down(knex: Knex): Promise<void> {
  const newestFirst = [
    "result_summary",
    "journal",
    "exclusion",
    "import_problem",
    "reading_block",
    "channel",
    "stream",
    "raw_chunk",
    "raw_file",
    "run_lane",
    "run",
    "experiment_lane",
    "experiment",
    "specimen",
    "variant_revision",
    "variant",
    "site",
  ];
  for (const table of newestFirst) await knex.schema.dropTableIfExists(table);
}
