import type { Knex } from "knex";

const parse = <T>(value: unknown): T => (typeof value === "string" ? JSON.parse(value) : value) as T;

/** Sites get skyline, obstacles, climate and months; experiments get plans; people get times when they are away. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable("site", (t) => {
    t.json("detail");
    t.bigInteger("changed_at");
  });
  for (const row of await knex("site").select("id", "linke_turbidity")) {
    const detail = {
      turbidity: Array(12).fill(Number(row.linke_turbidity)),
      groundReflectance: Array(12).fill(0.2),
      pressurePa: null,
      horizon: [],
      obstacles: [],
      skyModel: "hayDavies",
      climate: null,
    };
    await knex("site")
      .where({ id: row.id })
      .update({ detail: JSON.stringify(detail) });
  }
  await knex.raw("ALTER TABLE site MODIFY detail JSON NOT NULL");
  await knex.schema.alterTable("site", (t) => {
    t.dropColumn("linke_turbidity");
  });
  await knex.schema.createTable("climate", (t) => {
    t.increments("id");
    t.string("name", 160).notNullable();
    t.string("kind", 20).notNullable();
    t.json("detail").notNullable();
    // The typical-weather file as it came in, parsed again when its hours are needed.
    t.integer("raw_file_id").unsigned().references("id").inTable("raw_file");
    t.bigInteger("created_at").notNullable();
    t.bigInteger("deleted_at");
  });
  await knex.schema.createTable("plan", (t) => {
    t.integer("experiment_id").unsigned().primary().references("id").inTable("experiment").onDelete("CASCADE");
    t.json("settings").notNullable();
    t.bigInteger("changed_at").notNullable();
  });
  await knex.schema.createTable("unavailable", (t) => {
    t.increments("id");
    t.json("detail").notNullable();
    t.bigInteger("created_at").notNullable();
    t.bigInteger("deleted_at");
  });
}

export async function down(knex: Knex): Promise<void> {
  for (const table of ["unavailable", "plan", "climate"]) await knex.schema.dropTableIfExists(table);
  await knex.schema.alterTable("site", (t) => {
    t.decimal("linke_turbidity", 4, 2).notNullable().defaultTo(3);
  });
  for (const row of await knex("site").select("id", "detail")) {
    const { turbidity } = parse<{ turbidity: number[] }>(row.detail);
    await knex("site")
      .where({ id: row.id })
      .update({ linke_turbidity: turbidity.reduce((a, b) => a + b, 0) / 12 });
  }
  await knex.schema.alterTable("site", (t) => {
    t.dropColumn("detail");
    t.dropColumn("changed_at");
  });
}
