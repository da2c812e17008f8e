import { isDeepStrictEqual } from "node:util";
import type { Knex } from "knex";
import type { Design } from "../../core/collector/design";
import { mergeChange } from "../../core/experiment/merge";
import { designSchema } from "../../core/experiment/schema/design";
import { recordChange } from "../journal";
import { readable } from "../json";
import { transact } from "../transact";

/** Whether a variant is one of an experiment's. */
export const belongs = async (knex: Knex, experimentId: number, variantId: number): Promise<boolean> =>
  Boolean(
    await knex("experiment_variant").where({ experiment_id: experimentId, variant_id: variantId }).first("letter"),
  );

/** A design as it was in an earlier revision. @param revision null: the newest, as drawn now */
export async function findRevision(knex: Knex, variantId: number, revision: number | null): Promise<Design | null> {
  const row = await knex("variant_revision")
    .where({ variant_id: variantId, ...(revision === null ? {} : { revision }) })
    .orderBy("revision", "desc")
    .first("design");
  return row ? readable(designSchema, row.design) : null;
}

interface NewestRevision {
  id: number;
  revision: number;
  design: unknown;
  working: number;
}

/** A variant's newest revision, held for who changes it. */
const newestRevision = (trx: Knex, variantId: number): Promise<NewestRevision | undefined> =>
  trx("variant_revision")
    .where({ variant_id: variantId })
    .orderBy("revision", "desc")
    .forUpdate()
    .first("id", "revision", "design", "working");

/**
 * Keeps a design as a revision; earlier ones stay. One that is still drawn at becomes it.
 * @returns its number, or null when the variant is not there
 */
export async function saveRevision(
  knex: Knex,
  experimentId: number,
  variantId: number,
  design: Design,
  note: string,
): Promise<number | null> {
  return transact(knex, async (trx) => {
    if (!(await belongs(trx, experimentId, variantId))) return null;
    const newest = await newestRevision(trx, variantId);
    const row = { design: JSON.stringify(designSchema.parse(design)), note, created_at: Date.now(), working: false };
    const revision = newest?.working ? newest.revision : (newest?.revision ?? 0) + 1;
    if (newest?.working) await trx("variant_revision").where({ id: newest.id }).update(row);
    else await trx("variant_revision").insert({ variant_id: variantId, revision, ...row });
    await recordChange(trx, experimentId, "revision saved", { variantId, revision, note });
    return revision;
  });
}

/**
 * Lays an edit over a variant as it is drawn now. The first edit after a revision begins the next one, which stays open to edits
 * until it is named or built; drawn back to the revision before, it is gone again.
 * @param before from what it was edited: what that did not change stays as it is stored
 * @returns false when the variant is not there
 */
export async function saveDrawing(
  knex: Knex,
  experimentId: number,
  variantId: number,
  design: Design,
  before: Design,
): Promise<boolean> {
  return transact(knex, async (trx) => {
    if (!(await belongs(trx, experimentId, variantId))) return false;
    const newest = await newestRevision(trx, variantId);
    if (!newest) return false;
    const stored = readable(designSchema, newest.design) ?? before;
    const next = designSchema.parse(mergeChange(stored, before, design));
    if (isDeepStrictEqual(next, stored)) return true;
    const row = { design: JSON.stringify(next), created_at: Date.now() };
    if (!newest.working) {
      const revision = newest.revision + 1;
      await trx("variant_revision").insert({ variant_id: variantId, revision, note: "", working: true, ...row });
      await recordChange(trx, experimentId, "drawing changed", { variantId, revision });
      return true;
    }
    const back = await findRevision(trx, variantId, newest.revision - 1);
    const open = trx("variant_revision").where({ id: newest.id });
    await (back && isDeepStrictEqual(next, back) ? open.delete() : open.update(row));
    return true;
  });
}

/** What something is built or run from is not drawn at any longer. */
export const closeRevision = (trx: Knex, variantId: number): Promise<number> =>
  trx("variant_revision").where({ variant_id: variantId, working: true }).update({ working: false });
