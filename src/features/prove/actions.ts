"use server";

import { revalidatePath } from "next/cache";
import { z } from "zod";
import type { BathProblem, BathResult } from "@/core/calibration/bath";
import { twoPointCorrection } from "@/core/calibration/twoPoint";
import { bathOptionsSchema, instrumentSchema, type Instrument } from "@/core/experiment/schema/calibration";
import { flowLayerSchema, type FlowLayerDetail } from "@/core/experiment/schema/layer";
import { applyCalibration, applyFlow, markLayersRemoved } from "@/data/run/layers";
import { insertCalibration, markCalibrationDeleted } from "@/data/calibration/calibrations";
import { instrumentHistory, markInstrumentDeleted, saveInstrument } from "@/data/instrument/instruments";
import { inspectBath, keepBath, runBath, type BathFile } from "@/services/calibrations";
import { database } from "@/services/connection";

type Done<T = object> = ({ ok: true } & T) | { ok: false; error: string };

const requestSchema = z.object({
  fileId: z.number().int().positive(),
  zone: z.string().max(64),
  options: bathOptionsSchema,
  columns: z
    .array(
      z.object({
        index: z.number().int().min(0),
        header: z.string().max(255),
        unit: z.enum(["°C", "°F", "K"]),
        used: z.boolean(),
      }),
    )
    .max(200),
});
type BathRequestInput = z.input<typeof requestSchema>;

/** What the page draws of a bath: the long series thinned by plain picking, which the page says. */
export type BathAnswer =
  | {
      ok: true;
      result: Omit<BathResult, "timesMs" | "referenceC" | "before" | "after"> & {
        timesMs: number[];
        reference: number[];
        before: number[][];
        after: number[][];
      };
      every: number;
    }
  | { ok: false; problem: BathProblem | { kind: "gone" } };

const MOST_POINTS = 300;

export async function lookAtBath(fileId: number): Promise<BathFile | null> {
  return inspectBath(database(), fileId);
}

export async function tryBath(input: BathRequestInput): Promise<BathAnswer> {
  const parsed = requestSchema.safeParse(input);
  const answer = parsed.success ? await runBath(database(), parsed.data) : null;
  if (!answer) return { ok: false, problem: { kind: "gone" } };
  if (!answer.ok) return answer;
  const { timesMs, referenceC, before, after, ...rest } = answer.result;
  const every = Math.max(1, Math.ceil(timesMs.length / MOST_POINTS));
  const pick = (s: Float64Array) => Array.from(s).flatMap((v, i) => (i % every ? [] : [v - referenceC[i]]));
  return {
    ok: true,
    every,
    result: {
      ...rest,
      timesMs: Array.from(timesMs).filter((_, i) => i % every === 0),
      reference: Array.from(referenceC).filter((_, i) => i % every === 0),
      before: before.map(pick),
      after: after.map(pick),
    },
  };
}

export async function keepCalibration(name: string, input: BathRequestInput): Promise<Done<{ id: number }>> {
  const parsed = requestSchema.safeParse(input);
  const label = name.trim().slice(0, 120);
  if (!parsed.success || !label) return { ok: false, error: "Give the calibration a name." };
  const kept = await keepBath(database(), label, parsed.data);
  if (!kept) return { ok: false, error: "This bath does not give a calibration. Look at what is marked." };
  revalidatePath("/", "layout");
  return { ok: true, id: kept.id };
}

const twoPointSchema = z.object({
  label: z.string().trim().min(1, "say which probe").max(60),
  iceC: z.number(),
  boilC: z.number(),
  pressurePa: z.number().min(50000).max(110000),
  standardK: z.number().min(0.001).max(2),
});

/** Ice and boiling water at the local pressure. */
export async function keepTwoPoint(input: z.input<typeof twoPointSchema>): Promise<Done<{ id: number }>> {
  const parsed = twoPointSchema.safeParse(input);
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  const { label, iceC, boilC, pressurePa, standardK } = parsed.data;
  try {
    const correction = twoPointCorrection(iceC, boilC, pressurePa, standardK, Date.now());
    const id = await insertCalibration(database(), {
      name: `${label}, ice and boiling water`,
      rawFileId: null,
      settings: parsed.data,
      atMs: Date.now(),
      result: {
        kind: "twoPoint",
        referenceStandardK: 0,
        probes: [{ key: label, correction, lagS: null, residualSdK: 0, outlier: false }],
        spanC: correction.range,
        spreadBeforeK: Math.abs(iceC),
        spreadAfterK: 0,
      },
    });
    revalidatePath("/", "layout");
    return { ok: true, id };
  } catch (error) {
    return { ok: false, error: `${(error as Error).message}. Check what was typed; nothing was kept.` };
  }
}

export async function applyToRuns(
  experimentId: number,
  input: { calibrationId: number; runIds: number[]; probes: Record<string, string>; reason: string },
): Promise<Done> {
  const reason = input.reason.trim().slice(0, 300) || "calibrated";
  if (!(await applyCalibration(database(), experimentId, { ...input, reason })))
    return { ok: false, error: "This calibration or run is no longer there. Reload the page." };
  revalidatePath(`/experiments/${experimentId}`, "layout");
  revalidatePath("/");
  return { ok: true };
}

export async function applyFlowFactor(
  experimentId: number,
  input: { runIds: number[]; detail: FlowLayerDetail; reason: string },
): Promise<Done> {
  const detail = flowLayerSchema.safeParse(input.detail);
  if (!detail.success) return { ok: false, error: "This factor cannot be right: it must lie between 0 and 5." };
  if (
    !(await applyFlow(database(), experimentId, { ...input, detail: detail.data, reason: input.reason.slice(0, 300) }))
  )
    return { ok: false, error: "A run is no longer there. Reload the page." };
  revalidatePath(`/experiments/${experimentId}`, "layout");
  revalidatePath("/");
  return { ok: true };
}

export async function takeLayersOff(experimentId: number, layerIds: number[], removed: boolean): Promise<Done> {
  await markLayersRemoved(database(), experimentId, layerIds, removed);
  revalidatePath(`/experiments/${experimentId}`, "layout");
  revalidatePath("/");
  return { ok: true };
}

export async function removeCalibration(id: number, deleted: boolean): Promise<Done> {
  await markCalibrationDeleted(database(), id, deleted);
  revalidatePath("/", "layout");
  return { ok: true };
}

export async function keepInstrument(id: number | null, instrument: Instrument): Promise<Done<{ id: number }>> {
  const parsed = instrumentSchema.safeParse(instrument);
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  const kept = await saveInstrument(database(), id, parsed.data);
  if (kept === null)
    return {
      ok: false,
      error: `The label "${parsed.data.label}" is taken. Give each instrument a label of its own, and stick it on.`,
    };
  revalidatePath("/", "layout");
  return { ok: true, id: kept };
}

export async function removeInstrument(id: number, deleted: boolean): Promise<Done> {
  await markInstrumentDeleted(database(), id, deleted);
  revalidatePath("/", "layout");
  return { ok: true };
}

export async function loadHistory(id: number): Promise<{ at: number; action: string }[]> {
  return instrumentHistory(database(), id);
}
