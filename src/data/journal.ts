import type { Knex } from "knex";
import { actor } from "./actor";

export interface JournalEntry {
  id: number;
  atMs: number;
  action: string;
  /** Null: the owner, or somebody at the computer itself. */
  by: string | null;
  /** JSON as it was written. */
  detail: string;
}

/** Every change is dated in the journal, with who made it. @param experimentId null for what belongs to no experiment */
export async function noteChange(
  trx: Knex,
  experimentId: number | null,
  action: string,
  detail: unknown,
): Promise<void> {
  await trx("journal").insert({
    at: Date.now(),
    action,
    experiment_id: experimentId,
    detail: JSON.stringify(detail),
    made_by: actor().name,
  });
}

/** A change after which the experiment's results know they are older. */
export async function recordChange(trx: Knex, experimentId: number, action: string, detail: unknown): Promise<void> {
  await noteChange(trx, experimentId, action, detail);
  await trx("experiment").where({ id: experimentId }).update({ changed_at: Date.now() });
}

/** Newest first. @param before entries older than this one's id @param action only those of it */
export const journalOf = (
  knex: Knex,
  experimentId: number,
  most: number,
  before?: number,
  action?: string,
): Promise<JournalEntry[]> =>
  knex("journal")
    .where({ experiment_id: experimentId })
    .modify((q) => action !== undefined && q.where({ action }))
    .modify((q) => before !== undefined && q.where("id", "<", before))
    .orderBy("id", "desc")
    .limit(most)
    .select({ id: "id", atMs: "at", action: "action", by: "made_by", detail: "detail" });
