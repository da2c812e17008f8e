import ICAL from "ical.js";
import { savePlan } from "@/data/plan/plans";
import { insertUnavailable, listSites, listUnavailable, markUnavailableDeleted, updateSite } from "@/data/site/sites";
import type { Site } from "@/core/experiment/types";
import { planCalendar } from "@/services/plan/calendar";
import { shownStep, stepPage } from "@/services/page/pages";
import { planView } from "@/services/plan/plan";
import { todayOf } from "@/services/plan/today";
import { findExperiment, findExperiments } from "@/data/experiment/experiments";
import { importRun } from "@/services/import/imports";
import { testDatabase } from "../../../scripts/testing/database";
import { twoBoxes } from "../../../scripts/testing/twoBoxes";

const knex = testDatabase("plans");
const never = new AbortController().signal;
const request = (lanes?: string) => twoBoxes(knex, lanes);

describe("site and plan", () => {
  let experimentId: number;
  beforeAll(async () => {
    ({ experimentId } = await importRun(knex, await request(), () => undefined, never));
  }, 60000);
  const october = Date.UTC(2026, 9, 1, 6);

  test("a plan is settings; its days follow from them, at the same place whoever asks and whenever", async () => {
    const before = (await planView(knex, experimentId, october))!;
    expect(before.saved).toBe(false);
    expect(before.days).toHaveLength(4);
    expect(before.days[0].date).toBe("2026-10-01");
    expect(before.precisionFrom).toBe("runs");
    const settings = { ...before.settings, start: "2026-10-05", days: 6, seed: 9 };
    expect(await savePlan(knex, experimentId, settings)).toBe(true);
    const [a, b] = [
      (await planView(knex, experimentId, october))!,
      (await planView(knex, experimentId, Date.UTC(2026, 11, 1)))!,
    ];
    expect(a.days.map((d) => d.date)).toEqual([
      "2026-10-05",
      "2026-10-06",
      "2026-10-07",
      "2026-10-08",
      "2026-10-09",
      "2026-10-10",
    ]);
    expect(b.days).toEqual(a.days);
    expect(b.order).toEqual(a.order);
    expect(a.balance).toMatchObject({ placesEven: true });
    // The bar of steps says so on every step.
    for (const step of ["ask", "judge", "plan"])
      expect(shownStep(await stepPage(knex, experimentId, step, october)).view.head.plannedDays).toBe(6);
    expect(await savePlan(knex, 999999, settings)).toBe(false);
    await expect(savePlan(knex, experimentId, { ...settings, days: 0 })).rejects.toThrow(">=1");
  }, 60000);
  test("being away cuts days out, and coming back brings them back", async () => {
    const free = (await planView(knex, experimentId, october))!;
    const id = await insertUnavailable(knex, {
      kind: "once",
      fromMs: Date.UTC(2026, 9, 6),
      toMs: Date.UTC(2026, 9, 7),
      reason: "fair",
    });
    const away = (await planView(knex, experimentId, october))!;
    expect(away.days.map((d) => d.date)).not.toContain("2026-10-06");
    expect(away.passed).toContainEqual({ date: "2026-10-06", reason: "unavailable" });
    await markUnavailableDeleted(knex, id, true);
    expect((await planView(knex, experimentId, october))!.days).toEqual(free.days);
    expect((await listUnavailable(knex)).some((u) => u.id === id)).toBe(false);
  }, 60000);
  test("the skyline of the site moves the hours, and the journal keeps what it was", async () => {
    const { site } = (await planView(knex, experimentId, october))!;
    const free = (await planView(knex, experimentId, october))!.days[0].sky.spans[0];
    await updateSite(knex, site.id, {
      ...site,
      detail: {
        ...site.detail,
        horizon: [
          { azimuth: 60, altitude: 45 },
          { azimuth: 170, altitude: 45 },
          { azimuth: 175, altitude: 2 },
        ],
      },
    });
    const ridge = (await planView(knex, experimentId, october))!.days[0].sky.spans[0];
    expect(ridge.fromMs).toBeGreaterThan(free.fromMs + 3600000);
    const [entry] = await knex("journal").where({ action: "site" }).orderBy("id", "desc").limit(1);
    expect(JSON.stringify(entry.detail)).toContain("Terrace");
    await updateSite(knex, site.id, site);
    expect((await planView(knex, experimentId, october))!.days[0].sky.spans[0]).toEqual(free);
  }, 60000);
  test("the calendar file reads back: every entry at its instant, in UTC, with its own id", async () => {
    const plan = (await planView(knex, experimentId, october))!;
    const events = new ICAL.Component(ICAL.parse(planCalendar(plan)))
      .getAllSubcomponents("vevent")
      .map((v) => new ICAL.Event(v));
    const entries = plan.days.flatMap((d) => d.entries);
    expect(events).toHaveLength(entries.length + plan.baths.length);
    expect(events.slice(0, entries.length).map((e) => e.startDate.toJSDate().getTime())).toEqual(
      entries.map((e) => e.fromMs),
    );
    expect(new Set(events.map((e) => e.uid)).size).toBe(events.length);
  }, 60000);
  test("the bench's next window is the plan's, then the site's own, then says why there is none", async () => {
    const sites = await listSites(knex);
    const today = (await todayOf(knex, await findExperiments(knex, null), Date.UTC(2026, 9, 6, 15)))!;
    expect(today.next).toMatchObject({ experimentId, date: "2026-10-07", day: 3, days: 6 });
    const after = (await todayOf(knex, await findExperiments(knex, null), Date.UTC(2026, 9, 20, 6)))!;
    expect(after.next).toMatchObject({ experimentId: null, date: "2026-10-20" });
    const polar: Site = { ...sites[0], latitude: 78, longitude: 15, zone: "Arctic/Longyearbyen" };
    expect(
      await todayOf(
        knex,
        [{ ...(await findExperiment(knex, experimentId))!, id: 999999, site: polar }],
        Date.UTC(2026, 10, 20),
      ),
    ).toMatchObject({
      next: null,
      none: "polarNight",
    });
  }, 60000);
});
