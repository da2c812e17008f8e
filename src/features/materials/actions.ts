"use server";

import * as commands from "@/services/material/commands";
import { act, type ArgsOf } from "@/features/act";

export async function keepMaterials(...args: ArgsOf<typeof commands.keepMaterials>) {
  return act(commands.keepMaterials, args);
}

export async function deleteMaterial(...args: ArgsOf<typeof commands.deleteMaterial>) {
  return act(commands.deleteMaterial, args);
}
