import type { Knex } from "knex";

/** Readings whose time looks like that of a reset clock: kept apart until somebody says when they were taken. */
export const up = (knex: Knex): Promise<void> =>
  knex.schema.createTable("held_frame", (t) => {
    t.increments("id");
    t.integer("stream_id").unsigned().notNullable().references("id").inTable("stream").onDelete("CASCADE");
    // As stamped, and as its arrival says.
    t.bigInteger("t").notNullable();
    t.bigInteger("arrived_t").notNullable();
    t.json("readings").notNullable();
    t.specificType("sha256", "CHAR(64) NOT NULL");
    t.string("settled", 10);
    // The same message sent again brings nothing new.
    t.unique(["stream_id", "t", "sha256"], { indexName: "held_frame_once" });
  });

export const down = (knex: Knex): Promise<void> => knex.schema.dropTable("held_frame");
