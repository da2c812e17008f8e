import type { Knex } from "knex";

/** Named people, their sessions, who made a change, and whether a viewer may take a package along. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable("person", (t) => {
    t.increments("id");
    t.string("name", 60).notNullable().unique();
    t.string("role", 10).notNullable();
    t.string("passphrase", 120).notNullable();
    t.bigInteger("created_at").notNullable();
    t.bigInteger("left_at");
  });
  await knex.schema.createTable("session", (t) => {
    t.increments("id");
    t.specificType("token_sha256", "CHAR(64) NOT NULL").unique();
    // Without a person: the owner, by the passphrase Bravel was started with.
    t.integer("person_id").unsigned().references("id").inTable("person").onDelete("CASCADE");
    t.string("device", 120).notNullable();
    t.string("address", 64).notNullable();
    t.bigInteger("created_at").notNullable();
    t.bigInteger("used_at").notNullable();
    t.bigInteger("until_at").notNullable();
    t.bigInteger("ended_at");
  });
  await knex.schema.alterTable("journal", (t) => {
    t.string("made_by", 60);
  });
  await knex.schema.alterTable("viewer_link", (t) => {
    t.boolean("takes").notNullable().defaultTo(false);
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable("viewer_link", (t) => {
    t.dropColumn("takes");
  });
  await knex.schema.alterTable("journal", (t) => {
    t.dropColumn("made_by");
  });
  await knex.schema.dropTable("session");
  await knex.schema.dropTable("person");
}
