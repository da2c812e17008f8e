import { implausibleWords } from "../../words/implausible";
import { CORRUGATED, simulateBench, type BenchPlan } from "../rig/bench";
import { stopsVerdict } from "../judge/doubt/dismissed";
import { standardRules } from "../log/windows";
import { clearSky } from "../sun/clearSky";
import { assembleRun, type LoggedChannel } from "./assemble";
import { causesOf } from "./causes";
import type { Implausible } from "./slip";
import { arrangedSeries, reduceRun, wholeRun } from "./reduce";
import type { RunSetup } from "./setup";

const plan = (days: readonly number[], more: Partial<BenchPlan> = {}): BenchPlan => ({
  seed: 5,
  stepS: 60,
  hours: [7, 19],
  accuracy: { probeK: 0.3, speedShare: 0.03, profileLimit: 0.03, sunShare: 0.03, ambientK: 0.3, stationShare: 0.005 },
  inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
  specimens: ["A", "B"].map((lane) => ({
    lane,
    variant: lane,
    collector: CORRUGATED,
    areaM2: 2,
    massFlowKgPerS: 0.04,
  })),
  runs: [
    {
      run: "1",
      stations: { A: 1, B: 2 },
      days: days.map((dateMs) => ({ dateMs, cloudiness: 0.1, meanAmbientC: 9, meanWind: 1.5 })),
    },
  ],
  ...more,
});
const [run] = simulateBench(plan([5, 6].map((d) => Date.UTC(2026, 8, d, 10))));
const noSun = (c: LoggedChannel) => c.kind !== "irradiance";
const reduced = (setup: RunSetup, channels: LoggedChannel[]) =>
  reduceRun(wholeRun(setup, assembleRun(channels)), { rules: standardRules("air"), basis: "mean" }).implausible;
const changed =
  (kind: LoggedChannel["kind"], f: (v: number, i: number) => number, station?: number) => (c: LoggedChannel) =>
    c.kind === kind && (station === undefined || c.station === station) ? { ...c, values: c.values.map(f) } : c;
const find = <K extends Implausible["kind"]>(list: readonly Implausible[], kind: K) =>
  list.filter((f): f is Extract<Implausible, { kind: K }> => f.kind === kind);
const title = (f: Implausible) => implausibleWords(f, { zone: "Europe/Zurich", system: "metric" }).title;
const doubt = (found: Implausible) =>
  ({ kind: "impossible", run: "1", found, accepted: false, effect: null }) as Parameters<typeof stopsVerdict>[0];

test("right entries are asked about nothing, with a sun sensor and without", () => {
  expect(reduced(run.setup, run.channels)).toEqual([]);
  expect(reduced(run.setup, run.channels.filter(noSun))).toEqual([]);
});

describe("a fan that stops", () => {
  const cycling = (_: number, i: number) => (i % 60 > 40 ? 0 : 3);
  test("on and off by a thermostat is one line with its stops, not a standstill", () => {
    const [found] = find(reduced(run.setup, run.channels.map(changed("speed", cycling, 1))), "noFlowInSun");
    expect(found.cycles).toBeGreaterThan(8);
    expect(title(found)).toBe("A’s fan or pump goes on and off");
  });

  test("for an hour stands, and without a sun sensor its times are told by the other lane's flow", () => {
    const stop = (v: number, i: number) => (i % 720 > 300 && i % 720 <= 360 ? 0 : v);
    for (const channels of [run.channels, run.channels.filter(noSun)]) {
      const [found] = find(reduced(run.setup, channels.map(changed("speed", stop, 1))), "noFlowInSun");
      expect(found.cycles).toBeUndefined();
      expect(found.spells!.length).toBe(2);
      expect((found.spells![0].toMs - found.spells![0].fromMs) / 60_000).toBeGreaterThan(50);
    }
  });
});

describe("without a sun sensor, every lane wrong by the same factor", () => {
  test("a flow in L/s read as m³/h is asked about with its likely cause, and stops nothing", () => {
    const found = find(
      reduced(run.setup, run.channels.filter(noSun).map(changed("speed", (v) => v / 3.6))),
      "besideClearSky",
    );
    expect(found.map((f) => f.lane)).toEqual(["A", "B"]);
    expect(found[0].causes.length).toBeGreaterThan(0);
    expect(title(found[0])).toMatch(/^A gives at most \d+\u2009% of a clear sky’s light$/);
    expect(stopsVerdict(doubt(found[0]))).toBe(false);
  });

  test("more than a clear sky sends cannot be", () => {
    const found = find(
      reduced(run.setup, run.channels.filter(noSun).map(changed("speed", (v) => v * 2.6))),
      "besideClearSky",
    );
    expect(found.length).toBe(2);
    expect(found[0].share).toBeGreaterThan(1);
    expect(stopsVerdict(doubt(found[0]))).toBe(true);
  });
});

test("water that flows below freezing holds something else", () => {
  const water = { kind: "water" } as const;
  const [bench] = simulateBench(plan([Date.UTC(2026, 0, 12, 10)], { fluid: water }));
  const cold = (by: number) =>
    find(
      reduced(
        bench.setup,
        bench.channels.map((c) =>
          c.kind === "inlet" || c.kind === "outlet" ? { ...c, values: c.values.map((v) => v - by) } : c,
        ),
      ),
      "waterFrozen",
    );
  const middle = bench.channels.find((c) => c.kind === "inlet")!.values[100];
  expect(cold(middle - 3)).toEqual([]);
  const [found] = cold(middle + 6);
  expect(found.temperatureC).toBeLessThan(-1.5);
  expect(title(found)).toMatch(/^A’s water flows at/);
  const glycol = {
    ...bench.setup,
    lanes: bench.setup.lanes.map((l) => ({ ...l, fluid: { kind: "glycol" as const, massFraction: 0.35 } })),
  };
  expect(find(reduced(glycol, bench.channels), "waterFrozen")).toEqual([]);
});

test("outside and inlet exchanged are named where a warmed inlet tells them apart", () => {
  const flow = run.setup.lanes[0].flow;
  // In 30 °C read as outside, outside 10 °C read as in, out 45 °C: 0.5 really, 1.17 as read.
  const ends = { inletC: 10, outletC: 45, ambientC: 30 };
  expect(causesOf(1.17, flow, { fluid: "air", outsideC: 30, ends })[0]).toEqual({
    kind: "outsideInlet",
    efficiency: expect.closeTo(0.501, 2),
  });
  expect(
    causesOf(1.17, flow, { fluid: "air", outsideC: 10, ends: { inletC: 30, outletC: 45, ambientC: 10 } }),
  ).not.toContainEqual(expect.objectContaining({ kind: "outsideInlet" }));
});

describe("clocks", () => {
  // Summer time ends in the night to 25 October.
  const days = [23, 24, 25, 26].map((d) => Date.UTC(2026, 9, d, 10));
  const [autumn] = simulateBench(plan(days));
  const change = Date.UTC(2026, 9, 25, 1);
  const fixed = (c: LoggedChannel) => ({ ...c, times: c.times.map((t) => (t > change ? t - 3_600_000 : t)) });

  test("a logger left on summer time is dated by the day clocks changed, with a sun sensor and by the heat alone", () => {
    for (const channels of [autumn.channels, autumn.channels.filter(noSun)]) {
      expect(find(reduced(autumn.setup, channels), "clockNotChanged")).toEqual([]);
      const [found] = find(reduced(autumn.setup, channels.map(fixed)), "clockNotChanged");
      expect(found).toMatchObject({ wrong: "after", by: channels === autumn.channels ? "sun" : "rise" });
      expect(Math.abs(found.lateMinutes + 60)).toBeLessThanOrEqual(25);
      expect(Math.abs(found.changedMs - change)).toBeLessThan(86_400_000);
    }
  });

  test("a second logger 95 s or an hour off is found, with a sun sensor of its own and without", () => {
    const [sun] = run.channels.filter((c) => c.kind === "irradiance");
    for (const off of [95_000, 3_600_000])
      for (const ownSun of [true, false]) {
        const shifted = run.channels.map((c) =>
          c.station === 2 ? { ...c, id: 2000 + c.id, times: c.times.map((t) => t + off) } : { ...c, id: 1000 + c.id },
        );
        const more = ownSun ? [{ ...sun, id: 2999, times: sun.times.map((t) => t + off) }] : [];
        const [found] = find(reduced(run.setup, [...shifted, ...more]), "clocksApart");
        expect(Math.abs(found.slowMs + off)).toBeLessThan(3 * found.standardMs + 5000);
      }
  });
});

test.each([
  ["a dead hygrometer that says 0 %", "humidity", 0],
  ["one that says 100 %", "humidity", 1],
  ["an air lane as cold as a freezer", "inlet", -40],
  ["a probe that reads 140 °C", "outlet", 140],
] as const)("%s never stops the run from being computed", (_, kind, value) => {
  expect(() => reduced(run.setup, run.channels.map(changed(kind, () => value)))).not.toThrow();
});

describe("a horizontal sensor in winter, with snow before the boxes", () => {
  const clear = (ms: number) => clearSky(ms, run.setup.place, 3);
  const [winter] = simulateBench(plan([20, 21].map((d) => Date.UTC(2026, 0, d, 10))));
  const sensor = winter.channels.find((c) => c.kind === "irradiance")!;
  const flat = { ...sensor, values: Float64Array.from(sensor.times, (ms) => clear(ms).global) };
  const setup: RunSetup = { ...winter.setup, sunSensor: { ...winter.setup.sunSensor, mounting: "horizontal" } };
  const light = (of: RunSetup) => {
    const assembled = assembleRun([flat, ...winter.channels.filter((c) => c.kind !== "irradiance")]);
    const { series } = arrangedSeries({ setup: of, fromMs: null, untilMs: null }, assembled);
    return (day: string) => {
      const own = [...series.irradiance!].filter((g, i) => {
        const ms = series.startMs + i * series.stepMs;
        return g > 50 && new Date(ms).toISOString().startsWith(day);
      });
      return own.reduce((s, v) => s + v, 0) / own.length;
    };
  };

  test("dated snow lights the plane on its days and on no other", () => {
    const [grass, snowed] = [light(setup), light({ ...setup, snow: { from: "2026-01-21", until: "2026-01-24" } })];
    expect(snowed("2026-01-20")).toBe(grass("2026-01-20"));
    expect(snowed("2026-01-21")).toBeGreaterThan(1.03 * grass("2026-01-21"));
  });
});
