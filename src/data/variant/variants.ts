import type { Knex } from "knex";
import type { PhotoHead, Specimen, Variant } from "../../core/experiment/records";
import { EMPTY_BILL, type BillEdits } from "../../core/collector/bill";
import type { Design } from "../../core/collector/design";
import { recordChange } from "../journal";
import { mergeChange } from "../../core/experiment/merge";
import { json, readable } from "../json";
import {
  asBuiltSchema,
  billSchema,
  checklistSchema,
  designSchema,
  type AsBuilt,
  type ChecklistState,
} from "../../core/experiment/schema/design";
import { transact } from "../transact";
import { belongs, closeRevision } from "./revisions";

const LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ";
/** Places on the bench that have a colour and shape of their own. */
export const LANE_LETTERS = "ABCDEFGH";

interface RevisionRow {
  id: number;
  name: string;
  letter: string;
  bill: unknown;
  checklist: unknown;
  revision: number;
  note: string;
  createdAt: number;
  design: unknown;
  working: number;
}

/** An experiment's variants with their newest design, by letter. */
export async function listVariants(knex: Knex, experimentId: number): Promise<Variant[]> {
  const revisions: RevisionRow[] = await knex("experiment_variant as ev")
    .join("variant as v", "v.id", "ev.variant_id")
    .join("variant_revision as r", "r.variant_id", "v.id")
    .where("ev.experiment_id", experimentId)
    .whereNull("ev.removed_at")
    .orderBy(["ev.letter", "r.revision"])
    .select({ id: "v.id", name: "v.name", letter: "ev.letter", bill: "v.bill", checklist: "v.checklist" })
    .select({
      revision: "r.revision",
      note: "r.note",
      createdAt: "r.created_at",
      design: "r.design",
      working: "r.working",
    });
  const ids = [...new Set(revisions.map((r) => r.id))];
  const specimens = await specimensOf(knex, experimentId, ids);
  const used = await runsWithLane(knex, experimentId);
  const photos = await knex("photo")
    .whereIn("variant_id", ids)
    .whereNull("deleted_at")
    .orderBy("id")
    .select({ id: "id", variantId: "variant_id", item: "item", bytes: "bytes", createdAt: "created_at" });
  return ids.flatMap((id): Variant[] => {
    const own = revisions.filter((r) => r.id === id);
    const v = own[own.length - 1];
    const design = readable(designSchema, v.design);
    if (!design) return [];
    return [
      {
        id: v.id,
        name: v.name,
        letter: v.letter,
        revision: v.revision,
        design,
        workingFrom: v.working && own.length > 1 ? readable(designSchema, own[own.length - 2].design) : null,
        revisions: own.map(({ revision, note, createdAt }) => ({ revision, note, createdAt: Number(createdAt) })),
        bill: (v.bill ? readable(billSchema, v.bill) : null) ?? EMPTY_BILL,
        checklist: (v.checklist ? readable(checklistSchema, v.checklist) : null) ?? { items: {}, own: [] },
        specimens: specimens
          .filter((s) => s.variantId === v.id)
          .map((s) => ({
            id: s.id,
            number: s.number,
            revision: s.revision,
            letter: s.letter,
            asBuilt: readable(asBuiltSchema, s.asBuilt) ?? asBuiltSchema.parse({}),
            runs: (s.letter && used.get(s.letter)) || 0,
          })),
        photos: photos.filter((p: { variantId: number }) => p.variantId === v.id).map(photoHead),
      },
    ];
  });
}

type SpecimenRow = Omit<Specimen, "asBuilt" | "runs"> & { variantId: number; asBuilt: unknown };

const specimensOf = (knex: Knex, experimentId: number, ids: readonly number[]): Promise<SpecimenRow[]> =>
  knex("specimen as s")
    .leftJoin("experiment_lane as el", (on) =>
      on.on("el.specimen_id", "s.id").andOn("el.experiment_id", knex.raw("?", [experimentId])),
    )
    .whereIn("s.variant_id", ids)
    .orderBy("s.number")
    .select({
      id: "s.id",
      variantId: "s.variant_id",
      number: "s.number",
      revision: "s.revision",
      asBuilt: "s.as_built",
      letter: "el.letter",
    });

const photoHead = ({ id, item, bytes, createdAt }: PhotoHead): PhotoHead => ({
  id,
  item,
  bytes,
  createdAt: Number(createdAt),
});

async function freeLetter(trx: Knex, experimentId: number, among: string): Promise<string | null> {
  const lanes: string[] = await trx("experiment_lane").where({ experiment_id: experimentId }).pluck("letter");
  const variants: string[] = await trx("experiment_variant")
    .where({ experiment_id: experimentId })
    .whereNull("removed_at")
    .pluck("letter");
  return [...among].find((l) => !lanes.includes(l) && !variants.includes(l)) ?? null;
}

/** A new variant without a specimen. @returns null when all 26 letters are taken */
export async function insertVariant(
  knex: Knex,
  experimentId: number,
  name: string,
  design: Design,
  note = "",
): Promise<{ id: number; letter: string } | null> {
  return transact(knex, async (trx) => {
    const letter = await freeLetter(trx, experimentId, LETTERS);
    if (!letter) return null;
    const now = Date.now();
    const [id] = await trx("variant").insert({ name, created_at: now });
    await trx("variant_revision").insert({
      variant_id: id,
      revision: 1,
      design: JSON.stringify(designSchema.parse(design)),
      note,
      created_at: now,
    });
    await trx("experiment_variant").insert({ experiment_id: experimentId, variant_id: id, letter });
    await recordChange(trx, experimentId, "variant added", { variantId: id, name });
    return { id, letter };
  });
}

export async function renameVariant(
  knex: Knex,
  experimentId: number,
  variantId: number,
  name: string,
): Promise<boolean> {
  return transact(knex, async (trx) => {
    if (!(await belongs(trx, experimentId, variantId))) return false;
    await trx("variant").where({ id: variantId }).update({ name });
    await recordChange(trx, experimentId, "variant renamed", { variantId, name });
    return true;
  });
}

/** Takes a variant that stands on no lane out of the experiment, or puts it back. @returns false when it has specimens on the bench */
export async function markVariantRemoved(
  knex: Knex,
  experimentId: number,
  variantId: number,
  removed: boolean,
): Promise<boolean> {
  return transact(knex, async (trx) => {
    const lane = await trx("experiment_lane as el")
      .join("specimen as s", "s.id", "el.specimen_id")
      .where({ "el.experiment_id": experimentId, "s.variant_id": variantId })
      .first("el.letter");
    if (removed && lane) return false;
    await trx("experiment_variant")
      .where({ experiment_id: experimentId, variant_id: variantId })
      .update({ removed_at: removed ? Date.now() : null });
    await recordChange(trx, experimentId, removed ? "variant removed" : "variant restored", { variantId });
    return true;
  });
}

/**
 * Lays a change over a variant's bill as it is now.
 * @param before what the page showed; what it did not change stays as it is stored
 */
export const saveBill = (
  knex: Knex,
  experimentId: number,
  variantId: number,
  bill: BillEdits,
  before: BillEdits = bill,
): Promise<boolean> =>
  laidOver(knex, experimentId, variantId, "bill", (stored) =>
    billSchema.parse(mergeChange(readable(billSchema, stored) ?? before, before, bill)),
  );

/** The same for a checklist: two ticks at once both stand. */
export const saveChecklist = (
  knex: Knex,
  experimentId: number,
  variantId: number,
  checklist: ChecklistState,
  before: ChecklistState = checklist,
): Promise<boolean> =>
  laidOver(knex, experimentId, variantId, "checklist", (stored) =>
    checklistSchema.parse(mergeChange(readable(checklistSchema, stored) ?? before, before, checklist)),
  );

async function laidOver(
  knex: Knex,
  experimentId: number,
  variantId: number,
  column: "bill" | "checklist",
  change: (stored: unknown) => object,
): Promise<boolean> {
  return transact(knex, async (trx) => {
    if (!(await belongs(trx, experimentId, variantId))) return false;
    const row = await trx("variant").where({ id: variantId }).forUpdate().first(column);
    await trx("variant")
      .where({ id: variantId })
      .update({ [column]: JSON.stringify(change(row[column])) });
    return true;
  });
}

/** One more physical copy, built to the newest revision, with a lane of its own when the bench has a place left. */
export async function addSpecimen(
  knex: Knex,
  experimentId: number,
  variantId: number,
): Promise<{ number: number; letter: string | null } | null> {
  return transact(knex, async (trx) => {
    const variant = await trx("experiment_variant")
      .where({ experiment_id: experimentId, variant_id: variantId })
      .first("letter");
    if (!variant) return null;
    const [{ last }] = await trx("specimen").where({ variant_id: variantId }).max({ last: "number" }).forUpdate();
    const [{ revision }] = await trx("variant_revision").where({ variant_id: variantId }).max({ revision: "revision" });
    await closeRevision(trx, variantId);
    const number = Number(last ?? 0) + 1;
    const [id] = await trx("specimen").insert({
      variant_id: variantId,
      number,
      revision,
      as_built: JSON.stringify(asBuiltSchema.parse({})),
    });
    const own = await trx("experiment_lane")
      .where({ experiment_id: experimentId, letter: variant.letter })
      .first("letter");
    const letter =
      !own && LANE_LETTERS.includes(variant.letter)
        ? variant.letter
        : await freeLetter(trx, experimentId, LANE_LETTERS);
    if (letter) await trx("experiment_lane").insert({ experiment_id: experimentId, letter, specimen_id: id });
    await recordChange(trx, experimentId, "specimen added", { variantId, number, letter });
    return { number, letter };
  });
}

/**
 * What a specimen measures, and the revision it was built to.
 * @param shown from what it was changed: what that did not change stays as it is stored
 */
export async function updateSpecimen(
  knex: Knex,
  experimentId: number,
  specimenId: number,
  wanted: { asBuilt: AsBuilt; revision: number },
  shown: { asBuilt: AsBuilt; revision: number },
): Promise<boolean> {
  return transact(knex, async (trx) => {
    const row = await trx("specimen as s")
      .join("experiment_variant as ev", "ev.variant_id", "s.variant_id")
      .where({ "ev.experiment_id": experimentId, "s.id": specimenId })
      .forUpdate()
      .first({ variantId: "s.variant_id", asBuilt: "s.as_built", revision: "s.revision" });
    if (!row) return false;
    const before = { asBuilt: readable(asBuiltSchema, row.asBuilt) ?? shown.asBuilt, revision: row.revision as number };
    const after = mergeChange(before, shown, wanted);
    if (!(await trx("variant_revision").where({ variant_id: row.variantId, revision: after.revision }).first("id")))
      return false;
    await trx("variant_revision")
      .where({ variant_id: row.variantId, revision: after.revision })
      .update({ working: false });
    await trx("specimen")
      .where({ id: specimenId })
      .update({ as_built: JSON.stringify(asBuiltSchema.parse(after.asBuilt)), revision: after.revision });
    await recordChange(trx, experimentId, "specimen measured", { specimenId, before, after });
    return true;
  });
}

/** Whose copy a specimen of this experiment is; null when it is not there. */
export async function variantOfSpecimen(knex: Knex, experimentId: number, specimenId: number): Promise<number | null> {
  const row = await knex("specimen as s")
    .join("experiment_variant as ev", "ev.variant_id", "s.variant_id")
    .where({ "ev.experiment_id": experimentId, "s.id": specimenId })
    .first({ variantId: "s.variant_id" });
  return row?.variantId ?? null;
}

/** In how many runs a lane stood. @param deleted whether deleted runs count too: they can be taken back */
async function runsWithLane(knex: Knex, experimentId: number, deleted = false): Promise<Map<string, number>> {
  const rows = await knex("run")
    .where({ experiment_id: experimentId })
    .modify((q) => !deleted && q.whereNull("deleted_at"))
    .select({ letters: knex.raw("JSON_EXTRACT(setup, '$.specimens[*].letter')") });
  const counts = new Map<string, number>();
  for (const { letters } of rows)
    for (const letter of json<string[] | null>(letters) ?? []) counts.set(letter, (counts.get(letter) ?? 0) + 1);
  return counts;
}

/** Takes away a specimen that has been in no run; one that has is part of the record. */
export async function removeSpecimen(knex: Knex, experimentId: number, specimenId: number): Promise<boolean> {
  return transact(knex, async (trx) => {
    const lane = await trx("experiment_lane")
      .where({ experiment_id: experimentId, specimen_id: specimenId })
      .first("letter");
    const inRun = lane && (await runsWithLane(trx, experimentId, true)).has(lane.letter);
    const elsewhere = await trx("experiment_lane")
      .where({ specimen_id: specimenId })
      .whereNot({ experiment_id: experimentId })
      .first("letter");
    if (inRun || elsewhere) return false;
    await trx("experiment_lane").where({ specimen_id: specimenId }).delete();
    const gone = await trx("specimen").where({ id: specimenId }).delete();
    await recordChange(trx, experimentId, "specimen removed", { specimenId });
    return gone > 0;
  });
}

export async function insertPhoto(
  knex: Knex,
  input: { experimentId: number; variantId: number; item: string; type: string; sha256: string; content: Buffer },
): Promise<number | null> {
  if (!(await belongs(knex, input.experimentId, input.variantId))) return null;
  const [id] = await knex("photo").insert({
    variant_id: input.variantId,
    item: input.item,
    type: input.type,
    bytes: input.content.length,
    sha256: input.sha256,
    content: input.content,
    created_at: Date.now(),
  });
  return id;
}

export async function findPhoto(knex: Knex, id: number): Promise<{ type: string; content: Buffer } | null> {
  return (await knex("photo").where({ id }).whereNull("deleted_at").first("type", "content")) ?? null;
}

/** Only marks. @returns false when it is not there */
export async function markPhotoDeleted(knex: Knex, id: number, deleted: boolean): Promise<boolean> {
  const marked = await knex("photo")
    .where({ id })
    .update({ deleted_at: deleted ? Date.now() : null });
  return marked > 0;
}
