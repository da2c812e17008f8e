"use server";

import { revalidatePath } from "next/cache";
import { z } from "zod";
import { backyardRules, standardRules } from "@/core/log/windows";
import { findExperiment, markExperimentDeleted, renameExperiment, updateSettings } from "@/data/experiment/experiments";
import { addLayer, markLayersRemoved } from "@/data/run/layers";
import { listProblems, markRunDeleted } from "@/data/run/runs";
import { experimentSettingsSchema, type ExperimentSettings } from "@/core/experiment/schema/settings";
import { database } from "@/services/connection";
import type { FigureRef } from "@/services/views";
import { openWorking, type Working } from "@/services/working";
import type { ImportProblem } from "@/core/log/readLog";

export type ActionResult = { ok: true } | { ok: false; error: string };

const GONE: ActionResult = { ok: false, error: "This experiment is no longer there. Go back to the bench." };

function refresh(experimentId: number): void {
  revalidatePath(`/experiments/${experimentId}`, "layout");
  revalidatePath("/");
}

export async function loadWorking(experimentId: number, ref: FigureRef): Promise<Working | null> {
  return openWorking(database(), experimentId, ref);
}

/** Changes part of the settings; the rest stays. */
export async function changeSettings(experimentId: number, change: Partial<ExperimentSettings>): Promise<ActionResult> {
  const experiment = await findExperiment(database(), experimentId);
  if (!experiment) return GONE;
  const parsed = experimentSettingsSchema.safeParse({ ...experiment.settings, ...change });
  if (!parsed.success)
    return { ok: false, error: parsed.error.issues.map((i) => `${i.path.join(" ")}: ${i.message}`).join("; ") };
  await updateSettings(database(), experimentId, parsed.data);
  refresh(experimentId);
  return { ok: true };
}

const questionSchema = z.object({
  name: z.string().trim().min(1, "the experiment needs a name").max(120),
  question: z.string().trim().max(500),
});

export async function changeQuestion(
  experimentId: number,
  change: z.infer<typeof questionSchema>,
): Promise<ActionResult> {
  const parsed = questionSchema.safeParse(change);
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  await renameExperiment(database(), experimentId, parsed.data);
  refresh(experimentId);
  return { ok: true };
}

export async function chooseRules(experimentId: number, name: "standard" | "backyard"): Promise<ActionResult> {
  const experiment = await findExperiment(database(), experimentId);
  if (!experiment) return GONE;
  const fluid = experiment.runs[0]?.specimens[0]?.setup.fluid?.kind ?? experiment.lanes[0]?.design.fluid.kind ?? "air";
  return changeSettings(experimentId, { rules: name === "standard" ? standardRules(fluid) : backyardRules(fluid) });
}

const exclusionSchema = z.object({
  runId: z.number().int(),
  lane: z
    .string()
    .regex(/^[A-H]$/)
    .nullable(),
  fromMs: z.number(),
  toMs: z.number(),
  reason: z.string().trim().min(1, "say why").max(300),
});

export async function setSpanAside(
  experimentId: number,
  input: z.infer<typeof exclusionSchema>,
): Promise<ActionResult> {
  const parsed = exclusionSchema.safeParse(input);
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  if (!(parsed.data.toMs > parsed.data.fromMs)) return { ok: false, error: "The end must come after the beginning." };
  const { runId, reason, ...detail } = parsed.data;
  if ((await addLayer(database(), experimentId, runId, { kind: "exclusion", detail, reason })) === null) return GONE;
  refresh(experimentId);
  return { ok: true };
}

export async function takeSpanBack(experimentId: number, id: number): Promise<ActionResult> {
  if (!(await markLayersRemoved(database(), experimentId, [id], true))) return GONE;
  refresh(experimentId);
  return { ok: true };
}

export async function deleteRun(experimentId: number, runId: number, deleted: boolean): Promise<ActionResult> {
  await markRunDeleted(database(), experimentId, runId, deleted);
  refresh(experimentId);
  return { ok: true };
}

export async function deleteExperiment(experimentId: number, deleted: boolean): Promise<ActionResult> {
  await markExperimentDeleted(database(), experimentId, deleted);
  refresh(experimentId);
  return { ok: true };
}

export async function loadProblems(streamId: number): Promise<ImportProblem[]> {
  return listProblems(database(), streamId);
}
