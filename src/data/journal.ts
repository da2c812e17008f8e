import type { Knex } from "knex";

/** Every change is dated in the journal, and the experiment's results know they are older. */
export async function recordChange(trx: Knex, experimentId: number, action: string, detail: unknown): Promise<void> {
  const now = Date.now();
  await trx("journal").insert({ at: now, action, experiment_id: experimentId, detail: JSON.stringify(detail) });
  await trx("experiment").where({ id: experimentId }).update({ changed_at: now });
}
