"use server";

import { revalidatePath } from "next/cache";
import { z } from "zod";
import { LIBRARY } from "@/core/materials/library";
import type { Material } from "@/core/materials/material";
import { markMaterialDeleted, saveMaterials } from "@/data/variant/variants";
import { materialSchema } from "@/core/experiment/schema/design";
import { database } from "@/services/connection";

export type Kept = { ok: true; kept: number } | { ok: false; error: string };

const SHIPPED = new Set(LIBRARY.map((m) => m.key));

/** Keeps own materials. The shipped ones are not overwritten: what bears a shipped key is kept as a copy under a key of its own. */
export async function keepMaterials(materials: Material[]): Promise<Kept> {
  const parsed = z.array(materialSchema).min(1, "there is no material to keep").max(1000).safeParse(materials);
  if (!parsed.success)
    return {
      ok: false,
      error: parsed.error.issues
        .slice(0, 3)
        .map((i) => `${i.path.slice(1).join(" ")}: ${i.message}`)
        .join("; "),
    };
  const own = parsed.data.map((m) => (SHIPPED.has(m.key) ? { ...m, key: `my-${m.key}`.slice(0, 60) } : m));
  await saveMaterials(database(), own);
  revalidatePath("/", "layout");
  return { ok: true, kept: own.length };
}

export async function deleteMaterial(key: string, deleted: boolean): Promise<void> {
  await markMaterialDeleted(database(), key, deleted);
  revalidatePath("/", "layout");
}
