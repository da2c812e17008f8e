"use server";

import { revalidatePath } from "next/cache";
import { findPlan, savePlan } from "@/data/plan/plans";
import {
  planSettingsSchema,
  unavailableSchema,
  type PlanSettings,
  type StoredUnavailable,
} from "@/core/experiment/schema/plan";
import { insertUnavailable, markUnavailableDeleted } from "@/data/site/sites";
import { database } from "@/services/connection";

type Done<T = object> = ({ ok: true } & T) | { ok: false; error: string };

function refresh(experimentId: number): void {
  revalidatePath(`/experiments/${experimentId}`, "layout");
  revalidatePath("/");
}

/** Keeps a plan's settings whole: what is dated follows from them. */
export async function keepPlan(experimentId: number, settings: PlanSettings): Promise<Done> {
  const parsed = planSettingsSchema.safeParse(settings);
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  if (!(await savePlan(database(), experimentId, parsed.data)))
    return { ok: false, error: "This experiment is no longer there. Go back to the bench." };
  refresh(experimentId);
  return { ok: true };
}

/** Ticks or unticks a line of a day sheet. @param shown settings to keep when nothing was kept yet */
export async function tickLine(experimentId: number, shown: PlanSettings, line: string, on: boolean): Promise<Done> {
  const plan = (await findPlan(database(), experimentId)) ?? shown;
  const others = plan.ticked.filter((t) => t !== line);
  return keepPlan(experimentId, { ...plan, ticked: on ? [...others, line] : others });
}

export async function addUnavailable(experimentId: number, input: StoredUnavailable): Promise<Done<{ id: number }>> {
  const parsed = unavailableSchema.safeParse(input);
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  const { data } = parsed;
  if (data.kind === "once" ? data.toMs <= data.fromMs : data.toMinute <= data.fromMinute)
    return { ok: false, error: "The end must come after the beginning." };
  const id = await insertUnavailable(database(), data);
  refresh(experimentId);
  return { ok: true, id };
}

export async function removeUnavailable(experimentId: number, id: number, deleted: boolean): Promise<Done> {
  await markUnavailableDeleted(database(), id, deleted);
  refresh(experimentId);
  return { ok: true };
}
