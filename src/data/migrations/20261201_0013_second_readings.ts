import type { Knex } from "knex";

/** A second, different reading of one channel for one instant: the first stands, this one is kept beside it. */
export const up = (knex: Knex): Promise<void> =>
  knex.schema.createTable("second_reading", (t) => {
    t.increments("id");
    t.integer("stream_id").unsigned().notNullable().references("id").inTable("stream").onDelete("CASCADE");
    t.bigInteger("t").notNullable();
    t.integer("channel_no").notNullable();
    t.double("value").notNullable();
    t.bigInteger("kept_at").notNullable();
    // The same message sent again brings nothing new.
    t.unique(["stream_id", "t", "channel_no", "value"], { indexName: "second_reading_once" });
  });

export const down = (knex: Knex): Promise<void> => knex.schema.dropTable("second_reading");
