"use server";

import * as commands from "@/services/prove/commands";
import type { z } from "zod";
import type { BathProblem, BathResult } from "@/core/calibration/bath";
import { idOrNone } from "@/core/experiment/schema/bounds";
import { bathRequestSchema, type BathFile } from "@/services/prove/calibrations";
import { heavy } from "@/services/heavy/heavy";
import { historyOf } from "@/services/prove/queries";
import { act, answerTo, type ArgsOf } from "@/features/act";

export async function keepCalibration(...args: ArgsOf<typeof commands.keepCalibration>) {
  return act(commands.keepCalibration, args);
}

export async function keepTwoPoint(...args: ArgsOf<typeof commands.keepTwoPoint>) {
  return act(commands.keepTwoPoint, args);
}

export async function applyToRuns(...args: ArgsOf<typeof commands.applyToRuns>) {
  return act(commands.applyToRuns, args);
}

export async function applyFlowFactor(...args: ArgsOf<typeof commands.applyFlowFactor>) {
  return act(commands.applyFlowFactor, args);
}

export async function removeCalibration(...args: ArgsOf<typeof commands.removeCalibration>) {
  return act(commands.removeCalibration, args);
}

export async function keepInstrument(...args: ArgsOf<typeof commands.keepInstrument>) {
  return act(commands.keepInstrument, args);
}

export async function removeInstrument(...args: ArgsOf<typeof commands.removeInstrument>) {
  return act(commands.removeInstrument, args);
}

type BathRequestInput = z.input<typeof bathRequestSchema>;

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
  return answerTo((knex) => heavy(knex).inspectBath(idOrNone(fileId)));
}

export async function tryBath(input: BathRequestInput): Promise<BathAnswer> {
  const parsed = bathRequestSchema.safeParse(input);
  const answer = await answerTo(async (knex) => (parsed.success ? heavy(knex).runBath(parsed.data) : null));
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

export async function loadHistory(id: number): Promise<{ at: number; action: string }[]> {
  return answerTo((knex) => historyOf(knex, idOrNone(id)));
}
