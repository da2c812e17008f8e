import { airSpecificHeat, warmedHumidity } from "../fluids/moistAir";
import { standardUncertainty } from "../uncertainty/uncertain";
import { bench, day } from "../../../scripts/testing/threeLanes";
import { simulateBench } from "../rig/bench";
import { assembleRun, seriesFor } from "./assemble";
import { dailyLine } from "./dailyLine";
import { heatRecord, joinHeat } from "./heatRecord";
import type { RunSeries, RunSetup } from "./setup";

const HOUR = 3600000;
const NOON = Date.UTC(2026, 9, 6, 10, 40);
const [made] = simulateBench(bench(5, { runs: [{ run: "1", days: [day(6)], stations: { A: 1, B: 2, C: 3 } }] }));
const setup: RunSetup = { ...made.setup, lanes: made.setup.lanes.slice(0, 2) };

/** Two lanes of a steady day, minute by minute; `over` changes a lane's reading. */
function steady(
  over: (lane: string, minute: number) => { rise?: number; flow?: number; inlet?: number } = () => ({}),
  minutes = 480,
): RunSeries {
  const startMs = NOON - (minutes / 2) * 60000;
  const fill = (f: (i: number) => number) => Float64Array.from({ length: minutes }, (_, i) => f(i));
  return {
    startMs,
    stepMs: 60000,
    irradiance: fill(() => 800),
    ambient: fill(() => 10),
    wind: null,
    humidity: fill(() => 0.5),
    pressure: null,
    lanes: new Map(
      ["A", "B"].map((lane) => [
        lane,
        {
          inlet: fill((i) => over(lane, i).inlet ?? 12),
          outlet: fill((i) => (over(lane, i).inlet ?? 12) + (over(lane, i).rise ?? 24)),
          flow: fill((i) => over(lane, i).flow ?? 3),
          fanPower: null,
        },
      ]),
    ),
  };
}

describe("heat by the hour and by the day", () => {
  test("a steady hour gives ṁ·cp·(Tout − Tin) with cp at the mean temperature", () => {
    const { hours } = heatRecord(setup, steady());
    for (const h of hours) {
      const cp = airSpecificHeat({
        temperatureC: 24,
        pressurePa: setup.pressurePa,
        relativeHumidity: warmedHumidity(0.5, 10, 24),
      });
      expect(h.heat.value).toBeCloseTo(h.massFlow.value * cp * 24, 6);
      expect(h.rise.value).toBeCloseTo(24, 9);
    }
    expect(new Set(hours.map((h) => h.window)).size).toBeGreaterThanOrEqual(7);
  });
  test("a day's energy is the sum of its minutes, in daylight only", () => {
    const day8 = heatRecord(setup, steady()).days[0];
    const [hour] = heatRecord(setup, steady()).hours;
    expect(day8.hours).toBeCloseTo(8, 6);
    expect(day8.energy.value).toBeCloseTo(hour.heat.value * 8 * 3600, 0);
    expect(day8.irradiation!.value).toBeCloseTo(800 * 8 * 3600, 0);
    // Two days and nights of the same: only the hours between sunrise and sunset count.
    const long = heatRecord(
      setup,
      steady(() => ({}), 2880),
    ).days.filter((d) => d.lane === "A");
    for (const d of long.slice(1, -1)) {
      expect(d.hours).toBeGreaterThan(10.5);
      expect(d.hours).toBeLessThan(12.5);
    }
  });
  test("flow that follows the sun is counted with the rise it had, not mean by mean", () => {
    const swinging = (_: string, i: number) => (i % 2 ? { flow: 1, rise: 10 } : { flow: 5, rise: 30 });
    const [h] = heatRecord(setup, steady(swinging)).hours;
    const product = h.massFlow.value * h.specificHeat.value * h.rise.value;
    expect(h.heat.value / product).toBeGreaterThan(1.25);
  });
  test("all stated errors are in it: a probe's is its ṁ·cp, a meter's its share of the heat", () => {
    const [h] = heatRecord(setup, steady()).hours;
    const part = (start: string) =>
      Math.hypot(...[...h.heat.parts].filter(([k]) => k.startsWith(start)).map(([, p]) => p.standard));
    const capacity = h.massFlow.value * h.specificHeat.value;
    expect(part("probe")).toBeCloseTo(capacity * Math.hypot(0.2 / Math.sqrt(3), 0.01 / Math.sqrt(12)) * Math.SQRT2, 0);
    expect(part("flowMeter") / h.heat.value).toBeCloseTo(0.03 / Math.sqrt(3), 3);
    expect(standardUncertainty(h.heat)).toBeGreaterThan(part("flowMeter"));
  });
  test("agrees with the rig's own truth within its stated uncertainty", () => {
    const series = seriesFor(assembleRun(made.channels), made.setup.lanes);
    const record = heatRecord(made.setup, series);
    for (const lane of ["A", "B", "C"]) {
      const truth = made.log.truth.heat.get(lane)!;
      const times = made.log.times;
      const hours = record.hours.filter((h) => h.lane === lane);
      const true_ = (from: number, to: number) => {
        let sum = 0;
        let n = 0;
        times.forEach((t, i) => {
          if (t < from || t >= to) return;
          sum += truth[i];
          n++;
        });
        return sum / n;
      };
      const ratio =
        hours.reduce((s, h) => s + h.heat.value, 0) / hours.reduce((s, h) => s + true_(h.startMs, h.endMs) * 2, 0);
      expect(Math.abs(ratio - 1)).toBeLessThan(0.08);
    }
  });
  test("a calibrated probe is corrected, gaps and all: the heat moves by what the rise does", () => {
    const correction = {
      t0C: 20,
      offsetK: 0.6,
      slope: 0,
      standardOffsetK: 0.02,
      standardSlope: 0,
      covariance: 0,
      range: [0, 80] as [number, number],
      atMs: 0,
    };
    const calibration = { correction, driftK: 0, bath: "1", referenceStandardK: 0.05 };
    const proven = {
      ...setup,
      lanes: setup.lanes.map((l) => ({ ...l, outletProbe: { ...l.outletProbe, calibration } })),
    };
    const gaps = steady((_, i) => (i === 200 ? { inlet: NaN } : {}));
    const [raw] = heatRecord(setup, gaps).hours;
    const [corrected] = heatRecord(proven, gaps).hours;
    expect(corrected.rise.value).toBeCloseTo(raw.rise.value - 0.6, 9);
    expect(corrected.heat.value / raw.heat.value).toBeCloseTo(23.4 / 24, 2);
  });
  test("no sun sensor and no outside probe are needed", () => {
    const bare = { ...steady(), irradiance: null, ambient: null, humidity: null };
    const record = heatRecord(setup, bare);
    expect(record.hours.length).toBeGreaterThan(8);
    expect(record.days[0].irradiation).toBeNull();
    expect(record.days[0].ambientC).toBeNaN();
  });
});

describe("hours that are no comparison", () => {
  const hoursOf = (record: ReturnType<typeof heatRecord>) => new Set(record.hours.map((h) => h.startMs)).size;
  const all = hoursOf(heatRecord(setup, steady()));
  test("a fan that stood still while the other ran", () => {
    const stopped = heatRecord(
      setup,
      steady((lane, i) => (lane === "B" && i >= 200 && i < 300 ? { flow: 0 } : {})),
    );
    expect(stopped.setAside.stopped).toBeGreaterThanOrEqual(1);
    expect(hoursOf(stopped)).toBeLessThan(all);
    expect(stopped.days.find((d) => d.lane === "B")!.stoppedMinutes).toBe(100);
    for (const h of stopped.hours) expect(h.heat.value).toBeGreaterThan(500);
  });
  test("a lane with gaps, and hours of little heat", () => {
    const gap = heatRecord(
      setup,
      steady((lane, i) => (lane === "B" && i >= 200 && i < 260 ? { inlet: NaN } : {})),
    );
    expect(gap.setAside.gap).toBeGreaterThan(heatRecord(setup, steady()).setAside.gap ?? 0);
    const weak = heatRecord(
      setup,
      steady((_, i) => (i < 150 ? { rise: 2 } : {})),
    );
    expect(weak.setAside.weak).toBeGreaterThanOrEqual(1);
  });
  test("a lane away all day does not take the others' day", () => {
    const away = heatRecord(
      setup,
      steady((lane) => (lane === "B" ? { inlet: NaN } : {})),
    );
    expect(away.days.map((d) => d.lane)).toEqual(["A"]);
    expect(away.hours.every((h) => h.lane === "A")).toBe(true);
  });
  test("nothing logged, nothing told", () =>
    expect(heatRecord(setup, { ...steady(), lanes: new Map() })).toEqual({
      hours: [],
      days: [],
      readings: [],
      rounds: [],
      setAside: {},
      minutes: null,
    }));
});

test("a day in two arrangements is one day", () => {
  const morning = heatRecord(
    setup,
    steady(() => ({}), 240),
  );
  const both = joinHeat([morning, morning]);
  expect(both.days).toHaveLength(2);
  expect(both.days[0].energy.value).toBeCloseTo(2 * morning.days[0].energy.value, 3);
  expect(both.days[0].hours).toBeCloseTo(8, 6);
});

describe("the input–output line", () => {
  const days = (n: number, f: (h: number) => number) =>
    Array.from({ length: n }, (_, i) => ({ irradiation: (2 + i) * 1e6, heat: f((2 + i) * 1e6) }));
  test("finds a planted slope and loss exactly, and widens with scatter", () => {
    const line = dailyLine(
      "A",
      days(6, (h) => 0.55 * h - 4e5),
    )!;
    expect(line.slope).toBeCloseTo(0.55, 9);
    expect(line.loss).toBeCloseTo(4e5, 2);
    expect(line.slopeExpanded).toBeLessThan(1e-6);
    const rough = dailyLine(
      "A",
      days(6, (h) => 0.55 * h - 4e5 + (h % 2e6 ? 2e5 : -2e5)),
    )!;
    expect(rough.slopeExpanded).toBeGreaterThan(0.05);
  });
  test("is not claimed from few or equal days", () => {
    expect(
      dailyLine(
        "A",
        days(3, (h) => h),
      ),
    ).toBeNull();
    expect(
      dailyLine(
        "A",
        Array.from({ length: 8 }, () => ({ irradiation: 2e7, heat: 1e7 })),
      ),
    ).toBeNull();
  });
});

test("an hour's length does not depend on the logger's step", () => {
  const coarse = { ...steady(), stepMs: 300000, startMs: NOON - 40 * 6 * HOUR };
  expect(heatRecord(setup, coarse).hours.length).toBeGreaterThan(0);
});
