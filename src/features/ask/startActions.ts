"use server";

import { revalidatePath } from "next/cache";
import { z } from "zod";
import { isZone } from "@/core/log/zone";
import { standardRules } from "@/core/log/windows";
import { insertExperiment, insertSite } from "@/data/experiments";
import { database } from "@/services/connection";

const startSchema = z.object({
  name: z.string().trim().min(1, "the experiment needs a name").max(120),
  question: z.string().trim().max(500),
  fluid: z.enum(["air", "water"]),
  site: z.union([
    z.number().int().positive(),
    z.object({ name: z.string().trim().min(1, "the site needs a name").max(120), latitude: z.number().min(-90).max(90), longitude: z.number().min(-180).max(180), altitudeM: z.number().min(-430).max(6000), zone: z.string().refine(isZone, "this time zone is not known") }),
  ]),
});
export type StartInput = z.input<typeof startSchema>;

/** A new experiment with its question and nothing else: the path begins at Ask. */
export async function startExperiment(input: StartInput): Promise<{ ok: true; id: number } | { ok: false; error: string }> {
  const parsed = startSchema.safeParse(input);
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  const { name, question, fluid, site } = parsed.data;
  const id = await database().transaction(async (trx) => {
    const siteId = typeof site === "number" ? site : await insertSite(trx, { ...site, linkeTurbidity: 3 });
    return insertExperiment(trx, {
      name, question, siteId, lanes: [],
      settings: { rules: standardRules(fluid), basis: "mean", areaBasis: "gross", operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: fluid === "water" ? 0.015 : 0.02 }, smallestDifference: 15, stationShare: 0.005 },
    });
  });
  revalidatePath("/");
  return { ok: true, id };
}
