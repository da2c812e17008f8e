import { z } from "zod";
import { materialSchema } from "../../core/experiment/schema/design";
import { LIBRARY } from "../../core/materials/library";
import { markMaterialDeleted, saveMaterials } from "../../data/variant/materials";
import { command, done, refused } from "../web/command";

const SHIPPED = new Set(LIBRARY.map((m) => m.key));

/** Keeps own materials. The shipped ones are not overwritten: what bears a shipped key is kept as a copy under a key of its own. */
export const keepMaterials = command({
  input: z.tuple([z.array(materialSchema).min(1, "there is no material to keep").max(1000)]),
  async run(knex, materials) {
    const own = materials.map((m) => (SHIPPED.has(m.key) ? { ...m, key: `my-${m.key}`.slice(0, 60) } : m));
    await saveMaterials(knex, own);
    return done({ kept: own.length });
  },
  touches: () => "everything",
});

export const deleteMaterial = command({
  input: z.tuple([z.string().min(1).max(60), z.boolean()]),
  run: async (knex, key, deleted) =>
    (await markMaterialDeleted(knex, key, deleted))
      ? done()
      : refused("This material is no longer in your library. Reload the page."),
  touches: () => "everything",
});
