"use server";

import * as commands from "@/services/site/commands";
import { revalidatePath } from "next/cache";
import type { EpwAnswer } from "@/services/site/climates";
import { heavy } from "@/services/heavy/heavy";
import { idOrNone } from "@/core/experiment/schema/bounds";
import { act, answerTo, type ArgsOf } from "@/features/act";

export async function keepSite(...args: ArgsOf<typeof commands.keepSite>) {
  return act(commands.keepSite, args);
}

export async function startSite(...args: ArgsOf<typeof commands.startSite>) {
  return act(commands.startSite, args);
}

export async function keepClimateCsv(...args: ArgsOf<typeof commands.keepClimateCsv>) {
  return act(commands.keepClimateCsv, args);
}

export async function removeClimate(...args: ArgsOf<typeof commands.removeClimate>) {
  return act(commands.removeClimate, args);
}

/** A typical-weather file, already uploaded, read whole and chosen for the site. */
export async function keepEpw(siteId: number, fileId: number, licence: string): Promise<EpwAnswer> {
  const answer = await answerTo(
    (knex) => heavy(knex).chooseEpw(idOrNone(siteId), idOrNone(fileId), String(licence).slice(0, 300)),
    "owner",
  );
  if (answer.ok) revalidatePath("/", "layout");
  return answer;
}
