"use server";

import * as commands from "@/services/experiment/commands";
import type { Looser } from "@/core/analysis/looser";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import { takeReadingBack as takingReadingBack } from "@/services/import/readAgain";
import { streamDetails } from "@/services/experiment/queries";
import { idOrNone } from "@/core/experiment/schema/bounds";
import { heavy } from "@/services/heavy/heavy";
import { act, answerTo, type ArgsOf } from "@/features/act";

export async function takeReadingBack(...args: ArgsOf<typeof takingReadingBack>) {
  return act(takingReadingBack, args);
}

export async function duplicateExperiment(...args: ArgsOf<typeof commands.duplicateExperiment>) {
  return act(commands.duplicateExperiment, args);
}

export async function deleteExperiments(...args: ArgsOf<typeof commands.deleteExperiments>) {
  return act(commands.deleteExperiments, args);
}

export async function changeQuestion(...args: ArgsOf<typeof commands.changeQuestion>) {
  return act(commands.changeQuestion, args);
}

export async function chooseRules(...args: ArgsOf<typeof commands.chooseRules>) {
  return act(commands.chooseRules, args);
}

export async function setSpanAside(...args: ArgsOf<typeof commands.setSpanAside>) {
  return act(commands.setSpanAside, args);
}

export async function shiftClock(...args: ArgsOf<typeof commands.shiftClock>) {
  return act(commands.shiftClock, args);
}

export async function swapLanes(...args: ArgsOf<typeof commands.swapLanes>) {
  return act(commands.swapLanes, args);
}

export async function removeLayers(...args: ArgsOf<typeof commands.removeLayers>) {
  return act(commands.removeLayers, args);
}

export async function turnLayer(...args: ArgsOf<typeof commands.turnLayer>) {
  return act(commands.turnLayer, args);
}

export async function putAway(...args: ArgsOf<typeof commands.putAway>) {
  return act(commands.putAway, args);
}

export async function deleteRun(...args: ArgsOf<typeof commands.deleteRun>) {
  return act(commands.deleteRun, args);
}

export async function deleteExperiment(...args: ArgsOf<typeof commands.deleteExperiment>) {
  return act(commands.deleteExperiment, args);
}

export async function dismissDoubt(...args: ArgsOf<typeof commands.dismissDoubt>) {
  return act(commands.dismissDoubt, args);
}

/** Changes part of the settings; the rest stays. @param before what the change was made from: of a part, only what differs is changed */
export async function changeSettings(
  experimentId: number,
  change: Partial<ExperimentSettings>,
  before?: Partial<ExperimentSettings>,
) {
  return act(commands.changeSettings, [experimentId, change, before]);
}

export async function loadLooser(experimentId: number): Promise<Looser[] | null> {
  return answerTo((knex) => heavy(knex).looser(idOrNone(experimentId)));
}

export async function loadStream(
  experimentId: number,
  runId: number,
  streamId: number,
): ReturnType<typeof streamDetails> {
  return answerTo((knex) =>
    streamDetails(knex, {
      experimentId: idOrNone(experimentId),
      runId: idOrNone(runId),
      streamId: idOrNone(streamId),
    }),
  );
}
