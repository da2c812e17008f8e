import { z } from "zod";
import { FLUID_KINDS } from "../../fluids/fluid";
import { siteSchema } from "./site";
import { lineSchema } from "../../text/line";

const id = z.number().int().positive();
export const nameSchema = lineSchema().min(1, "the experiment needs a name").max(120);
export const questionSchema = lineSchema().max(500);

/** What a new experiment is begun with. */
export const newExperimentSchema = z.object({
  name: nameSchema,
  question: questionSchema,
  fluid: z.enum(FLUID_KINDS),
  site: z.union([id, siteSchema.omit({ detail: true })]),
});
export type NewExperimentAsked = z.infer<typeof newExperimentSchema>;
