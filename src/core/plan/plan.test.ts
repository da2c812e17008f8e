import { mirrorsOf } from "../mirror/mirror";
import fc from "fast-check";
import { coverageFactor } from "../uncertainty/coverage";
import { standardRules, testTimes } from "../log/windows";
import { seededRandom } from "../random/seededRandom";
import { beamShare, type Surroundings } from "../site/shade";
import { PLAIN_SITE, type SiteWorld } from "../site/site";
import { benchBlockers, benchProblems, benchStations, type BenchBox, type BenchLayout } from "./bench";
import { calendarDays, chanceOfClearDays } from "./chances";
import { datedPlan, dayEntries, without, type PlanInput } from "./dayPlan";
import { daySky, skySpans, type DayNeeds } from "./daySky";
import { daysNeeded, differenceUncertainty, powerOf, resolvable, type TestSize } from "./power";
import { placeVariance, statedPrecision, TYPICAL_BENCH, type Precision } from "./precision";
import { methodOf, METHOD_NAMES } from "../method/list";
import { balanceOf, evenPeriods, swapSchedule, williamsRows } from "./schedule";
import { conditionalPower, informationShare, levelSpent, sequentialBounds } from "../uncertainty/sequential";

const OPEN: Surroundings = { horizon: [], blockers: [] };

const HOUR = 3600000;
const TANSY: SiteWorld = {
  latitude: 46.31,
  longitude: 9.05,
  altitudeM: 1120,
  zone: "Europe/Zurich",
  detail: PLAIN_SITE,
};
const BOX: BenchBox = { widthM: 1, lengthM: 2, depthM: 0.12, mirrors: [] };
const LAYOUT: BenchLayout = { plane: { tilt: 55, azimuth: 180 }, rows: 1, gapM: 0.3, rowPitchM: 3, bottomM: 0.5 };

describe("order of swaps", () => {
  test.each([2, 3, 4, 5, 6, 7, 8])(
    "%i specimens: each row holds each once; after a whole turn places and followers are even",
    (k) => {
      const rows = williamsRows(k, evenPeriods(k));
      for (const row of rows) expect([...row].sort((a, b) => a - b)).toEqual(Array.from({ length: k }, (_, i) => i));
      for (let square = 0; square + k <= rows.length; square += k)
        for (let column = 0; column < k; column++)
          expect(new Set(rows.slice(square, square + k).map((r) => r[column])).size).toBe(k);
      const { balance } = swapSchedule(k, evenPeriods(k), 11);
      expect(balance).toMatchObject({ placesEven: true, carryOverEven: true, stationShareLeft: 0 });
    },
  );
  test("3 specimens over 6 days: twice at every station, each after each other twice", () => {
    const { balance } = swapSchedule(3, 6, 1);
    expect(balance.places).toEqual([
      [2, 2, 2],
      [2, 2, 2],
      [2, 2, 2],
    ]);
    expect(balance.after).toEqual([
      [0, 2, 2],
      [2, 0, 2],
      [2, 2, 0],
    ]);
  });
  test("the seed decides the order, the same one always; balance does not depend on it", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 8 }),
        fc.integer({ min: 1, max: 20 }),
        fc.integer({ min: 1, max: 1e6 }),
        (k, periods, seed) => {
          const a = swapSchedule(k, periods, seed);
          const b = swapSchedule(k, periods, seed);
          const other = swapSchedule(k, periods, seed + 1);
          return (
            JSON.stringify(a) === JSON.stringify(b) &&
            Math.abs(a.balance.stationShareLeft - other.balance.stationShareLeft) < 1e-9 &&
            a.balance.stationShareLeft <= 1 &&
            a.order.every((r) => new Set(r).size === k)
          );
        },
      ),
    );
    expect(swapSchedule(4, 4, 1).order).not.toEqual(swapSchedule(4, 4, 2).order);
  });
  test("one day leaves all of the stations' effects; an order never swapped too", () => {
    expect(swapSchedule(3, 1, 5).balance.stationShareLeft).toBe(1);
    expect(
      balanceOf(
        [
          [0, 1],
          [0, 1],
          [0, 1],
        ],
        2,
      ),
    ).toMatchObject({ placesEven: false, stationShareLeft: 1 });
  });
  test("one specimen, or no days, is refused", () => {
    expect(() => swapSchedule(1, 3, 1)).toThrow("two specimens");
    expect(() => swapSchedule(2, 0, 1)).toThrow("one period");
  });
});

describe("power", () => {
  const scatterOnly: Precision = {
    place: { probe: 0, meter: 0, profile: 0, station: 0 },
    fixed: 0,
    window: 10,
    day: 0,
    repeatability: 0,
  };
  const size = (over: Partial<TestSize> = {}): TestSize => ({
    days: 2,
    windows: 10,
    stationShareLeft: 0,
    arrangements: 1,
    comparisons: 1,
    ...over,
  });
  test("without a difference it is the test's own 5 %", () => {
    expect(powerOf(0, scatterOnly, size())).toBeCloseTo(0.05, 2);
    expect(powerOf(0, { ...scatterOnly, fixed: 5 }, size())).toBeCloseTo(0.05, 2);
  });
  test("agrees with the noncentral t of textbooks: n = 10 differences, effect of one standard deviation gives 0.80 (Cohen 1988)", () => {
    expect(powerOf(10, scatterOnly, size({ days: 1 }))).toBeCloseTo(0.803, 2);
  });
  test("agrees with drawn t tests, scatter and fixed part together", () => {
    const p: Precision = { ...scatterOnly, fixed: 3 };
    const random = seededRandom(5);
    for (const n of [4, 12]) {
      const s = size({ windows: n, days: 1 });
      const truth = resolvable(0.8, p, s);
      let told = 0;
      const trials = 4000;
      for (let i = 0; i < trials; i++) {
        const bias = 3 * random.normal();
        const draws = Array.from({ length: n }, () => truth + bias + 10 * random.normal());
        const mean = draws.reduce((a, b) => a + b, 0) / n;
        const variance = draws.reduce((a, b) => a + (b - mean) ** 2, 0) / (n - 1) / n;
        const u = Math.sqrt(9 + variance);
        if (Math.abs(mean) > coverageFactor(u ** 4 / (variance ** 2 / (n - 1))) * u) told++;
      }
      expect(Math.abs(told / trials - 0.8)).toBeLessThan(0.025);
    }
  });
  test("rises with the difference and with windows, falls with comparisons; resolvable undoes it", () => {
    const p = statedPrecision(TYPICAL_BENCH);
    fc.assert(
      fc.property(fc.double({ min: 1, max: 60, noNaN: true }), fc.integer({ min: 4, max: 60 }), (d, windows) => {
        const s = size({ windows });
        const one = powerOf(d, p, s);
        return (
          powerOf(d * 1.2, p, s) >= one - 1e-9 &&
          powerOf(d, { ...p, day: 0 }, size({ windows: windows * 2, days: 4 })) >=
            powerOf(d, { ...p, day: 0 }, s) - 1e-3 &&
          powerOf(d, p, size({ windows, comparisons: 3 })) <= one + 1e-9
        );
      }),
      { numRuns: 40 },
    );
    expect(powerOf(resolvable(0.8, p, size()), p, size())).toBeCloseTo(0.8, 3);
    expect(resolvable(0.95, p, size())).toBeGreaterThan(resolvable(0.8, p, size()));
    expect(() => resolvable(1, p, size())).toThrow(RangeError);
  });
  test("swaps take away what belongs to places; days needed fall, and a hopeless bench says null", () => {
    const p = statedPrecision(TYPICAL_BENCH);
    const swapped = (days: number) =>
      size({ days, windows: 6 * days, stationShareLeft: days % 2 ? 1 / days ** 2 : 0, arrangements: days > 1 ? 2 : 1 });
    const fixed = (days: number) => size({ days, windows: 6 * days, stationShareLeft: 1 });
    expect(daysNeeded(15, 0.8, p, fixed)).toBeNull();
    expect(daysNeeded(15, 0.8, p, swapped)).toBeLessThanOrEqual(6);
    expect(differenceUncertainty(p, fixed(2)).fixed).toBeCloseTo(Math.sqrt(placeVariance(p)), 9);
  });
});

describe("looking again and again", () => {
  test("bounds of published tables: 2, 3 and 5 equal looks at 5 % (DeMets & Lan 1994)", () => {
    const published = [
      [2.963, 1.969],
      [3.71, 2.511, 1.993],
      [4.877, 3.357, 2.68, 2.29, 2.031],
    ];
    for (const row of published)
      sequentialBounds(row.map((_, i) => (i + 1) / row.length)).forEach((b, i) => expect(b).toBeCloseTo(row[i], 2));
  });
  test("one look is the ordinary test; all the level is spent at the end", () => {
    expect(sequentialBounds([1])[0]).toBeCloseTo(1.96, 3);
    expect(levelSpent(1)).toBeCloseTo(0.05, 9);
    expect(levelSpent(0)).toBe(0);
    expect(() => sequentialBounds([0.5, 0.4])).toThrow(RangeError);
  });
  test("drawn experiments without a difference stop falsely in about 5 of 100 with the bounds, and far more without", () => {
    const random = seededRandom(3);
    const shares = [0.25, 0.5, 0.75, 1];
    const bounds = sequentialBounds(shares);
    let kept = 0,
      naive = 0;
    const trials = 6000;
    for (let i = 0; i < trials; i++) {
      let s = 0;
      const z = shares.map((t) => (s += 0.5 * random.normal()) / Math.sqrt(t));
      if (z.some((v, k) => Math.abs(v) > bounds[k])) kept++;
      if (z.some((v) => Math.abs(v) > 1.96)) naive++;
    }
    expect(kept / trials).toBeLessThan(0.06);
    expect(kept / trials).toBeGreaterThan(0.04);
    expect(naive / trials).toBeGreaterThan(0.1);
  });
  test("conditional power: certain when it is past the bound at the end, the level when there is nothing", () => {
    expect(conditionalPower(3, 1, 0, 1.96)).toBe(1);
    expect(conditionalPower(0, 0.0001, 0, 1.96)).toBeCloseTo(0.05, 2);
    expect(conditionalPower(2, 0.5, 4, 1.96)).toBeGreaterThan(conditionalPower(2, 0.5, 1, 1.96));
  });
});

describe("clear days", () => {
  test("information: the share of the planned variance that is gone, never more than all", () => {
    expect(informationShare(12, 3)).toBeCloseTo(1 / 16, 12);
    expect(informationShare(3, 12)).toBe(1);
  });
  test("binomial: 2 of 3 at one half is 1/2; none wanted is certain; more than there are is never", () => {
    expect(chanceOfClearDays(2, 3, 0.5)).toBeCloseTo(0.5, 12);
    expect(chanceOfClearDays(0, 5, 0.1)).toBe(1);
    expect(chanceOfClearDays(6, 5, 0.9)).toBe(0);
    expect(chanceOfClearDays(1, 3, 0.2)).toBeCloseTo(1 - 0.8 ** 3, 12);
  });
  test("days on the calendar grow as clear days thin out", () => {
    expect(calendarDays(4, 1, 0.8)).toBe(4);
    expect(calendarDays(4, 0.5, 0.8)!).toBeGreaterThan(8);
    expect(calendarDays(4, 0, 0.8)).toBeNull();
  });
});

describe("bench", () => {
  const stations = (boxes: BenchBox[], over: Partial<BenchLayout> = {}) => benchStations({ ...LAYOUT, ...over }, boxes);
  const share = (all: ReturnType<typeof stations>, n: number, altitude: number, azimuth: number) =>
    beamShare({ altitude, azimuth }, all[n].receiver, { ...OPEN, blockers: benchBlockers(all, all[n]) });
  test("equal boxes in a row do not shade each other; station 1 is at the left as one faces the glass", () => {
    const all = stations([BOX, BOX, BOX]);
    for (const az of [100, 140, 180, 250]) for (let n = 0; n < 3; n++) expect(share(all, n, 20, az)).toBe(1);
    expect(all[0].receiver.centre[0]).toBeLessThan(all[2].receiver.centre[0]);
    expect(all[1].receiver.centre[0]).toBeCloseTo(0, 9);
  });
  test("a deep box shades its neighbour when the sun comes from its side, and only then", () => {
    const all = stations([{ ...BOX, depthM: 0.6 }, BOX], { gapM: 0.05 });
    expect(share(all, 1, 20, 110)).toBe(1);
    expect(share(all, 1, 20, 250)).toBeLessThan(0.7);
    expect(share(all, 0, 20, 110)).toBe(1);
    expect(share(all, 0, 20, 250)).toBe(1);
  });
  test("a row behind is shaded by the row in front when the sun is low, less the farther it stands", () => {
    const near = stations([BOX, BOX], { rows: 2, rowPitchM: 1.6 });
    const far = stations([BOX, BOX], { rows: 2, rowPitchM: 8 });
    expect(share(near, 1, 18, 180)).toBeLessThan(0.7);
    expect(share(near, 0, 18, 180)).toBe(1);
    expect(share(far, 1, 18, 180)).toBe(1);
    expect(share(near, 1, 82, 180)).toBe(1);
  });
  test("an upper mirror shades its own box from a high sun, and a lower one does not", () => {
    const upper = stations([{ ...BOX, mirrors: mirrorsOf({ material: "", side: "top", lengthM: 1, angle: 90 }) }, BOX]);
    const lower = stations([
      { ...BOX, mirrors: mirrorsOf({ material: "", side: "bottom", lengthM: 1, angle: 120 }) },
      BOX,
    ]);
    expect(share(upper, 0, 67, 180)).toBeLessThan(0.9);
    expect(share(upper, 0, 25, 180)).toBe(1);
    expect(share(lower, 0, 60, 180)).toBe(1);
  });
  test("benches turn with their azimuth: facing north in the south works the same", () => {
    const south = benchStations({ ...LAYOUT, plane: { tilt: 40, azimuth: 0 }, rows: 2, rowPitchM: 1.8 }, [BOX, BOX]);
    const north = benchStations({ ...LAYOUT, plane: { tilt: 40, azimuth: 180 }, rows: 2, rowPitchM: 1.8 }, [BOX, BOX]);
    expect(share(south, 1, 15, 0)).toBeCloseTo(share(north, 1, 15, 180), 9);
  });
  test("what cannot be built is named", () => {
    expect(benchProblems(LAYOUT, [BOX])).toEqual([{ kind: "fewStations" }]);
    expect(benchProblems({ ...LAYOUT, rows: 2, rowPitchM: 0.5 }, [BOX, BOX])).toMatchObject([{ kind: "rowsOverlap" }]);
    expect(benchProblems({ ...LAYOUT, gapM: -1 }, [BOX, BOX])).toEqual([{ kind: "size", what: "gap" }]);
    expect(benchProblems({ ...LAYOUT, rows: 3 }, [BOX, BOX])).toMatchObject([{ kind: "rows" }]);
    expect(benchProblems(LAYOUT, [BOX, BOX])).toEqual([]);
  });
});

describe("a day", () => {
  const stations = benchStations(LAYOUT, [BOX, BOX, BOX]);
  const needs = (over: Partial<DayNeeds> = {}): DayNeeds => ({
    protocol: "steady",
    rules: standardRules("air"),
    b0: 0.1,
    ...over,
  });
  const day = (date: number, site = TANSY, over: Partial<DayNeeds> = {}) => daySky(date, site, stations, needs(over));
  const OCTOBER = Date.UTC(2026, 9, 6, 12);
  test("in October the box facing south can be tested about noon, symmetric to it", () => {
    const d = day(OCTOBER);
    expect(d.spans).toHaveLength(1);
    const [span] = d.spans;
    expect((span.toMs - span.fromMs) / HOUR).toBeGreaterThan(3.5);
    expect(Math.abs((span.fromMs + span.toMs) / 2 - d.sun.noonMs)).toBeLessThan(15 * 60000);
    for (const s of d.samples.filter((q) => q.ms >= span.fromMs && q.ms <= span.toMs)) {
      expect(s.irradiance).toBeGreaterThanOrEqual(700);
      expect(s.incidence).toBeLessThan(34);
    }
  });
  test("a ridge in the south-east kills the morning and is named", () => {
    const ridge: SiteWorld = {
      ...TANSY,
      detail: {
        ...PLAIN_SITE,
        horizon: [
          { azimuth: 55, altitude: 2 },
          { azimuth: 60, altitude: 50 },
          { azimuth: 175, altitude: 50 },
          { azimuth: 180, altitude: 2 },
        ],
      },
    };
    const d = day(OCTOBER, ridge);
    expect(d.spans[0].fromMs).toBeGreaterThan(day(OCTOBER).spans[0].fromMs + HOUR);
    expect(Math.abs(d.spans[0].toMs - day(OCTOBER).spans[0].toMs)).toBeLessThan(HOUR / 2);
    expect(d.shade[0]).toMatchObject({ owner: "skyline" });
    expect(
      day(OCTOBER, {
        ...ridge,
        detail: {
          ...ridge.detail,
          horizon: [
            { azimuth: 0, altitude: 80 },
            { azimuth: 180, altitude: 80 },
          ],
        },
      }),
    ).toMatchObject({ spans: [], none: "shade" });
  });
  test("polar night, a low sun and a plane that looks away give their reason", () => {
    const far: SiteWorld = { ...TANSY, latitude: 69.5, longitude: 18.9, zone: "Europe/Oslo" };
    expect(day(Date.UTC(2026, 11, 21, 12), far)).toMatchObject({ spans: [], none: "polarNight" });
    expect(day(Date.UTC(2026, 10, 12, 12), far)).toMatchObject({ none: "lowSun" });
    expect(
      daySky(
        Date.UTC(2026, 5, 21, 12),
        TANSY,
        benchStations({ ...LAYOUT, plane: { tilt: 90, azimuth: 0 } }, [BOX, BOX]),
        needs(),
      ).spans,
    ).toEqual([]);
    expect(day(Date.UTC(2026, 5, 21, 12), far, { protocol: "allDay" }).spans.length).toBeGreaterThan(0);
  });
  test("a method that wants the dark is given the night before sunrise and after sunset, and none where it never gets dark", () => {
    const d = day(OCTOBER);
    const dark = skySpans("dark", d, needs());
    expect(dark).toHaveLength(2);
    const [early, late] = dark;
    expect(early.fromMs).toBe(d.sun.startMs);
    expect(early.toMs).toBeLessThan(d.sun.riseMs! - 20 * 60000);
    expect(late.fromMs).toBeGreaterThan(d.sun.setMs! + 20 * 60000);
    expect(late.toMs).toBeGreaterThan(d.sun.endMs - 10 * 60000);
    const far: SiteWorld = { ...TANSY, latitude: 69.5, longitude: 18.9, zone: "Europe/Oslo" };
    expect(skySpans("dark", day(Date.UTC(2026, 5, 21, 12), far), needs())).toEqual([]);
  });
  test("every protocol finds its hours on a clear day, in order, none overlapping, measuring inside its sun", () => {
    const times = { ...testTimes(standardRules("air"), 220), swapS: 1800, checkS: 900 };
    for (const protocol of METHOD_NAMES) {
      const d = day(OCTOBER, TANSY, { protocol });
      const entries = dayEntries(d.date, d.spans, {
        protocol,
        times,
        levelsK: [0, 15, 30],
        swapBefore: true,
        swapAtNoon: false,
      });
      expect(entries.length).toBeGreaterThan(0);
      for (const [i, e] of entries.entries()) {
        expect(e.toMs).toBeGreaterThan(e.fromMs);
        if (i > 0) expect(e.fromMs).toBeGreaterThanOrEqual(entries[i - 1].toMs - 60000);
        if (e.kind === "measure" && e.state !== "cooling" && methodOf(protocol).sky !== "daylight")
          expect(d.spans.some((s) => s.fromMs <= e.fromMs && s.toMs >= e.toMs - 60000)).toBe(true);
      }
      expect(new Set(entries.map((e) => e.id)).size).toBe(entries.length);
    }
  });
  test("settling and averaging follow the slowest lane once it is slow", () => {
    expect(testTimes(standardRules("air"), 60)).toEqual({ settleS: 900, averageS: 600 });
    expect(testTimes(standardRules("air"), 600)).toEqual({ settleS: 2400, averageS: 2400 });
  });
  test("each level is settled and filled with whole windows; a short span drops levels rather than windows", () => {
    const times = { settleS: 900, averageS: 600, swapS: 1800, checkS: 900 };
    const start = Date.UTC(2026, 9, 6, 9);
    const long = dayEntries("2026-10-06", [{ fromMs: start, toMs: start + 4 * HOUR }], {
      protocol: "steady",
      times,
      levelsK: [0, 15],
      swapBefore: false,
      swapAtNoon: false,
    });
    expect(long.map((e) => e.kind)).toEqual(["check", "settle", "measure", "settle", "measure", "close"]);
    expect(long.filter((e) => e.kind === "measure").map((e) => e.windows)).toEqual([10, 10]);
    const short = dayEntries("2026-10-06", [{ fromMs: start, toMs: start + 0.6 * HOUR }], {
      protocol: "steady",
      times,
      levelsK: [0, 15, 30],
      swapBefore: false,
      swapAtNoon: false,
    });
    expect(short.filter((e) => e.kind === "measure")).toMatchObject([{ levelK: 0, windows: 2 }]);
    const noon = dayEntries("2026-10-06", [{ fromMs: start, toMs: start + 5 * HOUR }], {
      protocol: "steady",
      times,
      levelsK: [0],
      swapBefore: false,
      swapAtNoon: true,
    });
    expect(noon.map((e) => e.kind)).toEqual(["check", "settle", "measure", "swap", "settle", "measure", "close"]);
  });
  test("taken time is cut out of spans, whole or in part", () => {
    const span = [{ fromMs: 0, toMs: 100 }];
    expect(without(span, [{ fromMs: 40, toMs: 60 }])).toEqual([
      { fromMs: 0, toMs: 40 },
      { fromMs: 60, toMs: 100 },
    ]);
    expect(without(span, [{ fromMs: -5, toMs: 30 }])).toEqual([{ fromMs: 30, toMs: 100 }]);
    expect(without(span, [{ fromMs: -5, toMs: 300 }])).toEqual([]);
    expect(without(span, [{ fromMs: 200, toMs: 300 }])).toEqual(span);
  });
});

describe("the dated plan", () => {
  const stations = benchStations(LAYOUT, [BOX, BOX, BOX]);
  const input = (over: Partial<PlanInput> = {}): PlanInput => ({
    site: TANSY,
    stations,
    needs: { protocol: "steady", rules: standardRules("air"), b0: 0.1 },
    times: { settleS: 900, averageS: 600, swapS: 1800, checkS: 900 },
    levelsK: [0, 15],
    startMs: Date.UTC(2026, 9, 5, 12),
    days: 6,
    order: swapSchedule(3, 6, 4).order,
    swapAtNoon: false,
    unavailable: [],
    skipped: [],
    moved: {},
    ...over,
  });
  test("six days in a row, each with its arrangement; lanes are swapped where the arrangement changes", () => {
    const { days, passed } = datedPlan(input());
    expect(days.map((d) => d.date)).toEqual([
      "2026-10-05",
      "2026-10-06",
      "2026-10-07",
      "2026-10-08",
      "2026-10-09",
      "2026-10-10",
    ]);
    expect(passed).toEqual([]);
    expect(days[0].entries.some((e) => e.kind === "swap")).toBe(false);
    days
      .slice(1)
      .forEach((d, i) =>
        expect(d.entries.some((e) => e.kind === "swap")).toBe(
          JSON.stringify(d.order) !== JSON.stringify(days[i].order),
        ),
      );
    for (const d of days) expect(d.conflicts).toEqual([]);
  });
  test("days away, days left out and half days are respected, weekly ones at the site's clock on both sides of its change", () => {
    const weekly = { id: 1, kind: "weekly" as const, weekday: 7, fromMinute: 0, toMinute: 1440, reason: "market" };
    const { days, passed } = datedPlan(
      input({ startMs: Date.UTC(2026, 9, 23, 12), days: 4, unavailable: [weekly], skipped: ["2026-10-24"] }),
    );
    expect(passed).toEqual([
      { date: "2026-10-24", reason: "skipped" },
      { date: "2026-10-25", reason: "unavailable" },
    ]);
    expect(days.map((d) => d.date)).toEqual(["2026-10-23", "2026-10-26", "2026-10-27", "2026-10-28"]);
    const noon = {
      id: 2,
      kind: "once" as const,
      fromMs: Date.UTC(2026, 9, 5, 9),
      toMs: Date.UTC(2026, 9, 5, 11),
      reason: "dentist",
    };
    const half = datedPlan(input({ days: 1, unavailable: [noon] })).days[0];
    expect(half.windows).toBeLessThan(datedPlan(input({ days: 1 })).days[0].windows);
    expect(
      half.entries.filter((e) => e.kind === "measure").every((e) => e.toMs <= noon.fromMs || e.fromMs >= noon.toMs),
    ).toBe(true);
  });
  test("an entry moved by hand keeps its move and shows what it runs into", () => {
    const plain = datedPlan(input({ days: 1 })).days[0];
    const measure = plain.entries.find((e) => e.kind === "measure")!;
    const moved = datedPlan(input({ days: 1, moved: { [measure.id]: 300 } })).days[0];
    const found = moved.entries.find((e) => e.id === measure.id)!;
    expect(found.fromMs - measure.fromMs).toBe(300 * 60000);
    expect(moved.conflicts.map((c) => c.with)).toEqual(expect.arrayContaining(["shade"]));
    expect(found.sky!.irradiance).toBeLessThan(measure.sky!.irradiance);
  });
  test("an entry moved into a time one is away, or into another, is a conflict with its reason", () => {
    const evening = {
      id: 3,
      kind: "once" as const,
      fromMs: Date.UTC(2026, 9, 5, 14),
      toMs: Date.UTC(2026, 9, 5, 16),
      reason: "choir",
    };
    const plain = datedPlan(input({ days: 1, unavailable: [evening] })).days[0];
    expect(plain.conflicts).toEqual([]);
    const last = plain.entries.filter((e) => e.kind === "measure").at(-1)!;
    const into = Math.ceil((evening.fromMs - last.toMs) / 60000) + 5;
    expect(
      datedPlan(input({ days: 1, unavailable: [evening], moved: { [last.id]: into } })).days[0].conflicts,
    ).toContainEqual({ entry: last.id, with: "unavailable", reason: "choir" });
    expect(datedPlan(input({ days: 1, moved: { [last.id]: -10 } })).days[0].conflicts).toContainEqual({
      entry: last.id,
      with: "entry",
      reason: "settle",
    });
  });
  test("days that have begun are passed over, unless the plan says when it begins", () => {
    const late = Date.UTC(2026, 9, 5, 12);
    expect(datedPlan(input({ days: 1, notBeforeMs: late }))).toMatchObject({
      days: [{ date: "2026-10-06" }],
      passed: [{ date: "2026-10-05", reason: "past" }],
    });
    expect(datedPlan(input({ days: 1 })).days[0].date).toBe("2026-10-05");
  });
  test("a site whose sun is gone gives no day and says why for each", () => {
    const { days, passed } = datedPlan(
      input({ site: { ...TANSY, latitude: 69.5 }, startMs: Date.UTC(2026, 10, 25, 12), days: 2 }),
    );
    expect(days[0]?.date ?? "2027").toMatch(/^2027/);
    expect(passed[0].reason).toMatch(/lowSun|polarNight/);
  });
});
