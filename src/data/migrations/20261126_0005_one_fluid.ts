import type { Knex } from "knex";

interface OldDesign {
  fluid: string;
  glycolShare: number;
}

const parse = <T>(value: unknown): T => (typeof value === "string" ? JSON.parse(value) : value) as T;

/**
 * One fluid from the drawing to the verdict. A drawing holds its fluid whole; a lane of a run holds one only where it
 * differs from the drawing. Until now a run's fluid was derived from the absorber, which made every glycol box water.
 */
export async function up(knex: Knex): Promise<void> {
  for (const row of await knex("variant_revision").select("id", "design")) {
    const { fluid, glycolShare, ...rest } = parse<OldDesign>(row.design);
    if (typeof fluid !== "string") continue;
    const whole = fluid === "glycol" ? { kind: fluid, massFraction: glycolShare } : { kind: fluid };
    await knex("variant_revision")
      .where({ id: row.id })
      .update({ design: JSON.stringify({ ...rest, fluid: whole }) });
  }
  for (const row of await knex("run_lane").select("run_id", "letter", "setup"))
    await knex("run_lane")
      .where({ run_id: row.run_id, letter: row.letter })
      .update({ setup: JSON.stringify({ ...parse<object>(row.setup), fluid: null }) });
}

export async function down(knex: Knex): Promise<void> {
  const drawn = new Map<string, string>();
  for (const row of await knex("variant_revision").select("id", "variant_id", "revision", "design")) {
    const design = parse<{ fluid: { kind: string; massFraction?: number } }>(row.design);
    drawn.set(`${row.variant_id}/${row.revision}`, design.fluid.kind);
    await knex("variant_revision")
      .where({ id: row.id })
      .update({
        design: JSON.stringify({ ...design, fluid: design.fluid.kind, glycolShare: design.fluid.massFraction ?? 0 }),
      });
  }
  const lanes = await knex("run_lane as l")
    .join("run as r", "r.id", "l.run_id")
    .join("experiment_lane as e", (on) => on.on("e.experiment_id", "r.experiment_id").andOn("e.letter", "l.letter"))
    .join("specimen as s", "s.id", "e.specimen_id")
    .select({
      runId: "l.run_id",
      letter: "l.letter",
      setup: "l.setup",
      variantId: "s.variant_id",
      revision: "s.revision",
    });
  for (const l of lanes) {
    const setup = parse<{ fluid: { kind: string } | null }>(l.setup);
    const kind = setup.fluid?.kind ?? drawn.get(`${l.variantId}/${l.revision}`) ?? "air";
    await knex("run_lane")
      .where({ run_id: l.runId, letter: l.letter })
      .update({ setup: JSON.stringify({ ...setup, fluid: { kind: kind === "glycol" ? "water" : kind } }) });
  }
}
