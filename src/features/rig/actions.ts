"use server";

import { act, type ArgsOf } from "@/features/act";
import { changeRig as changing, setUpRig as settingUp } from "@/services/rig/rig";

export async function setUpRig(...args: ArgsOf<typeof settingUp>) {
  return act(settingUp, args);
}
export async function changeRig(...args: ArgsOf<typeof changing>) {
  return act(changing, args);
}
