"use server";

import { act, type ArgsOf } from "@/features/act";
import { freezeVerdict as freezing } from "@/services/judge/verdictVersions";

export async function freezeVerdict(...args: ArgsOf<typeof freezing>) {
  return act(freezing, args);
}
