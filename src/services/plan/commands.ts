import { z } from "zod";
import { planPatchSchema, planSettingsSchema, unavailableSchema } from "../../core/experiment/schema/plan";
import { patchPlan } from "../../data/plan/plans";
import { insertUnavailable, markUnavailableDeleted } from "../../data/site/sites";
import { issuesWords } from "../../words/refusal";
import { command, done, GONE, refused } from "../web/command";

const id = z.number().int().positive();
const touches = (experiment: number) => ({ experiment });

/**
 * Changes parts of a plan. Only what changed travels, so that two quick edits, or two pages, keep both.
 * @param shown what the page showed: a plan that was never kept begins as this
 */
export const changePlan = command({
  input: z.tuple([id, planPatchSchema, planSettingsSchema]),
  async run(knex, experimentId, patch, shown) {
    const kept = await patchPlan(knex, experimentId, patch, shown);
    if (kept === null) return GONE;
    return kept.ok ? done() : refused(issuesWords(kept.issues));
  },
  touches,
});

export const addUnavailable = command({
  input: z.tuple([id, unavailableSchema]),
  async run(knex, _, away) {
    const empty = away.kind === "once" ? away.toMs <= away.fromMs : away.toMinute <= away.fromMinute;
    if (empty) return refused("The end must come after the beginning.");
    return done({ id: await insertUnavailable(knex, away) });
  },
  touches,
});

export const removeUnavailable = command({
  input: z.tuple([id, id, z.boolean()]),
  run: async (knex, _, awayId, deleted) =>
    (await markUnavailableDeleted(knex, awayId, deleted)) ? done() : refused("This time is no longer in the list."),
  touches,
});
