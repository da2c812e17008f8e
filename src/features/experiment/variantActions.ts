"use server";

import { revalidatePath } from "next/cache";
import { z } from "zod";
import type { BillEdits } from "@/core/collector/bill";
import type { Design } from "@/core/collector/design";
import { designProblems } from "@/core/collector/validate";
import {
  asBuiltSchema,
  billSchema,
  checklistSchema,
  designSchema,
  type AsBuilt,
  type ChecklistState,
} from "@/core/experiment/schema/design";
import {
  addSpecimen,
  findRevision,
  insertVariant,
  markPhotoDeleted,
  markVariantRemoved,
  removeSpecimen,
  renameVariant,
  saveBill,
  saveChecklist,
  saveRevision,
  updateSpecimen,
} from "@/data/variant/variants";
import { database } from "@/services/connection";

export type Saved<T = object> = ({ ok: true } & T) | { ok: false; error: string };

const GONE = { ok: false, error: "This variant is no longer there. Go back to the bench." } as const;
const nameSchema = z.string().trim().min(1, "a variant needs a name").max(120);

function refresh(experimentId: number): void {
  revalidatePath(`/experiments/${experimentId}`, "layout");
  revalidatePath("/");
}

const invalid = (error: z.ZodError): { ok: false; error: string } => ({
  ok: false,
  error: error.issues
    .slice(0, 3)
    .map((i) => `${i.path.join(" ")}: ${i.message}`)
    .join("; "),
});

export async function createVariant(
  experimentId: number,
  name: string,
  design: Design,
  note = "",
): Promise<Saved<{ letter: string; variantId: number }>> {
  const parsed = z.object({ name: nameSchema, design: designSchema }).safeParse({ name, design });
  if (!parsed.success) return invalid(parsed.error);
  const added = await insertVariant(database(), experimentId, parsed.data.name, parsed.data.design, note.slice(0, 300));
  if (!added) return { ok: false, error: "All 26 letters of this experiment are taken. Remove a variant first." };
  refresh(experimentId);
  return { ok: true, letter: added.letter, variantId: added.id };
}

export async function saveVariant(
  experimentId: number,
  variantId: number,
  design: Design,
  note: string,
): Promise<Saved<{ revision: number }>> {
  const parsed = designSchema.safeParse(design);
  if (!parsed.success) return invalid(parsed.error);
  if (designProblems(parsed.data).length)
    return { ok: false, error: "This design cannot be built yet. Mend what is marked; your draft is kept meanwhile." };
  const revision = await saveRevision(database(), experimentId, variantId, parsed.data, note.trim().slice(0, 300));
  if (revision === null) return GONE;
  refresh(experimentId);
  return { ok: true, revision };
}

export async function changeName(experimentId: number, variantId: number, name: string): Promise<Saved> {
  const parsed = nameSchema.safeParse(name);
  if (!parsed.success) return invalid(parsed.error);
  if (!(await renameVariant(database(), experimentId, variantId, parsed.data))) return GONE;
  refresh(experimentId);
  return { ok: true };
}

export async function removeVariant(experimentId: number, variantId: number, removed: boolean): Promise<Saved> {
  if (!(await markVariantRemoved(database(), experimentId, variantId, removed)))
    return {
      ok: false,
      error: "This variant stands on the bench. Remove its specimens first; those that were in a run stay.",
    };
  refresh(experimentId);
  return { ok: true };
}

export async function loadRevision(variantId: number, revision: number): Promise<Design | null> {
  return findRevision(database(), variantId, revision);
}

export async function keepBill(experimentId: number, variantId: number, bill: BillEdits): Promise<Saved> {
  const parsed = billSchema.safeParse(bill);
  if (!parsed.success) return invalid(parsed.error);
  return (await saveBill(database(), experimentId, variantId, parsed.data)) ? { ok: true } : GONE;
}

export async function keepChecklist(
  experimentId: number,
  variantId: number,
  checklist: ChecklistState,
): Promise<Saved> {
  const parsed = checklistSchema.safeParse(checklist);
  if (!parsed.success) return invalid(parsed.error);
  return (await saveChecklist(database(), experimentId, variantId, parsed.data)) ? { ok: true } : GONE;
}

export async function buildSpecimen(
  experimentId: number,
  variantId: number,
): Promise<Saved<{ number: number; letter: string | null }>> {
  const added = await addSpecimen(database(), experimentId, variantId);
  if (!added) return GONE;
  refresh(experimentId);
  return { ok: true, ...added };
}

export async function measureSpecimen(
  experimentId: number,
  specimenId: number,
  change: { asBuilt: AsBuilt; revision: number },
): Promise<Saved> {
  const parsed = z.object({ asBuilt: asBuiltSchema, revision: z.number().int().positive() }).safeParse(change);
  if (!parsed.success) return invalid(parsed.error);
  if (!(await updateSpecimen(database(), experimentId, specimenId, parsed.data)))
    return { ok: false, error: "This specimen or revision is no longer there. Reload the page." };
  refresh(experimentId);
  return { ok: true };
}

export async function takeSpecimenAway(experimentId: number, specimenId: number): Promise<Saved> {
  if (!(await removeSpecimen(database(), experimentId, specimenId)))
    return { ok: false, error: "This specimen has been in a run and is part of the record." };
  refresh(experimentId);
  return { ok: true };
}

export async function deletePhoto(experimentId: number, photoId: number, deleted: boolean): Promise<Saved> {
  await markPhotoDeleted(database(), photoId, deleted);
  refresh(experimentId);
  return { ok: true };
}
