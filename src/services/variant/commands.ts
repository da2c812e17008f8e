import type { Knex } from "knex";
import { z } from "zod";
import type { Design } from "../../core/collector/design";
import { designProblems } from "../../core/collector/validate";
import {
  asBuiltSchema,
  billSchema,
  checklistSchema,
  designSchema,
  sentDesignSchema,
} from "../../core/experiment/schema/design";
import { findRevision, saveDrawing, saveRevision } from "../../data/variant/revisions";
import {
  addSpecimen,
  insertVariant,
  markPhotoDeleted,
  markVariantRemoved,
  removeSpecimen,
  renameVariant,
  saveBill,
  saveChecklist,
  updateSpecimen,
  variantOfSpecimen,
} from "../../data/variant/variants";
import { command, done, refused } from "../web/command";
import { lineSchema } from "../../core/text/line";

const id = z.number().int().positive();
const name = lineSchema().min(1, "a variant needs a name").max(120);
const note = z.string().trim().max(300);
const VARIANT_GONE = refused("This variant is no longer there. Go back to the bench.");
const HALF_DRAWN = refused("This design cannot be built yet. Fix what is marked in Build. The drawing stays saved.");
// A module whose maker states no curve is whole as it is: only nothing is predicted of it.
const canBeBuilt = (design: Design) => designProblems(design).every((p) => p.kind === "nothingStated");
/** @param revision null: the newest */
async function isHalfDrawn(knex: Knex, variantId: number, revision: number | null): Promise<boolean> {
  const design = await findRevision(knex, variantId, revision);
  return design !== null && !canBeBuilt(design);
}
const touches = (experiment: number) => ({ experiment });
/** Bills and checklists are kept while a person types: the page has them already. */
const touchesNothing = () => "nothing" as const;

export const createVariant = command({
  input: z.tuple([id, name, sentDesignSchema, note]),
  async run(knex, experimentId, called, design, why) {
    const added = await insertVariant(knex, experimentId, called, design, why);
    if (!added) return refused("All 26 letters of this experiment are taken. Remove a variant first.");
    return done({ letter: added.letter, variantId: added.id });
  },
  touches,
});

/** Keeps a design as a revision. What cannot be built is not kept as one; it stays as it is drawn. */
export const saveVariant = command({
  input: z.tuple([id, id, sentDesignSchema, note]),
  async run(knex, experimentId, variantId, design, why) {
    if (!canBeBuilt(design)) return HALF_DRAWN;
    const revision = await saveRevision(knex, experimentId, variantId, design, why);
    return revision === null ? VARIANT_GONE : done({ revision });
  },
  touches,
});

/** Keeps what is drawn as it is drawn; half-drawn too: pages that use it say what to fix. @param before what the page showed */
export const keepDrawing = command({
  input: z.tuple([id, id, sentDesignSchema, designSchema]),
  run: async (knex, experimentId, variantId, design, before) =>
    (await saveDrawing(knex, experimentId, variantId, design, before)) ? done() : VARIANT_GONE,
  touches,
});

export const changeName = command({
  input: z.tuple([id, id, name]),
  run: async (knex, experimentId, variantId, called) =>
    (await renameVariant(knex, experimentId, variantId, called)) ? done() : VARIANT_GONE,
  touches,
});

export const removeVariant = command({
  input: z.tuple([id, id, z.boolean()]),
  run: async (knex, experimentId, variantId, removed) =>
    (await markVariantRemoved(knex, experimentId, variantId, removed))
      ? done()
      : refused("This variant stands on the bench. Remove its specimens first; those that were in a run stay."),
  touches,
});

/** @param before what the page showed: only what it changed is changed */
export const keepBill = command({
  input: z.tuple([id, id, billSchema, billSchema]),
  run: async (knex, experimentId, variantId, bill, before) =>
    (await saveBill(knex, experimentId, variantId, bill, before)) ? done() : VARIANT_GONE,
  touches: touchesNothing,
});

/** @param before what the page showed: only what it changed is changed */
export const keepChecklist = command({
  right: "hand",
  input: z.tuple([id, id, checklistSchema, checklistSchema]),
  run: async (knex, experimentId, variantId, checklist, before) =>
    (await saveChecklist(knex, experimentId, variantId, checklist, before)) ? done() : VARIANT_GONE,
  touches: touchesNothing,
});

export const buildSpecimen = command({
  right: "hand",
  input: z.tuple([id, id]),
  async run(knex, experimentId, variantId) {
    if (await isHalfDrawn(knex, variantId, null)) return HALF_DRAWN;
    const added = await addSpecimen(knex, experimentId, variantId);
    return added ? done(added) : VARIANT_GONE;
  },
  touches,
});

const specimenMeasured = z.object({ asBuilt: asBuiltSchema, revision: id });

/** @param before what the page showed: only what it changed is changed */
export const measureSpecimen = command({
  right: "hand",
  input: z.tuple([id, id, specimenMeasured, specimenMeasured]),
  async run(knex, experimentId, specimenId, change, before) {
    const variantId = await variantOfSpecimen(knex, experimentId, specimenId);
    if (variantId !== null && (await isHalfDrawn(knex, variantId, change.revision))) return HALF_DRAWN;
    return (await updateSpecimen(knex, experimentId, specimenId, change, before))
      ? done()
      : refused("This specimen or revision is no longer there. Reload the page.");
  },
  touches,
});

export const takeSpecimenAway = command({
  input: z.tuple([id, id]),
  run: async (knex, experimentId, specimenId) =>
    (await removeSpecimen(knex, experimentId, specimenId))
      ? done()
      : refused("This specimen has been in a run and is part of the record."),
  touches,
});

export const deletePhoto = command({
  input: z.tuple([id, id, z.boolean()]),
  run: async (knex, _, photoId, deleted) =>
    (await markPhotoDeleted(knex, photoId, deleted))
      ? done()
      : refused("This photo is no longer there. Reload the page."),
  touches,
});
