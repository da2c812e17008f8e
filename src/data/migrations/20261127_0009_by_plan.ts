import type { Knex } from "knex";

/** A live run may follow its plan: paused between its hours, ended with its last. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable("run", (t) => {
    // Until when the plan has been followed; null: a person begins and ends.
    t.bigInteger("plan_seen_at");
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable("run", (t) => t.dropColumn("plan_seen_at"));
}
