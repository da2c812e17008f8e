"use server";

import { z } from "zod";
import { recordSpot, listSpots, type Spot } from "@/data/spot/spots";
import { database } from "@/services/connection";

const spotSchema = z.object({
  text: z.string().trim().min(1).max(300),
  values: z.record(z.string().max(40), z.number()),
});

/** Keeps a spot reading with the experiment's record. */
export async function keepSpot(experimentId: number, input: z.infer<typeof spotSchema>): Promise<{ ok: boolean }> {
  const parsed = spotSchema.safeParse(input);
  if (!parsed.success) return { ok: false };
  return { ok: await recordSpot(database(), experimentId, parsed.data) };
}

export async function loadSpots(experimentId: number): Promise<Spot[]> {
  return listSpots(database(), experimentId);
}
