import type { Knex } from "knex";
import type { Spot } from "../../core/experiment/records";

/** A reading taken by hand at the bench, dated, beside the newest run. @returns false when the experiment is not there */
export async function recordSpot(
  knex: Knex,
  experimentId: number,
  detail: { text: string; values: Record<string, number> },
): Promise<boolean> {
  const experiment = await knex("experiment").where({ id: experimentId }).whereNull("deleted_at").first("id");
  if (!experiment) return false;
  const newest = knex("run").where({ experiment_id: experimentId }).whereNull("deleted_at").max("number");
  await knex("spot_reading").insert({
    experiment_id: experimentId,
    run_number: newest,
    at: Date.now(),
    text: detail.text,
    reading_values: JSON.stringify(detail.values),
  });
  return true;
}

/** The newest twenty, newest first. */
export async function listSpots(knex: Knex, experimentId: number): Promise<Spot[]> {
  const rows = await knex("spot_reading")
    .where({ experiment_id: experimentId })
    .orderBy("id", "desc")
    .limit(20)
    .select({ at: "at", text: "text", run: "run_number" });
  return rows.map((r: Spot) => ({ ...r, at: Number(r.at) }));
}
