import { EPW_FIELDS, parseEpw, type EpwFile } from "../site/epw";
import { BENCH_ZONE, TANSY_RIDGE } from "../rig/bench";
import { CLIMATES } from "../site/climates";
import { PLAIN_SITE, type SiteWorld } from "../site/site";
import { sunPosition } from "../sun/position";
import {
  clearnessDays,
  epwProblems,
  epwYear,
  HOURS,
  MONTH_DAYS,
  monthlyYear,
  monthOfHour,
  monthsOf,
  standardOffset,
} from "./weather";

const SITE: SiteWorld = { ...TANSY_RIDGE, zone: BENCH_ZONE, detail: PLAIN_SITE };
const at = (over: Partial<SiteWorld>): SiteWorld => ({ ...SITE, ...over });

describe("days of a month", () => {
  test.each([0.3, 0.4, 0.5, 0.6, 0.7])("of mean clearness %p keep it, from dull to clear", (mean) => {
    const days = clearnessDays(mean, 31);
    expect(days.reduce((s, k) => s + k, 0) / 31).toBeCloseTo(mean, 12);
    days.slice(1).forEach((k, i) => expect(k).toBeGreaterThanOrEqual(days[i]));
    expect(days[0]).toBeGreaterThan(0);
    expect(days[30]).toBeLessThan(0.86);
  });
  // DB figure 2.9.2 (Liu & Jordan's generalised curves): share of days no clearer than K.
  test.each([
    [0.3, 0.2, 0.4],
    [0.5, 0.4, 0.31],
    [0.5, 0.6, 0.64],
    [0.7, 0.68, 0.36],
  ])("with mean %p the share of days below %p is about %p", (mean, limit, share) => {
    const days = clearnessDays(mean, 1000);
    expect(Math.abs(days.filter((k) => k <= limit).length / 1000 - share)).toBeLessThan(0.08);
  });
});

describe("a year of monthly means", () => {
  test.each(CLIMATES.map((c, i) => [c.name, i] as const))("%s keeps each month's light and air", (_, i) => {
    const latitude = [46.3, 53, 48, 34, 68, -38][i];
    const year = monthlyYear(at({ latitude, longitude: 9 }), CLIMATES[i]);
    monthsOf(year).forEach((m, k) => {
      expect(m.meanC).toBeCloseTo(CLIMATES[i].months[k].meanC, 6);
      if (CLIMATES[i].months[k].globalKwhM2 > 0.2)
        expect(m.globalKwhM2 / CLIMATES[i].months[k].globalKwhM2).toBeCloseTo(1, 3);
    });
    expect(year.diffuse.every((d, h) => d <= year.global[h] + 1e-9)).toBe(true);
    expect(year.beamNormal.every((beam) => beam >= 0 && beam < 1130)).toBe(true);
  });
  test("beam and diffuse make the global light, hour by hour", () => {
    const year = monthlyYear(SITE, CLIMATES[0]);
    for (let h = 0; h < HOURS; h += 7) {
      const sine = Math.sin((Math.max(0, sunPosition(year.sunMs[h], SITE).altitude) * Math.PI) / 180);
      expect(year.diffuse[h] + year.beamNormal[h] * sine).toBeCloseTo(year.global[h], 3);
    }
  });
  test("the same seed gives the same days, another seed others; cloudy days come together", () => {
    const [a, b, c] = [1, 1, 2].map((seed) => monthlyYear(SITE, CLIMATES[0], seed));
    expect(a.global).toEqual(b.global);
    expect(a.global).not.toEqual(c.global);
    // Day after day resembles the one before: mean correlation over many seeds.
    let sum = 0;
    for (let seed = 1; seed <= 12; seed++) {
      const year = monthlyYear(SITE, CLIMATES[0], seed);
      const days = Array.from({ length: 31 }, (_, d) =>
        year.global.slice((181 + d) * 24, (182 + d) * 24).reduce((s, x) => s + x, 0),
      );
      const mean = days.reduce((s, x) => s + x, 0) / 31;
      const cov = days.slice(1).reduce((s, x, i) => s + (x - mean) * (days[i] - mean), 0);
      sum += cov / days.reduce((s, x) => s + (x - mean) ** 2, 0);
    }
    expect(sum / 12).toBeGreaterThan(0.08);
    expect(sum / 12).toBeLessThan(0.5);
  });
  test("warmest in the afternoon, coldest before sunrise", () => {
    const year = monthlyYear(SITE, CLIMATES[0]);
    const mean = (hour: number) => {
      let s = 0;
      for (let d = 0; d < 365; d++) s += year.ambientC[d * 24 + hour];
      return s / 365;
    };
    expect(mean(15)).toBeGreaterThan(mean(5) + 3);
  });
  test("polar night is dark and polar day has light at midnight", () => {
    const year = monthlyYear(at({ latitude: 72, longitude: 20, zone: "Europe/Oslo" }), CLIMATES[4]);
    expect(Math.max(...year.global.slice(0, 10 * 24))).toBe(0);
    const midsummer = year.global.slice(171 * 24, 172 * 24);
    expect(Math.min(...midsummer)).toBeGreaterThan(0);
  });
  test("months of hours add to a year; standard time knows no summer", () => {
    expect(monthOfHour).toHaveLength(HOURS);
    expect(MONTH_DAYS.reduce((a, b) => a + b, 0)).toBe(365);
    expect(standardOffset("Europe/Zurich")).toBe(3600000);
    expect(standardOffset("Australia/Sydney")).toBe(10 * 3600000);
  });
});

/** A file of a generated year, as its format is. */
function asEpw(site: SiteWorld): EpwFile {
  const year = monthlyYear(site, CLIMATES[0]);
  const rows: string[] = [];
  let [month, day, left] = [1, 1, MONTH_DAYS[0]];
  for (let h = 0; h < HOURS; h++) {
    const value: Partial<Record<(typeof EPW_FIELDS)[number][0], number>> = {
      dryBulbC: year.ambientC[h],
      globalHorizontal: year.global[h],
      directNormal: year.beamNormal[h],
      diffuseHorizontal: year.diffuse[h],
      windSpeed: 2,
      relativeHumidity: 70,
    };
    rows.push(
      [
        2026,
        month,
        day,
        (h % 24) + 1,
        60,
        "?",
        ...EPW_FIELDS.map(([key, missing]) =>
          key in value ? value[key]!.toFixed(1) : Number.isNaN(missing) ? "0" : missing,
        ),
      ].join(","),
    );
    if (h % 24 === 23 && --left === 0) {
      month++;
      day = 0;
      left = MONTH_DAYS[month - 1] ?? 0;
    }
    if (h % 24 === 23) day++;
  }
  const text = [
    `LOCATION,Invented,-,-,made,000000,${site.latitude},${site.longitude},1.0,${site.altitudeM}`,
    "DESIGN CONDITIONS,0",
    "TYPICAL/EXTREME PERIODS,0",
    "GROUND TEMPERATURES,0",
    "HOLIDAYS/DAYLIGHT SAVINGS,No,0,0,0",
    "COMMENTS 1,",
    "COMMENTS 2,",
    "DATA PERIODS,1,1,Data,Thursday,1/1,12/31",
    ...rows,
  ].join("\r\n");
  const read = parseEpw(text);
  if (!read.ok) throw new Error(JSON.stringify(read.problem));
  return read.file;
}

describe("a year of hours", () => {
  const file = asEpw(SITE);
  test("read back from a file it is the year that was written", () => {
    const [made, read] = [monthlyYear(SITE, CLIMATES[0]), epwYear(file, SITE)];
    for (let h = 0; h < HOURS; h += 11) {
      expect(read.global[h]).toBeCloseTo(made.global[h], 0);
      expect(read.ambientC[h]).toBeCloseTo(made.ambientC[h], 0);
      expect(Math.abs(read.beamNormal[h] - made.beamNormal[h])).toBeLessThan(12);
    }
    expect(read.humidity[0]).toBeCloseTo(0.7, 6);
    expect(epwProblems(file, SITE)).toEqual([]);
  });
  describe("direct light that the file states", () => {
    const noon = 171 * 24 + 12;
    const whole = epwYear(file, SITE);
    const read = (change: Partial<EpwFile["series"]>) =>
      epwYear({ ...file, series: { ...file.series, ...change } }, SITE);
    const moved = (key: "directNormal" | "diffuseHorizontal", by: (v: number) => number) => ({
      [key]: file.series[key].map(by),
    });
    test("is taken where it agrees with global less diffuse, also under a low sun", () => {
      const year = read(moved("directNormal", (v) => v * 1.04));
      expect(year.beamNormal[noon]).toBeCloseTo(1.04 * file.series.directNormal[noon], 6);
      expect(year.diffuse[noon]).toBe(whole.diffuse[noon]);
      expect(year.global[noon]).toBe(whole.global[noon]);
    });
    test("is left where it contradicts them", () => {
      const year = read(moved("directNormal", (v) => v * 0.3));
      expect(file.series.directNormal[noon]).toBeGreaterThan(300);
      expect(year.beamNormal[noon]).toBeGreaterThan(0.9 * file.series.directNormal[noon]);
    });
    test("tells the diffuse light where the file has none", () => {
      const year = read(moved("diffuseHorizontal", () => NaN));
      for (let h = noon - 4; h <= noon + 4; h++)
        expect(Math.abs(year.diffuse[h] - whole.diffuse[h])).toBeLessThan(0.02 * whole.global[h] + 2);
    });
  });
  test("of another hemisphere it is refused, of far away it is said", () => {
    expect(epwProblems(file, at({ latitude: -38 }))).toEqual([{ kind: "hemisphere", file: SITE.latitude, site: -38 }]);
    expect(epwProblems(file, at({ latitude: 49 }))).toEqual([expect.objectContaining({ kind: "far" })]);
  });
  test("with many hours missing it is no year", () => {
    const series = {
      ...file.series,
      globalHorizontal: file.series.globalHorizontal.map((v, i) => (i < 500 ? NaN : v)),
    };
    expect(epwProblems({ ...file, series }, SITE)).toEqual([
      { kind: "missing", field: "globalHorizontal", hours: 500 },
    ]);
    expect(epwProblems({ ...file, flags: file.flags.slice(0, 4000) }, SITE)).toContainEqual({
      kind: "records",
      found: 4000,
    });
  });
});
