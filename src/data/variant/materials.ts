import type { Knex } from "knex";
import { noteChange } from "../journal";
import { materialSchema } from "../../core/experiment/schema/design";
import type { Material } from "../../core/materials/material";
import { readable } from "../json";
import { transact } from "../transact";

export async function listMaterials(knex: Knex): Promise<Material[]> {
  const rows = await knex("material").whereNull("deleted_at").orderBy("material_key").select("material");
  return rows.flatMap((r: { material: unknown }) => readable(materialSchema, r.material) ?? []);
}

/** The user's own materials, new or changed; all or none. */
export async function saveMaterials(knex: Knex, materials: readonly Material[]): Promise<void> {
  await transact(knex, async (trx) => {
    for (const m of materials) {
      const row = {
        material_key: m.key,
        material: JSON.stringify(materialSchema.parse(m)),
        changed_at: Date.now(),
        deleted_at: null,
      };
      await trx("material").insert(row).onConflict("material_key").merge();
    }
    await noteChange(trx, null, "materials saved", { keys: materials.map((m) => m.key) });
  });
}

/** Only marks. @returns false when it is not there */
export async function markMaterialDeleted(knex: Knex, key: string, deleted: boolean): Promise<boolean> {
  const marked = await knex("material")
    .where({ material_key: key })
    .update({ deleted_at: deleted ? Date.now() : null });
  return marked > 0;
}
