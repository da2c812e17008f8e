"use server";

import { continueRun as continuing } from "@/services/import/continueRun";
import { offerDevice as offering } from "@/services/device/offer";
import { act, type ArgsOf } from "@/features/act";

export async function continueRun(...args: ArgsOf<typeof continuing>) {
  return act(continuing, args);
}

export async function offerDevice(...args: ArgsOf<typeof offering>) {
  return act(offering, args);
}
