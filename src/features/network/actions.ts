"use server";

import { act, type ArgsOf } from "@/features/act";
import { addViewer as adding, endViewer as ending } from "@/services/network/network";

export async function addViewer(...args: ArgsOf<typeof adding>) {
  return act(adding, args);
}
export async function endViewer(...args: ArgsOf<typeof ending>) {
  return act(ending, args);
}
