"use server";

import { revalidatePath } from "next/cache";
import { z } from "zod";
import { FLUID_KINDS } from "@/core/fluids/fluid";
import { standardRules } from "@/core/log/windows";
import { insertExperiment } from "@/data/experiment/experiments";
import { PLAIN_DETAIL, siteSchema } from "@/core/experiment/schema/site";
import { insertSite } from "@/data/site/sites";
import { database } from "@/services/connection";

const startSchema = z.object({
  name: z.string().trim().min(1, "the experiment needs a name").max(120),
  question: z.string().trim().max(500),
  fluid: z.enum(FLUID_KINDS),
  site: z.union([z.number().int().positive(), siteSchema.omit({ detail: true })]),
});
export type StartInput = z.input<typeof startSchema>;

/** A new experiment with its question and nothing else: the path begins at Ask. */
export async function startExperiment(
  input: StartInput,
): Promise<{ ok: true; id: number } | { ok: false; error: string }> {
  const parsed = startSchema.safeParse(input);
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  const { name, question, fluid, site } = parsed.data;
  const id = await database().transaction(async (trx) => {
    const siteId = typeof site === "number" ? site : await insertSite(trx, { ...site, detail: PLAIN_DETAIL });
    return insertExperiment(trx, {
      name,
      question,
      siteId,
      lanes: [],
      settings: {
        rules: standardRules(fluid),
        basis: "mean",
        areaBasis: "gross",
        operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: fluid === "air" ? 0.02 : 0.015 },
        smallestDifference: 15,
        stationShare: 0.005,
      },
    });
  });
  revalidatePath("/");
  return { ok: true, id };
}
