import { benchPage } from "@/services/page/pages";
import { testDatabase } from "../../scripts/testing/database";
import { importTwoBoxes, keepFile } from "../../scripts/testing/twoBoxes";
import { markExperimentDeleted } from "./experiment/experiments";
import { deletedThings, KEPT_DAYS, tidy } from "./housekeeping";
import { markRunDeleted } from "./run/runs";

const knex = testDatabase("housekeeping");
const DAY = 86400000;
const count = async (table: string) => Number((await knex(table).count({ n: "*" }))[0].n);
const TABLES = ["experiment", "run", "stream", "reading_block", "raw_file", "raw_chunk", "variant", "specimen"];
const all = () => Promise.all(TABLES.map(count));

test("what stands, and what was deleted lately, stays whole", async () => {
  const id = await importTwoBoxes(knex);
  await markExperimentDeleted(knex, await importTwoBoxes(knex), true);
  const before = await all();
  expect(await tidy(knex, Date.now() + (KEPT_DAYS - 1) * DAY)).toEqual({ files: 0, experiments: 0, runs: 0 });
  expect(await all()).toEqual(before);
  const [gone] = await deletedThings(knex);
  expect(gone).toMatchObject({ kind: "experiment", name: "Two boxes", goesAt: gone.deletedAt + KEPT_DAYS * DAY });
  expect((await benchPage(knex, Date.now())).deleted).toHaveLength(1);
  // Brought back it is all there.
  await markExperimentDeleted(knex, gone.id, false);
  expect(await deletedThings(knex)).toEqual([]);
  await markExperimentDeleted(knex, gone.id, true);
  expect(id).not.toBe(gone.id);
}, 60000);

test("after thirty days it goes with all that is its own, and nothing else", async () => {
  const before = await all();
  expect(await tidy(knex, Date.now() + (KEPT_DAYS + 1) * DAY)).toEqual({ files: 2, experiments: 1, runs: 0 });
  // Of two experiments alike one is left: half of everything.
  expect(await all()).toEqual(before.map((n) => n / 2));
});

test("a deleted run goes, its experiment stays; files never imported go, those that are used stay", async () => {
  const { id: runId, experiment_id: id } = await knex("run").first("id", "experiment_id");
  await markRunDeleted(knex, id, runId, true);
  expect(await deletedThings(knex)).toEqual([expect.objectContaining({ kind: "run", name: "Run 1 of Two boxes" })]);
  await keepFile(knex, "never.csv", "1;2\n");
  await knex("raw_file").insert({ name: "half.csv", bytes: 0, sha256: "", created_at: Date.now() });
  expect(await tidy(knex, Date.now() + 2 * DAY)).toEqual({ files: 1, experiments: 0, runs: 0 });
  expect(await tidy(knex, Date.now() + (KEPT_DAYS + 1) * DAY)).toEqual({ files: 3, experiments: 0, runs: 1 });
  expect([await count("experiment"), await count("run"), await count("raw_file"), await count("variant")]).toEqual([
    1, 0, 0, 2,
  ]);
});
