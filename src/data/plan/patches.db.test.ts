import type { Knex } from "knex";
import { planSettingsSchema, type PlanSettings } from "@/core/experiment/schema/plan";
import { freshDatabase } from "../../../scripts/testing/database";
import { importTwoBoxes } from "../../../scripts/testing/twoBoxes";
import { markExperimentDeleted } from "../experiment/experiments";
import { findPlan, findPlans, patchPlan, savePlan } from "./plans";

let knex: Knex;
let id: number;
const shown: PlanSettings = planSettingsSchema.parse({ days: 4, seed: 3, start: "2026-10-05" });
beforeAll(async () => {
  knex = await freshDatabase("patches");
  id = await importTwoBoxes(knex);
}, 90000);
afterAll(() => knex.destroy());

describe("a plan is changed piece by piece", () => {
  test("the first change keeps the plan that was shown, with the change", async () => {
    expect(await findPlan(knex, id)).toBeNull();
    expect(await patchPlan(knex, id, { set: { days: 6 } }, shown)).toEqual({ ok: true });
    expect(await findPlan(knex, id)).toEqual({ ...shown, days: 6 });
  });

  test("two quick changes both stand, whatever the page showed", async () => {
    await Promise.all([
      patchPlan(knex, id, { set: { seed: 12 } }, shown),
      patchPlan(knex, id, { set: { start: "2026-11-02" } }, shown),
    ]);
    expect(await findPlan(knex, id)).toMatchObject({ days: 6, seed: 12, start: "2026-11-02" });
  });

  test("a change that would not make a whole plan is refused, and says why", async () => {
    const before = await findPlan(knex, id);
    expect(await patchPlan(knex, id, { set: { days: 0 } }, shown)).toMatchObject({
      ok: false,
      issues: [{ path: ["days"], code: "too_small" }],
    });
    expect(await findPlan(knex, id)).toEqual(before);
  });

  test("each change is dated with what it was", async () => {
    const entries = await knex("journal").where({ experiment_id: id, action: "plan" }).orderBy("id").pluck("detail");
    expect(entries).toHaveLength(3);
    expect(JSON.stringify(entries[0])).toMatch(/first.{0,4}true/);
    expect(JSON.stringify(entries[1])).toMatch(/first.{0,4}false/);
  });

  test("several plans come at once; a deleted experiment takes none", async () => {
    expect((await findPlans(knex, [id, 4711])).size).toBe(1);
    expect((await findPlans(knex, [])).size).toBe(0);
    await markExperimentDeleted(knex, id, true);
    expect(await patchPlan(knex, id, { set: { days: 2 } }, shown)).toBeNull();
    expect(await savePlan(knex, id, shown)).toBe(false);
    await markExperimentDeleted(knex, id, false);
  });
});
