import type { Knex } from "knex";
import { json } from "../json";

/** Kept summaries of several experiments at once, by experiment; what is not there or older is left out. */
export async function findSummaries<T>(
  knex: Knex,
  wanted: readonly { experimentId: number; fingerprint: string }[],
): Promise<Map<number, T>> {
  if (!wanted.length) return new Map();
  const rows = await knex("result_summary")
    .whereIn(
      ["experiment_id", "fingerprint"],
      wanted.map((w) => [w.experimentId, w.fingerprint]),
    )
    .select({ experimentId: "experiment_id", summary: "summary" });
  return new Map(rows.map((r: { experimentId: number; summary: unknown }) => [r.experimentId, json<T>(r.summary)]));
}

export async function saveSummary(
  knex: Knex,
  experimentId: number,
  fingerprint: string,
  summary: unknown,
): Promise<void> {
  await knex("result_summary")
    .insert({ experiment_id: experimentId, fingerprint, summary: JSON.stringify(summary) })
    .onConflict("experiment_id")
    .merge();
}
