import { PLAIN_DETAIL } from "@/core/experiment/schema/site";
import { CLIMATES } from "@/core/site/climates";
import { testDatabase } from "../../../scripts/testing/database";
import {
  findSite,
  insertClimate,
  insertSite,
  insertUnavailable,
  listClimates,
  listSites,
  listUnavailable,
  markClimateDeleted,
  markUnavailableDeleted,
  updateSite,
} from "./sites";

const knex = testDatabase("sites");

const PLACE = {
  name: "Terrace",
  latitude: 46.31,
  longitude: 9.05,
  altitudeM: 1120,
  zone: "Europe/Zurich",
  detail: PLAIN_DETAIL,
};

describe("sites", () => {
  test("come back as they were put in, to the last digit that is kept", async () => {
    const id = await insertSite(knex, { ...PLACE, latitude: -46.123456, longitude: 179.999999, altitudeM: -12.3 });
    expect(await findSite(knex, id)).toEqual({
      ...PLACE,
      id,
      latitude: -46.123456,
      longitude: 179.999999,
      altitudeM: -12.3,
    });
    expect(await findSite(knex, 4711)).toBeNull();
  });

  test("are listed in the order in which they came; a fixed offset is a zone like any other", async () => {
    const id = await insertSite(knex, { ...PLACE, name: "Yard", zone: "UTC+01:00" });
    const all = await listSites(knex);
    expect(all.at(-1)).toMatchObject({ id, zone: "UTC+01:00" });
    expect(all.map((s) => s.id)).toEqual([...all.map((s) => s.id)].sort((a, b) => a - b));
  });

  test("a change is whole, and what it was stands in the journal", async () => {
    const id = await insertSite(knex, PLACE);
    const horizon = [{ azimuth: 90, altitude: 12.5 }];
    expect(await updateSite(knex, id, { ...PLACE, name: "Ridge", detail: { ...PLAIN_DETAIL, horizon } })).toBe(true);
    expect(await findSite(knex, id)).toMatchObject({ name: "Ridge", detail: { horizon } });
    const [entry] = await knex("journal").where({ action: "site" }).orderBy("id", "desc").limit(1);
    expect(JSON.stringify(entry.detail)).toContain("Terrace");
    expect(await updateSite(knex, 4711, PLACE)).toBe(false);
    // Two pages that change different parts at once keep both.
    const shown = (await findSite(knex, id))!;
    await Promise.all([
      updateSite(knex, id, { ...shown, name: "Ridge, west" }, shown),
      updateSite(knex, id, { ...shown, altitudeM: 1111 }, shown),
    ]);
    expect(await findSite(knex, id)).toMatchObject({ name: "Ridge, west", altitudeM: 1111, detail: { horizon } });
  });

  test.each([
    ["a latitude beyond the pole", { latitude: 91 }],
    ["no name", { name: "" }],
    ["a skyline above the zenith", { detail: { ...PLAIN_DETAIL, horizon: [{ azimuth: 0, altitude: 120 }] } }],
    ["eleven months", { detail: { ...PLAIN_DETAIL, turbidity: Array<number>(11).fill(3) } }],
  ])("%s is not written", async (_, wrong) => {
    const before = await listSites(knex);
    const put = async () => {
      const id = await insertSite(knex, { ...PLACE, ...wrong });
      // What the table took the page must still be able to show.
      await findSite(knex, id);
    };
    await expect(put()).rejects.toThrow();
    expect((await listSites(knex).catch(() => before)).length).toBe(before.length);
  });
});

describe("climates and times away", () => {
  test("only marked when removed, and back as they were", async () => {
    const id = await insertClimate(knex, {
      name: "Valley",
      kind: "csv",
      months: CLIMATES[0].months,
      source: "own records",
      licence: "",
      rawFileId: null,
      place: null,
    } as never);
    const [kept] = (await listClimates(knex)).filter((c) => c.id === id);
    expect(kept).toMatchObject({ name: "Valley", months: CLIMATES[0].months });
    expect(await markClimateDeleted(knex, id, true)).toBe(true);
    expect((await listClimates(knex)).some((c) => c.id === id)).toBe(false);
    await markClimateDeleted(knex, id, false);
    expect((await listClimates(knex)).find((c) => c.id === id)).toEqual(kept);
    expect(await markClimateDeleted(knex, 4711, true)).toBe(false);
  });

  test("weekly and once, each with its reason; what is no time is refused", async () => {
    const weekly = { kind: "weekly" as const, weekday: 4, fromMinute: 480, toMinute: 1020, reason: "market" };
    const once = { kind: "once" as const, fromMs: Date.UTC(2026, 9, 6), toMs: Date.UTC(2026, 9, 7), reason: "fair" };
    const ids = [await insertUnavailable(knex, weekly), await insertUnavailable(knex, once)];
    expect((await listUnavailable(knex)).filter((u) => ids.includes(u.id))).toEqual([
      { ...weekly, id: ids[0] },
      { ...once, id: ids[1] },
    ]);
    await expect(insertUnavailable(knex, { ...weekly, weekday: 9 })).rejects.toThrow();
    expect(await markUnavailableDeleted(knex, ids[0], true)).toBe(true);
    expect((await listUnavailable(knex)).map((u) => u.id)).not.toContain(ids[0]);
  });
});
