import type { Knex } from "knex";
import { freshDatabase } from "../../../scripts/testing/database";
import { importTwoBoxes } from "../../../scripts/testing/twoBoxes";
import { doubtKey } from "../../core/judge/doubt/dismissed";
import { analyse } from "../analysis/analyse";
import { changeWords } from "../../words/versions";
import { changeSettings, dismissDoubt } from "../experiment/commands";
import { methodsView } from "./methodsView";
import { experimentResults } from "../judge/results";
import { freezeVerdict, versionViews } from "../judge/verdictVersions";

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
  expect(found.withoutDays.map((d) => d.day)).toEqual(["2026-10-05", "2026-10-06"]);
  for (const d of found.withoutDays) expect(d.turned).toBe(false);
  expect(await methodsView(knex, 4711)).toBeNull();
});

describe("a frozen verdict", () => {
  const results = async () => (await experimentResults(knex, experiment))!;
  test("stays as it was; what has changed since is told; the same is not frozen twice", async () => {
    expect(await freezeVerdict.run(knex, experiment, "as of the first week")).toEqual({ ok: true });
    expect(await freezeVerdict.run(knex, experiment, "again")).toMatchObject({ ok: false });
    const [first] = await versionViews(knex, experiment, await results());
    expect(first).toMatchObject({ note: "as of the first week", change: { same: true } });
    const { operatingPoint } = (await analyse(knex, experiment))!.experiment.settings;
    const moved = { ...operatingPoint, inletC: operatingPoint.inletC + 15 };
    await changeSettings.run(knex, experiment, { operatingPoint: moved });
    const [later] = await versionViews(knex, experiment, await results());
    expect(later.fingerprint).toBe(first.fingerprint);
    expect(later.change).toMatchObject({ same: false, asked: ["operatingPoint"] });
    expect(changeWords(later.change, (si) => `${Math.round(si)}`)).toMatch(/^Since then .*operating point was moved/);
    await changeSettings.run(knex, experiment, { operatingPoint });
    expect((await versionViews(knex, experiment, await results()))[0].change.same).toBe(true);
    expect(await freezeVerdict.run(knex, 4711, "")).toMatchObject({ ok: false });
  });
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
    expect(written.length).toBe(4);
  });
});
