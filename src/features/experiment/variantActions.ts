"use server";

import * as commands from "@/services/variant/commands";
import type { Design } from "@/core/collector/design";
import { idOrNone } from "@/core/experiment/schema/bounds";
import { revisionOf } from "@/services/variant/variants";
import { act, answerTo, type ArgsOf } from "@/features/act";

export async function createVariant(...args: ArgsOf<typeof commands.createVariant>) {
  return act(commands.createVariant, args);
}

export async function saveVariant(...args: ArgsOf<typeof commands.saveVariant>) {
  return act(commands.saveVariant, args);
}

export async function keepDrawing(...args: ArgsOf<typeof commands.keepDrawing>) {
  return act(commands.keepDrawing, args);
}

export async function changeName(...args: ArgsOf<typeof commands.changeName>) {
  return act(commands.changeName, args);
}

export async function removeVariant(...args: ArgsOf<typeof commands.removeVariant>) {
  return act(commands.removeVariant, args);
}

export async function keepBill(...args: ArgsOf<typeof commands.keepBill>) {
  return act(commands.keepBill, args);
}

export async function keepChecklist(...args: ArgsOf<typeof commands.keepChecklist>) {
  return act(commands.keepChecklist, args);
}

export async function buildSpecimen(...args: ArgsOf<typeof commands.buildSpecimen>) {
  return act(commands.buildSpecimen, args);
}

export async function measureSpecimen(...args: ArgsOf<typeof commands.measureSpecimen>) {
  return act(commands.measureSpecimen, args);
}

export async function takeSpecimenAway(...args: ArgsOf<typeof commands.takeSpecimenAway>) {
  return act(commands.takeSpecimenAway, args);
}

export async function deletePhoto(...args: ArgsOf<typeof commands.deletePhoto>) {
  return act(commands.deletePhoto, args);
}

export async function loadRevision(variantId: number, revision: number): Promise<Design | null> {
  return answerTo((knex) => revisionOf(knex, idOrNone(variantId), idOrNone(revision)));
}
