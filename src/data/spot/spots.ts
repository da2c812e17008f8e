import type { Knex } from "knex";
import { json } from "../json";

export interface Spot {
  at: number;
  text: string;
}

const ACTION = "spot reading";

/** A reading taken by hand at the bench, dated, beside the newest run. */
export async function recordSpot(
  knex: Knex,
  experimentId: number,
  detail: { text: string; values: Record<string, number> },
): Promise<boolean> {
  const experiment = await knex("experiment").where({ id: experimentId }).whereNull("deleted_at").first("id");
  if (!experiment) return false;
  const run = await knex("run")
    .where({ experiment_id: experimentId })
    .whereNull("deleted_at")
    .orderBy("number", "desc")
    .first("number");
  await knex("journal").insert({
    at: Date.now(),
    action: ACTION,
    experiment_id: experimentId,
    detail: JSON.stringify({ ...detail, run: run?.number ?? null }),
  });
  return true;
}

export async function listSpots(knex: Knex, experimentId: number): Promise<Spot[]> {
  const rows = await knex("journal")
    .where({ experiment_id: experimentId, action: ACTION })
    .orderBy("id", "desc")
    .limit(20)
    .select("at", "detail");
  return rows.map((r: { at: number; detail: unknown }) => {
    const d = json<{ text: string; run: number | null }>(r.detail);
    return { at: Number(r.at), text: `${d.run === null ? "" : `run ${d.run}: `}${d.text}` };
  });
}
