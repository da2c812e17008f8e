import type { Knex } from "knex";
import { noteChange } from "../journal";
import type { z } from "zod";
import { json, readable } from "../json";
import { patchedPlan } from "../../core/experiment/planPatch";
import { planSettingsSchema, type PlanPatch, type PlanSettings } from "../../core/experiment/schema/plan";
import { transact } from "../transact";

/** A plan's settings, or null when none was made. @testing */
export async function findPlan(knex: Knex, experimentId: number): Promise<PlanSettings | null> {
  const row = await knex("plan").where({ experiment_id: experimentId }).first("settings");
  return row ? readable(planSettingsSchema, row.settings) : null;
}

/** Plans of several experiments; those without one are left out. */
export async function findPlans(knex: Knex, experimentIds: readonly number[]): Promise<Map<number, PlanSettings>> {
  const rows = await knex("plan")
    .whereIn("experiment_id", [...experimentIds])
    .select({ id: "experiment_id", settings: "settings" });
  return new Map(
    rows.flatMap((r: { id: number; settings: unknown }): [number, PlanSettings][] => {
      const settings = readable(planSettingsSchema, r.settings);
      return settings ? [[r.id, settings]] : [];
    }),
  );
}

/** Keeps a plan; the journal holds what it was. @returns false when the experiment is not there */
export async function savePlan(knex: Knex, experimentId: number, settings: PlanSettings): Promise<boolean> {
  return transact(knex, async (trx) => {
    if (!(await trx("experiment").where({ id: experimentId }).whereNull("deleted_at").first("id"))) return false;
    const before = await trx("plan").where({ experiment_id: experimentId }).forUpdate().first("settings");
    const row = {
      experiment_id: experimentId,
      settings: JSON.stringify(planSettingsSchema.parse(settings)),
      changed_at: Date.now(),
    };
    await trx("plan").insert(row).onConflict("experiment_id").merge();
    await noteChange(trx, experimentId, "plan", { before: before ? json(before.settings) : null });
    return true;
  });
}

/**
 * Lays a change over the plan as it is now; over what the page showed when none was kept.
 * @returns null when the experiment is not there; what is wrong when the whole would not be valid
 */
export async function patchPlan(
  knex: Knex,
  experimentId: number,
  patch: PlanPatch,
  shown: PlanSettings,
): Promise<{ ok: true } | { ok: false; issues: z.core.$ZodIssue[] } | null> {
  return transact(knex, async (trx) => {
    if (!(await trx("experiment").where({ id: experimentId }).whereNull("deleted_at").forUpdate().first("id")))
      return null;
    const row = await trx("plan").where({ experiment_id: experimentId }).first("settings");
    const before = row ? readable(planSettingsSchema, row.settings) : null;
    const parsed = planSettingsSchema.safeParse(patchedPlan(before ?? shown, patch));
    if (!parsed.success) return { ok: false, issues: parsed.error.issues };
    await trx("plan")
      .insert({ experiment_id: experimentId, settings: JSON.stringify(parsed.data), changed_at: Date.now() })
      .onConflict("experiment_id")
      .merge();
    await noteChange(trx, experimentId, "plan", { patch, first: before === null });
    return { ok: true };
  });
}
