import type { Knex } from "knex";
import { json } from "../json";
import { planSettingsSchema, type PlanSettings } from "../../core/experiment/schema/plan";

/** A plan's settings, or null when none was made. */
export async function findPlan(knex: Knex, experimentId: number): Promise<PlanSettings | null> {
  const row = await knex("plan").where({ experiment_id: experimentId }).first("settings");
  return row ? planSettingsSchema.parse(json(row.settings)) : null;
}

/** Experiments that have a plan, oldest first. */
export async function listPlanned(knex: Knex): Promise<number[]> {
  const rows = await knex("plan as p")
    .join("experiment as e", "e.id", "p.experiment_id")
    .whereNull("e.deleted_at")
    .orderBy("e.id")
    .select({ id: "e.id" });
  return rows.map((r: { id: number }) => r.id);
}

/** Keeps a plan; the journal holds what it was. @returns false when the experiment is not there */
export async function savePlan(knex: Knex, experimentId: number, settings: PlanSettings): Promise<boolean> {
  return knex.transaction(async (trx) => {
    if (!(await trx("experiment").where({ id: experimentId }).whereNull("deleted_at").first("id"))) return false;
    const before = await trx("plan").where({ experiment_id: experimentId }).forUpdate().first("settings");
    const row = {
      experiment_id: experimentId,
      settings: JSON.stringify(planSettingsSchema.parse(settings)),
      changed_at: Date.now(),
    };
    await trx("plan").insert(row).onConflict("experiment_id").merge();
    await trx("journal").insert({
      at: Date.now(),
      action: "plan",
      experiment_id: experimentId,
      detail: JSON.stringify({ before: before ? json(before.settings) : null }),
    });
    return true;
  });
}
