import type { Knex } from "knex";
import { BROKEN_KINDS, type BrokenKind } from "@/core/experiment/records";
import {
  benchPage,
  importPage,
  materialsPage,
  places,
  shownStep,
  sitePage,
  sitesPage,
  stepPage,
} from "@/services/page/pages";
import { planSettingsSchema } from "../core/experiment/schema/plan";
import { LIBRARY } from "../core/materials/library";
import { CLIMATES } from "../core/site/climates";
import { freshDatabase } from "../../scripts/testing/database";
import { importTwoBoxes } from "../../scripts/testing/twoBoxes";
import { brokenWords } from "../words/broken";
import { findBroken, putBrokenAway } from "./broken";
import { savePlan } from "./plan/plans";
import { insertClimate, insertUnavailable } from "./site/sites";
import { saveMaterials } from "./variant/materials";

let knex: Knex;
const NOW = Date.UTC(2026, 9, 20, 10);
let id: number;

beforeAll(async () => {
  knex = await freshDatabase("broken");
  id = await importTwoBoxes(knex);
  await savePlan(knex, id, planSettingsSchema.parse({ days: 2, seed: 3, start: "2026-10-21" }));
  const { name, months, source } = CLIMATES[0];
  await insertClimate(knex, {
    name,
    kind: "csv",
    rawFileId: null,
    months: [...months],
    source,
    licence: "",
    place: null,
  });
  await insertUnavailable(knex, { kind: "once", reason: "away", fromMs: NOW, toMs: NOW + 1 });
  await saveMaterials(knex, [{ ...LIBRARY[0], key: "mine" }]);
  const at = { created_at: NOW, changed_at: NOW };
  await knex("instrument").insert({ label: "P1", detail: "{}", ...at });
  await knex("calibration").insert({
    kind: "bath",
    name: "Kettle",
    settings: "{}",
    result: "{}",
    at_ms: NOW,
    created_at: NOW,
  });
}, 120000);
afterAll(() => knex.destroy());

/** Where each kind lies, and what a careless hand may have made of it. */
const WHERE: Record<BrokenKind, [table: string, column: string, spoilt: string]> = {
  settings: ["experiment", "settings", '{"rules":null}'],
  site: ["site", "zone", "Mars/Base"],
  design: ["variant_revision", "design", '{"layers":"none"}'],
  bill: ["variant", "bill", '{"lines":7}'],
  checklist: ["variant", "checklist", "[]"],
  specimen: ["specimen", "as_built", '{"grossAreaM2":"wide"}'],
  run: ["run", "setup", '{"plane":{"tilt":1e9}}'],
  layer: ["run_layer", "kind", "moonlight"],
  plan: ["plan", "settings", '{"days":-4}'],
  calibration: ["calibration", "result", '{"kind":"guess"}'],
  instrument: ["instrument", "detail", "{}"],
  climate: ["climate", "detail", '{"months":[]}'],
  unavailable: ["unavailable", "detail", "{}"],
  material: ["material", "material", '{"density":-1}'],
};

/** Every page, as a person would open one after the other. */
async function allPages(steps: readonly string[]) {
  const bench = await benchPage(knex, NOW);
  await Promise.all([importPage(knex, null), materialsPage(knex), places(knex)]);
  for (const site of await sitesPage(knex)) expect(await sitePage(knex, site.id)).not.toBeNull();
  for (const step of steps) {
    const page = (await stepPage(knex, id, step, NOW))!;
    if (!("lost" in page)) expect(page.failed).toBeNull();
  }
  return bench;
}

test("two are broken at the start: an instrument and a calibration without anything in them", async () => {
  expect((await findBroken(knex)).map((b) => [b.kind, b.name, b.experimentId])).toEqual([
    ["calibration", "Kettle", null],
    ["instrument", "P1", null],
  ]);
});

describe.each(BROKEN_KINDS)("a %s that cannot be read", (kind) => {
  const [table, column, spoilt] = WHERE[kind];

  test("takes no page with it, is named where it is, and can be put away there", async () => {
    const key = { plan: "experiment_id", material: "material_key" }[table] ?? "id";
    const row = await knex(table).orderBy(key).first();
    const whole = Object.fromEntries(
      Object.entries(row).map(([k, v]) => [k, v !== null && typeof v === "object" ? JSON.stringify(v) : v]),
    );
    await knex(table)
      .where({ [key]: row[key] })
      .update({ [column]: spoilt });
    const bench = await allPages(["run", "build", "plan", "prove"]);
    const part = bench.broken.find((b) => b.kind === kind)!;
    expect(part).toMatchObject({ kind, id: row[key], why: expect.stringMatching(/./) });
    const words = brokenWords(part);
    expect([words.title, words.detail, words.mend].join(" ")).not.toMatch(/undefined|null/);
    if (part.experimentId !== null) {
      const shown = { bill: "build", checklist: "build", plan: "plan" }[kind as string] ?? "run";
      const page = (await stepPage(knex, part.experimentId, shown, NOW))!;
      expect(page.broken.map((b) => [b.kind, b.id])).toContainEqual([kind, part.id]);
      // Settings decide results: without them nothing is shown but the way out.
      expect("lost" in page).toBe(kind === "settings");
    }
    expect(await putBrokenAway(knex, kind, part.id)).toBe(true);
    expect(await putBrokenAway(knex, kind, part.id)).toBe(false);
    expect((await allPages(["run"])).broken.filter((b) => b.kind === kind)).toEqual([]);
    const entry = await knex("journal").where({ action: "put away unreadable" }).orderBy("id", "desc").first();
    expect(JSON.stringify(entry.detail)).toContain(kind);
    await knex(table).insert(whole).onConflict(key).merge();
    if (kind === "design") await knex("experiment_variant").update({ removed_at: null });
  }, 60000);
});

test("readings that cannot be computed leave their run out, named; the rest is computed without it", async () => {
  const before = shownStep(await stepPage(knex, id, "read", NOW));
  expect(before.view.points.length).toBeGreaterThan(0);
  const stream = await knex("stream").where({ run_id: before.view.runs[0].id }).first("id", "frames");
  await knex("reading_block")
    .where({ stream_id: stream.id, seq: 0 })
    .update({ vals: Buffer.from("not eight bytes") });
  await knex("stream")
    .where({ id: stream.id })
    .update({ frames: stream.frames + 1 });
  const after = shownStep(await stepPage(knex, id, "read", NOW));
  expect(after.view.runs).toEqual([]);
  expect(after.broken).toContainEqual(expect.objectContaining({ kind: "run", name: "Run 1", computed: true }));
  expect((await benchPage(knex, NOW)).experiments[0].summary).not.toBeNull();
}, 60000);
