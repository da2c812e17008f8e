"use server";

import * as commands from "@/services/tools/commands";
import type { Spot } from "@/core/experiment/records";
import { idOrNone } from "@/core/experiment/schema/bounds";
import { spotsOf } from "@/services/tools/queries";
import { act, answerTo, type ArgsOf } from "@/features/act";

export async function keepSpot(...args: ArgsOf<typeof commands.keepSpot>) {
  return act(commands.keepSpot, args);
}

export async function loadSpots(experimentId: number): Promise<Spot[]> {
  return answerTo((knex) => spotsOf(knex, idOrNone(experimentId)));
}
