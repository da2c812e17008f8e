import type { Knex } from "knex";
import { designFromOutline } from "../../core/collector/outline";
import type { AbsorberForm } from "../../core/collector/form/list";
import { fluidOf } from "../../core/fluids/fluid";

/** What a variant held before it was a design: a few words and three areas. */
interface Specification {
  absorber: AbsorberForm;
  fluid: "air" | "water";
  covers: number;
  grossAreaM2: number;
  apertureAreaM2: number;
  absorberAreaM2: number;
}

const parse = <T>(value: unknown): T => (typeof value === "string" ? JSON.parse(value) : value) as T;

/** Variants become designs; what was measured goes to the specimen, which from now on names the revision it was built to. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable("variant_revision", (t) => {
    t.json("design");
    t.string("note", 300).notNullable().defaultTo("");
  });
  await knex.schema.alterTable("variant", (t) => {
    t.json("bill");
    t.json("checklist");
  });
  await knex.schema.alterTable("specimen", (t) => {
    t.integer("revision").unsigned().notNullable().defaultTo(1);
  });
  for (const row of await knex("variant_revision").select("id", "variant_id", "revision", "specification")) {
    const old = parse<Specification>(row.specification);
    // A few old demo lanes said air for a form whose fluid is a liquid; the form's own fluid stands then.
    await knex("variant_revision")
      .where({ id: row.id })
      .update({ design: JSON.stringify(designFromOutline({ ...old, fluid: fluidOf(old.fluid) })) });
    const asBuilt = {
      grossAreaM2: old.grossAreaM2,
      apertureAreaM2: old.apertureAreaM2,
      absorberAreaM2: old.absorberAreaM2,
    };
    await knex("specimen")
      .where({ variant_id: row.variant_id })
      .update({ revision: row.revision, as_built: JSON.stringify(asBuilt) });
  }
  await knex.schema.alterTable("variant_revision", (t) => {
    t.dropColumn("specification");
  });
  await knex.raw("ALTER TABLE variant_revision MODIFY design JSON NOT NULL");
  await knex.schema.createTable("experiment_variant", (t) => {
    t.integer("experiment_id").unsigned().notNullable().references("id").inTable("experiment").onDelete("CASCADE");
    t.integer("variant_id").unsigned().notNullable().references("id").inTable("variant").onDelete("CASCADE");
    t.specificType("letter", "CHAR(1) NOT NULL");
    t.bigInteger("removed_at");
    t.primary(["experiment_id", "variant_id"]);
  });
  await knex.raw(
    "INSERT INTO experiment_variant (experiment_id, variant_id, letter) SELECT el.experiment_id, s.variant_id, MIN(el.letter) FROM experiment_lane el JOIN specimen s ON s.id = el.specimen_id GROUP BY el.experiment_id, s.variant_id",
  );
  await knex.schema.createTable("material", (t) => {
    t.string("material_key", 60).primary();
    t.json("material").notNullable();
    t.bigInteger("changed_at").notNullable();
    t.bigInteger("deleted_at");
  });
  await knex.schema.createTable("photo", (t) => {
    t.increments("id");
    t.integer("variant_id").unsigned().notNullable().references("id").inTable("variant").onDelete("CASCADE");
    t.string("item", 120).notNullable();
    t.string("type", 20).notNullable();
    t.integer("bytes").unsigned().notNullable();
    t.specificType("sha256", "CHAR(64) NOT NULL");
    t.specificType("content", "MEDIUMBLOB NOT NULL");
    t.bigInteger("created_at").notNullable();
    t.bigInteger("deleted_at");
    t.index(["variant_id", "item"]);
  });
}

/** Back to the few words an old specification had. */
export async function down(knex: Knex): Promise<void> {
  for (const table of ["photo", "material", "experiment_variant"]) await knex.schema.dropTableIfExists(table);
  await knex.schema.alterTable("variant_revision", (t) => {
    t.json("specification");
  });
  for (const row of await knex("variant_revision").select("id", "design")) {
    const d = parse<{
      fluid: string;
      grossWidthM: number;
      grossLengthM: number;
      layers: { kind: string; form?: string }[];
    }>(row.design);
    const area = d.grossWidthM * d.grossLengthM;
    const specification = {
      absorber: d.layers.find((l) => l.kind === "absorber")?.form ?? "flat",
      airPath: d.fluid === "air" ? "back" : "none",
      fluid: d.fluid === "air" ? "air" : "water",
      covers: Math.min(2, d.layers.filter((l) => l.kind === "cover").length),
      coverMaterial: "",
      coverTransmittance: 0.86,
      absorptance: 0.95,
      coating: "",
      insulationMm: 50,
      mirror: false,
      grossAreaM2: area,
      apertureAreaM2: area,
      absorberAreaM2: area,
    };
    await knex("variant_revision")
      .where({ id: row.id })
      .update({ specification: JSON.stringify(specification) });
  }
  await knex.schema.alterTable("variant_revision", (t) => t.dropColumns("design", "note"));
  await knex.schema.alterTable("variant", (t) => t.dropColumns("bill", "checklist"));
  await knex.schema.alterTable("specimen", (t) => t.dropColumn("revision"));
}
