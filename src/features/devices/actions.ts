"use server";

import { act, type ArgsOf } from "@/features/act";
import {
  addDevice as adding,
  newToken as renewing,
  revoke as revoking,
  settleHeldFrames as settling,
} from "@/services/device/commands";

export async function addDevice(...args: ArgsOf<typeof adding>) {
  return act(adding, args);
}
export async function newToken(...args: ArgsOf<typeof renewing>) {
  return act(renewing, args);
}
export async function revoke(...args: ArgsOf<typeof revoking>) {
  return act(revoking, args);
}
export async function settleHeldFrames(...args: ArgsOf<typeof settling>) {
  return act(settling, args);
}
