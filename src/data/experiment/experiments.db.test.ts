import type { Knex } from "knex";
import { freshDatabase } from "../../../scripts/testing/database";
import { importTwoBoxes } from "../../../scripts/testing/twoBoxes";
import {
  findExperiment,
  findExperiments,
  listExperiments,
  markExperimentDeleted,
  patchSettings,
  renameExperiment,
} from "./experiments";
import { findSummaries, saveSummary } from "./summaries";

let knex: Knex;
let id: number;
beforeAll(async () => {
  knex = await freshDatabase("experiments");
  id = await importTwoBoxes(knex);
}, 90000);
afterAll(() => knex.destroy());

const journal = async (action: string) =>
  Number((await knex("journal").where({ experiment_id: id, action }).count({ n: "*" }))[0].n);

describe("experiments", () => {
  test("come whole or as heads, and a missing one is null, not an error", async () => {
    const whole = (await findExperiment(knex, id))!;
    expect(whole.lanes.map((l) => l.letter)).toEqual(["A", "B"]);
    expect(whole.runs).toHaveLength(1);
    expect((await listExperiments(knex)).map((e) => e.id)).toEqual([id]);
    expect(await findExperiment(knex, 4711)).toBeNull();
    expect(await findExperiments(knex, [])).toEqual([]);
    expect((await findExperiments(knex, [4711, id])).map((e) => e.id)).toEqual([id]);
  });

  test("two changes of settings at once both stand", async () => {
    await Promise.all([
      patchSettings(knex, id, { smallestDifference: 22 }),
      patchSettings(knex, id, { areaBasis: "aperture" }),
    ]);
    expect((await findExperiment(knex, id))!.settings).toMatchObject({ smallestDifference: 22, areaBasis: "aperture" });
  });

  test.each([
    [{ smallestDifference: -1 }],
    [{ areaBasis: "roof" }],
    [{ operatingPoint: { inletC: 20 } }],
    [{ rules: { name: "standard" } }],
  ])("settings that would not be whole are refused and nothing is kept: %j", async (change) => {
    const before = (await findExperiment(knex, id))!.settings;
    const entries = await journal("settings");
    const refused = await patchSettings(knex, id, change);
    expect(refused && !refused.ok && refused.issues.map((i) => i.path[0])).toContain(Object.keys(change)[0]);
    expect((await findExperiment(knex, id))!.settings).toEqual(before);
    expect(await journal("settings")).toBe(entries);
    expect(await patchSettings(knex, 4711, change)).toBeNull();
  });

  test("a new name is dated in the journal with the old one", async () => {
    expect(await renameExperiment(knex, id, { name: "Boxes", question: "Which one?" })).toBe(true);
    const [entry] = await knex("journal").where({ action: "question" }).orderBy("id", "desc").limit(1);
    expect(JSON.stringify(entry.detail)).toContain("Two boxes");
    expect(await renameExperiment(knex, 4711, { name: "x", question: "" })).toBe(false);
  });

  test("a deleted one is off every list, keeps every reading, and comes back as it was", async () => {
    const before = await findExperiment(knex, id);
    const blocks = await knex("reading_block").count({ n: "*" });
    expect(await markExperimentDeleted(knex, id, true)).toBe(true);
    expect(await findExperiment(knex, id)).toBeNull();
    expect(await listExperiments(knex)).toEqual([]);
    expect(await patchSettings(knex, id, { smallestDifference: 9 })).toBeNull();
    expect(await renameExperiment(knex, id, { name: "x", question: "" })).toBe(false);
    expect(await knex("reading_block").count({ n: "*" })).toEqual(blocks);
    expect(await markExperimentDeleted(knex, id, false)).toBe(true);
    const after = await findExperiment(knex, id);
    // Only the date of the last change has moved on.
    expect({ ...after, changedAt: 0 }).toEqual({ ...before, changedAt: 0 });
    expect(await markExperimentDeleted(knex, 4711, true)).toBe(false);
  });
});

describe("kept summaries", () => {
  const a = "a".repeat(64);
  const b = "b".repeat(64);

  test("are found by their fingerprint alone; an older one is as good as none", async () => {
    await saveSummary(knex, id, a, { runs: 1 });
    expect(await findSummaries(knex, [{ experimentId: id, fingerprint: a }])).toEqual(new Map([[id, { runs: 1 }]]));
    expect((await findSummaries(knex, [{ experimentId: id, fingerprint: b }])).size).toBe(0);
    await saveSummary(knex, id, b, { runs: 2 });
    expect((await findSummaries(knex, [{ experimentId: id, fingerprint: a }])).size).toBe(0);
    expect(await knex("result_summary").count({ n: "*" })).toEqual([{ n: 1 }]);
    expect((await findSummaries(knex, [])).size).toBe(0);
  });
});
