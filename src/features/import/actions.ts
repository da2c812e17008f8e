"use server";

import { continueRun as continuing } from "@/services/continueRun";
import { act, type ArgsOf } from "@/features/act";

export async function continueRun(...args: ArgsOf<typeof continuing>) {
  return act(continuing, args);
}
