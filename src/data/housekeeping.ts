import type { Knex } from "knex";
import type { DeletedThing } from "../core/experiment/records";
import { transact } from "./transact";

const DAY = 86400000;
/** How long what was deleted can be brought back, and how long a file waits to be imported. */
export const KEPT_DAYS = 30;
/** A file that began to arrive and never ended is given up after this. */
const ARRIVING_DAYS = 1;

export interface Tidied {
  files: number;
  experiments: number;
  runs: number;
}

/** Experiments and runs that were deleted and can still be brought back, newest first. */
export async function deletedThings(knex: Knex): Promise<DeletedThing[]> {
  const experiments = await knex("experiment")
    .whereNotNull("deleted_at")
    .select({ id: "id", experimentId: "id", name: "name", deletedAt: "deleted_at" });
  const runs = await knex("run as r")
    .join("experiment as e", "e.id", "r.experiment_id")
    .whereNotNull("r.deleted_at")
    .whereNull("e.deleted_at")
    .select({ id: "r.id", experimentId: "e.id", deletedAt: "r.deleted_at" })
    .select({ name: knex.raw("CONCAT('Run ', r.number, ' of ', e.name)") });
  const told = (kind: DeletedThing["kind"]) => (r: Omit<DeletedThing, "kind" | "goesAt">) => {
    const deletedAt = Number(r.deletedAt);
    return { ...r, kind, deletedAt, goesAt: deletedAt + KEPT_DAYS * DAY };
  };
  return [...experiments.map(told("experiment")), ...runs.map(told("run"))].sort((a, b) => b.deletedAt - a.deletedAt);
}

/**
 * Removes for good what was deleted more than thirty days ago, and files that nobody imported for as long. Until then nothing
 * is really gone. A variant goes when no experiment has it any more; its photos and specimens go with it.
 */
export async function tidy(knex: Knex, nowMs: number): Promise<Tidied> {
  const before = nowMs - KEPT_DAYS * DAY;
  return transact(knex, async (trx) => {
    const runs = await trx("run").where("deleted_at", "<", before).delete();
    const experiments = await trx("experiment").where("deleted_at", "<", before).delete();
    if (experiments) {
      const used = trx("experiment_variant").distinct("variant_id");
      const built = trx("specimen as s").join("experiment_lane as l", "l.specimen_id", "s.id").distinct("s.variant_id");
      await trx("variant").whereNotIn("id", used).whereNotIn("id", built).delete();
    }
    const referred = ["stream", "calibration", "climate"].map((table) =>
      trx(table).whereNotNull("raw_file_id").distinct("raw_file_id"),
    );
    const files = await referred
      .reduce((q, ids) => q.whereNotIn("id", ids), trx("raw_file"))
      .where((q) =>
        q
          .where("created_at", "<", before)
          .orWhere((half) => half.where({ sha256: "" }).where("created_at", "<", nowMs - ARRIVING_DAYS * DAY)),
      )
      .delete();
    return { files, experiments, runs };
  });
}
