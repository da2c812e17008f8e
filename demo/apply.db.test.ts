import ICAL from "ical.js";
import type { Knex } from "knex";
import { demoDatabase } from "../scripts/testing/demo";
import { keepFile } from "../scripts/testing/twoBoxes";
import { inventedEpw, writeEpw } from "../scripts/testing/inventedEpw";
import { askedFor } from "../src/core/season/scenario";
import { runSeason, withoutHours } from "../src/core/season/job";
import { findExperiments } from "../src/data/experiment/experiments";
import { jobOf } from "../src/services/apply/seasonJob";
import { shownStep, stepPage } from "../src/services/page/pages";
import { applyOf, climateText, type ApplyView } from "../src/services/apply/applyView";
import { applyCalendar, mirrorToday, modeChanges } from "../src/services/apply/calendar";
import { analyse, stageCounts } from "../src/services/analysis/analyse";
import { importEpw } from "../src/services/site/climates";
import { changeSettings } from "../src/services/experiment/commands";

jest.setTimeout(120000);

let knex: Knex;
let ids: Map<string, number>;
beforeAll(async () => {
  knex = await demoDatabase("apply");
  ids = new Map((await findExperiments(knex, null)).map((e) => [e.name, e.id]));
}, 180000);
afterAll(() => knex.destroy());

const view = async (name: string): Promise<ApplyView> => ({
  ...(await applyOf(knex, (await analyse(knex, ids.get(name)!))!)),
  year: null,
});
const answerOf = (v: ApplyView) => {
  const result = runSeason(jobOf(v, v.settings, null))!;
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return result.answer;
};

test("the loft's winner by its measured curve: first in the list, with its band, its bill and its ducts", async () => {
  const v = await view("Absorber shapes");
  expect(askedFor(v.settings)).toEqual([]);
  const { seasons, panels } = answerOf(v);
  expect(seasons[0].candidate.origin).toBe("curve");
  expect(v.ranking[0]).toBe(seasons[0].candidate.key);
  expect(seasons[0].usefulSd).toBeGreaterThan(0);
  expect(seasons[0].useful).toBeGreaterThan(0);
  expect(Math.abs(seasons[0].year.imbalance)).toBeLessThan(1e-6);
  expect(v.candidates.every((c) => c.first! > 0 && c.repeat! > 0 && c.repeat! <= c.first!)).toBe(true);
  expect(panels.map((p) => p.candidate.key)).toEqual(["panels", "panels-money"]);
});

test("an identical pair is one candidate; a curve tested at one condition is wider than a measured one", async () => {
  const v = await view("Absorber shapes");
  expect(v.candidates.find((c) => c.letters.length === 2)).toBeDefined();
  const own = v.candidates.find((c) => c.origins.length > 2)!;
  const [curve, condition] = ["curve", "condition"].map((o) => own.origins.find((x) => x.origin === o)!);
  expect(condition.covariance![1][1]).toBeGreaterThan(curve.covariance![1][1]);
  // All three ways speak of the same box: at a mild condition they lie near one another.
  const at = (c: typeof curve) => c.curve.eta0 - (c.curve.a1 * 15) / 800;
  for (const o of own.origins) expect(Math.abs(at(o) - at(curve))).toBeLessThan(0.12);
});

test("what was measured with its mirror up does not enter the year; its mirror on the plain box does", async () => {
  const v = await view("Bottom mirror");
  const mirrored = v.candidates.find((c) => c.design.mirrors.length)!;
  expect(mirrored.gaps.map((g) => g.why)).toEqual(["mirrored", "mirrored"]);
  expect(mirrored.origins.map((o) => o.origin)).toEqual(["prediction"]);
  const { seasons } = answerOf(v);
  const plain = seasons.find((s) => s.candidate.key === "B")!;
  const lent = seasons.find((s) => s.candidate.key === "B+")!;
  expect(lent.useful).toBeGreaterThan(plain.useful);
});

test("wash water: the tank is drawn, the pump stops, and the account closes", async () => {
  const [first] = answerOf(await view("Hose coils for wash water")).seasons;
  expect(first.share).toBeGreaterThan(0.1);
  expect(first.share).toBeLessThan(1);
  expect(Math.abs(first.year.imbalance)).toBeLessThan(1e-6);
});

test("what Apply holds decides nothing about who wins: no stage is computed anew", async () => {
  const id = ids.get("Absorber shapes")!;
  const { settings } = (await analyse(knex, id))!.experiment;
  const before = { ...stageCounts };
  await changeSettings.run(knex, id, { apply: { ...settings.apply, seed: 7 } });
  await analyse(knex, id);
  expect(stageCounts).toEqual(before);
  expect((await analyse(knex, id))!.experiment.settings.apply.seed).toBe(7);
  expect(
    await changeSettings.run(knex, id, { apply: { ...settings.apply, store: { kind: "rock", volumeM3: 0 } } }),
  ).toMatchObject({ ok: false });
});

test("turns of the mirror and modes as a calendar of whole days, every year again; the sheet of a day agrees", async () => {
  const id = ids.get("Bottom mirror")!;
  const now = Date.UTC(2026, 3, 20, 10);
  const events = new ICAL.Component(ICAL.parse((await applyCalendar(knex, id, now))!))
    .getAllSubcomponents("vevent")
    .map((e) => new ICAL.Event(e));
  expect(events.length).toBeGreaterThan(4);
  for (const e of events) {
    expect(e.startDate.isDate).toBe(true);
    expect(e.isRecurring()).toBe(true);
  }
  const today = (await mirrorToday(knex, id, now))!;
  expect(today.now!.from <= "2026-04-20" && today.now!.until > "2026-04-20").toBe(true);
  expect(events.some((e) => e.summary.endsWith(`mirror to ${today.now!.angle}°`))).toBe(true);
  expect(today.lights!.toMs).toBeGreaterThan(today.lights!.fromMs);
  // They come back every year: no year stands in their words, and none turns to the angle the mirror has.
  for (const e of events) expect(e.description ?? "").not.toMatch(/20\d\d/);
  const angles = events.map((e) => e.summary).filter((t) => /mirror/.test(t.split(": ").at(-1)!));
  angles.forEach((t, i) => expect(t).not.toBe(angles[(i + 1) % angles.length]));
  expect(await applyCalendar(knex, 4711, now)).toBeNull();
  expect(await mirrorToday(knex, 4711, now)).toBeNull();
  const none = (await mirrorToday(knex, ids.get("Absorber shapes")!, now))!;
  expect(none.now).toBeNull();
});

test("modes change where a month differs from the one before", () => {
  expect(modeChanges(Array(12).fill("heat"))).toEqual([]);
  const modes = Array.from({ length: 12 }, (_, m) => (m >= 5 && m <= 7 ? ("off" as const) : ("heat" as const)));
  expect(modeChanges(modes)).toEqual([
    { month: 5, mode: "off" },
    { month: 8, mode: "heat" },
  ]);
});

test("the hours of a typical-weather file are given back as they came, and none where there are none", async () => {
  const text = writeEpw(inventedEpw());
  const stored = await keepFile(knex, "hill.epw", text);
  const made = await importEpw(knex, stored.id, "invented");
  if (!made.ok) throw new Error(JSON.stringify(made.problem));
  expect(await climateText(knex, made.id)).toBe(text);
  expect(await climateText(knex, 4711)).toBeNull();
  expect((await view("Absorber shapes")).hourly.map((h) => h.id)).toContain(made.id);
});

test("a page that is opened holds the very year that it would work out itself; one shown anew works it out", async () => {
  const at = Date.UTC(2026, 9, 20);
  const page = async (opened: boolean) =>
    shownStep(await stepPage(knex, ids.get("Absorber shapes")!, "apply", at, null, opened)).apply!;
  const opened = await page(true);
  expect(opened.year).toEqual(withoutHours(runSeason(jobOf(opened, opened.settings, null))!));
  // Kept: the next one who opens it waits for nothing.
  expect((await page(true)).year).toBe(opened.year);
  expect((await page(false)).year).toBeNull();
});
