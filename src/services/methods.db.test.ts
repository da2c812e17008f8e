import type { Knex } from "knex";
import { freshDatabase } from "../../scripts/testing/database";
import { importTwoBoxes } from "../../scripts/testing/twoBoxes";
import { doubtKey } from "../core/judge/doubt/list";
import { analyse } from "./analysis/analyse";
import { dismissDoubt } from "./experiment/commands";
import { methodsView } from "./methodsView";

let knex: Knex;
let experiment: number;
beforeAll(async () => {
  knex = await freshDatabase("methods");
  experiment = await importTwoBoxes(knex);
}, 120_000);
afterAll(() => knex.destroy());

test("steady windows and all daylight find the same boxes in the same file", async () => {
  const found = (await methodsView(knex, experiment))!;
  const heats = found.schools.filter((s) => s.name === "heatAtPoint" || s.name === "difference");
  expect(heats.length).toBe(3);
  for (const s of heats) {
    expect(s.dynamic!.expanded).toBeGreaterThan(0);
    expect(s.apart).toBe(false);
  }
  expect(found.methods.map((m) => m.name)).toContain("stagnation");
  const why = Object.fromEntries(found.methods.map((m) => [m.name, m.gaps.map((g) => g.why)]));
  expect(why.batch).toEqual(["noTank"]);
  expect(why.stagnation).toEqual(["noPlate"]);
  expect(await methodsView(knex, 4711)).toBeNull();
});

describe("a dismissed doubt", () => {
  const judged = async () => (await analyse(knex, experiment))!;
  test("needs a reason, is kept with its reach and its day, and frees the answer it held back", async () => {
    const { judgement } = await judged();
    const held = judgement.doubts.find((d) => d.kind === "neverSwapped")!;
    const key = doubtKey(held);
    expect(await dismissDoubt.run(knex, experiment, key, "no")).toMatchObject({ ok: false });
    expect(await dismissDoubt.run(knex, experiment, "no/such", "a reason long enough")).toMatchObject({ ok: false });
    expect(await dismissDoubt.run(knex, experiment, key, "both places look alike, measured in May")).toEqual({
      ok: true,
    });
    const after = await judged();
    expect(after.experiment.settings.dismissed[key]).toMatchObject({ reach: held.effect!.high });
    // The doubt itself stays to be shown and printed.
    expect(after.judgement.doubts.map(doubtKey)).toContain(key);
    expect(await dismissDoubt.run(knex, experiment, key, null)).toEqual({ ok: true });
    expect((await judged()).experiment.settings.dismissed).toEqual({});
    expect((await judged()).judgement.verdict).toEqual(judgement.verdict);
    const written = await knex("journal").where({ experiment_id: experiment, action: "settings" }).select();
    expect(written.length).toBe(2);
  });
});
