import type { Knex } from "knex";

export interface VerdictVersion {
  id: number;
  atMs: number;
  note: string;
  fingerprint: string;
  /** Results as JSON text, as they stood. */
  results: string;
}

/** Newest first. */
export async function listVersions(knex: Knex, experimentId: number): Promise<VerdictVersion[]> {
  const rows = await knex("verdict_version")
    .where({ experiment_id: experimentId })
    .orderBy(["at", "id"])
    .select("id", "at", "note", "fingerprint", "results");
  return rows
    .map((r: { id: number; at: number; note: string; fingerprint: string; results: string }) => ({
      id: r.id,
      atMs: Number(r.at),
      note: r.note,
      fingerprint: r.fingerprint,
      results: r.results,
    }))
    .reverse();
}

export async function insertVersion(
  knex: Knex,
  experimentId: number,
  version: Omit<VerdictVersion, "id">,
): Promise<number> {
  const { atMs, note, fingerprint, results } = version;
  const [id] = await knex("verdict_version").insert({
    experiment_id: experimentId,
    at: atMs,
    note,
    fingerprint,
    results,
  });
  return id;
}
