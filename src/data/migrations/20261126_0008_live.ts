import type { Knex } from "knex";

/** Devices with streams of their own, a packed tail for what just came, runs as spans of streams, events and alarms. */
export async function up(knex: Knex): Promise<void> {
  await devices(knex);
  await spans(knex);
  await bench(knex);
}

async function devices(knex: Knex): Promise<void> {
  await knex.schema.createTable("device", (t) => {
    t.increments("id");
    t.string("name", 80).notNullable();
    t.string("kind", 12).notNullable();
    // SHA-256 of the token: a random token of 192 bits needs no slow hash.
    t.specificType("token_sha256", "CHAR(64) NOT NULL").unique();
    t.string("token_end", 8).notNullable();
    t.boolean("simulated").notNullable().defaultTo(false);
    t.bigInteger("created_at").notNullable();
    t.bigInteger("revoked_at");
    t.bigInteger("seen_at");
    t.bigInteger("lag_ms");
    t.string("last_fault", 300);
    t.bigInteger("last_fault_at");
  });
  await knex.raw("ALTER TABLE stream MODIFY run_id INT UNSIGNED NULL");
  await knex.schema.alterTable("stream", (t) => {
    t.integer("device_id").unsigned().references("id").inTable("device").onDelete("CASCADE");
    t.integer("version").unsigned().notNullable().defaultTo(0);
    t.integer("tail_frames").unsigned().notNullable().defaultTo(0);
  });
  await knex.schema.createTable("tail_frame", (t) => {
    t.integer("stream_id").unsigned().notNullable().references("id").inTable("stream").onDelete("CASCADE");
    t.bigInteger("t").notNullable();
    t.integer("version").unsigned().notNullable();
    t.specificType("vals", "VARBINARY(1024) NOT NULL");
    t.primary(["stream_id", "t"]);
    t.index(["stream_id", "version"]);
  });
}

async function spans(knex: Knex): Promise<void> {
  await knex.schema.alterTable("run", (t) => {
    t.bigInteger("started_at");
    t.bigInteger("ended_at");
    t.bigInteger("paused_at");
  });
  await knex.schema.createTable("run_stream", (t) => {
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    t.integer("stream_id").unsigned().notNullable().references("id").inTable("stream").onDelete("CASCADE");
    t.integer("version").unsigned().notNullable().defaultTo(0);
    // How its columns were read when the run began: offered again next time.
    t.json("settings").notNullable();
    t.primary(["run_id", "stream_id"]);
  });
  await knex.schema.createTable("run_channel", (t) => {
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    t.integer("stream_id").unsigned().notNullable().references("id").inTable("stream").onDelete("CASCADE");
    t.specificType("channel_no", "SMALLINT UNSIGNED NOT NULL");
    t.string("kind", 24);
    t.string("unit", 24);
    t.double("factor");
    t.primary(["run_id", "stream_id", "channel_no"]);
  });
}

async function bench(knex: Knex): Promise<void> {
  await knex.schema.createTable("run_event", (t) => {
    t.increments("id");
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    // Made where it was pressed: sent twice it is there once.
    t.string("event_key", 64).notNullable().unique();
    t.bigInteger("at").notNullable();
    t.string("kind", 24).notNullable();
    t.json("detail").notNullable();
    t.bigInteger("created_at").notNullable();
    t.bigInteger("deleted_at");
  });
  // One simulated bench: what it is to do, for the process that drives it.
  await knex.schema.createTable("rig", (t) => {
    t.integer("id").unsigned().primary();
    t.integer("device_id").unsigned().references("id").inTable("device").onDelete("SET NULL");
    t.json("settings").notNullable();
    t.boolean("is_running").notNullable();
    t.integer("version").unsigned().notNullable();
    t.integer("epoch").unsigned().notNullable();
    t.bigInteger("heard_at");
  });
  await knex.schema.createTable("viewer_link", (t) => {
    t.increments("id");
    t.integer("experiment_id").unsigned().notNullable().references("id").inTable("experiment").onDelete("CASCADE");
    t.string("label", 80).notNullable();
    t.specificType("token_sha256", "CHAR(64) NOT NULL").unique();
    t.bigInteger("created_at").notNullable();
    t.bigInteger("revoked_at");
  });
  await knex.schema.createTable("run_alarm", (t) => {
    t.increments("id");
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    t.string("alarm_key", 80).notNullable();
    t.bigInteger("began_at").notNullable();
    t.bigInteger("ended_at");
    t.bigInteger("acknowledged_at");
    t.json("detail").notNullable();
    t.unique(["run_id", "alarm_key", "began_at"]);
  });
}

/** Streams of devices cannot be held by the old tables: they and their readings go. */
export async function down(knex: Knex): Promise<void> {
  for (const table of ["viewer_link", "rig", "run_alarm", "run_event", "run_channel", "run_stream", "tail_frame"])
    await knex.schema.dropTableIfExists(table);
  await knex("stream").whereNull("run_id").delete();
  await knex.schema.alterTable("stream", (t) => {
    t.dropForeign(["device_id"]);
  });
  await knex.schema.alterTable("stream", (t) => {
    t.dropColumns("device_id", "version", "tail_frames");
  });
  await knex.raw("ALTER TABLE stream MODIFY run_id INT UNSIGNED NOT NULL");
  await knex.schema.alterTable("run", (t) => {
    t.dropColumns("started_at", "ended_at", "paused_at");
  });
  await knex.schema.dropTableIfExists("device");
}
