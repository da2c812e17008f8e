"use server";

import * as commands from "@/services/experiment/commands";
import { act, type ArgsOf } from "@/features/act";

export async function startExperiment(...args: ArgsOf<typeof commands.startExperiment>) {
  return act(commands.startExperiment, args);
}
