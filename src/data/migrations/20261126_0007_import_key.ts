import type { Knex } from "knex";

/** A run knows the key its import came under, so that the same import sent again finds it instead of making another. */
export async function up(knex: Knex): Promise<void> {
  if (await knex.schema.hasColumn("run", "import_key")) return;
  await knex.schema.alterTable("run", (t) => {
    t.string("import_key", 64).unique();
  });
}

export async function down(knex: Knex): Promise<void> {
  if (!(await knex.schema.hasColumn("run", "import_key"))) return;
  await knex.schema.alterTable("run", (t) => {
    t.dropColumn("import_key");
  });
}
