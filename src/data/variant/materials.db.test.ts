import { libraryMaterial } from "@/core/materials/library";
import { listMaterials, markMaterialDeleted, saveMaterials } from "@/data/variant/materials";
import { testDatabase } from "../../../scripts/testing/database";

const knex = testDatabase("materials");

describe("own materials", () => {
  test("own materials are kept, changed and taken out", async () => {
    const mine = { ...libraryMaterial("wool-mineral"), key: "my-wool", name: "Wool from the ridge" };
    await saveMaterials(knex, [mine]);
    await saveMaterials(knex, [{ ...mine, price: 0 }]);
    expect((await listMaterials(knex)).find((m) => m.key === "my-wool")).toEqual({ ...mine, price: 0 });
    await markMaterialDeleted(knex, "my-wool", true);
    expect((await listMaterials(knex)).some((m) => m.key === "my-wool")).toBe(false);
    await expect(saveMaterials(knex, [{ ...mine, density: -1 }])).rejects.toThrow();
  });
});
