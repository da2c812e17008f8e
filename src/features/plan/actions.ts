"use server";

import * as commands from "@/services/plan/commands";
import { act, type ArgsOf } from "@/features/act";

export async function changePlan(...args: ArgsOf<typeof commands.changePlan>) {
  return act(commands.changePlan, args);
}

export async function addUnavailable(...args: ArgsOf<typeof commands.addUnavailable>) {
  return act(commands.addUnavailable, args);
}

export async function removeUnavailable(...args: ArgsOf<typeof commands.removeUnavailable>) {
  return act(commands.removeUnavailable, args);
}
