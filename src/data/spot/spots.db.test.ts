import type { Knex } from "knex";
import { freshDatabase } from "../../../scripts/testing/database";
import { importTwoBoxes } from "../../../scripts/testing/twoBoxes";
import { markExperimentDeleted } from "../experiment/experiments";
import { markRunDeleted } from "../run/runs";
import { listSpots, recordSpot } from "./spots";

let knex: Knex;
let id: number;
beforeAll(async () => {
  knex = await freshDatabase("spots");
  id = await importTwoBoxes(knex);
}, 90000);
afterAll(() => knex.destroy());

describe("readings taken by hand", () => {
  test("stand beside the newest run, the newest first, twenty of them", async () => {
    for (let n = 1; n <= 23; n++)
      expect(await recordSpot(knex, id, { text: `reading ${n}`, values: { heatW: n } })).toBe(true);
    const spots = await listSpots(knex, id);
    expect(spots).toHaveLength(20);
    expect(spots[0]).toMatchObject({ text: "reading 23", run: 1 });
    expect(Date.now() - spots[0].at).toBeLessThan(60000);
    expect(Number((await knex("spot_reading").count({ n: "*" }))[0].n)).toBe(23);
  });

  test("without a run they belong to none; to a deleted experiment none can be added", async () => {
    const run = await knex("run").where({ experiment_id: id }).first("id");
    await markRunDeleted(knex, id, run.id, true);
    await recordSpot(knex, id, { text: "before the first run", values: {} });
    expect((await listSpots(knex, id))[0].run).toBeNull();
    await markExperimentDeleted(knex, id, true);
    expect(await recordSpot(knex, id, { text: "too late", values: {} })).toBe(false);
  });
});
