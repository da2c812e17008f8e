import type { LaneMinutes } from "../../analysis/laneMinutes";
import type { LaneSetup, RunSetup } from "../../analysis/setup";
import type { EventKind } from "../../log/eventKind";
import { specificHeat } from "../../fluids/fluid";
import { seededRandom } from "../../random/seededRandom";
import { BENCH_PLANE, BENCH_ZONE, TANSY_RIDGE, CORRUGATED, simulateBench } from "../../rig/bench";
import { clearSkyInPlane, incidenceModifier } from "../../sun/clearSky";
import { incidenceAngle, sunPosition } from "../../sun/position";
import { coverageFactor } from "../../uncertainty/coverage";
import { effectiveDof, standardUncertainty, type Uncertain } from "../../uncertainty/uncertain";
import { assembleRun } from "../../analysis/assemble";
import { wholeRun } from "../../analysis/reduce";
import { chain } from "./chain";
import { events } from "./events";
import { flowBySun } from "./flowBySun";
import type { Finder, FinderInput } from "./finding";
import { leakage } from "./leakage";
import { offNormal } from "./offNormal";
import { methodSpans, type MethodSpan } from "./span";
import { stagnation } from "./stagnation";
import { tank } from "./tank";
import { timeConstant } from "./timeConstant";
import { wholeDays } from "./wholeDays";

const CAPACITY = 40;
const AREA = 2;
const probe = { key: "p", limitK: 0.3, resolutionK: 0.01 };
const laneSetup = (lane: string): LaneSetup => ({
  lane,
  specimen: lane,
  variant: lane,
  station: "ABC".indexOf(lane) + 1,
  fluid: { kind: "air" },
  areaM2: AREA,
  areaLimitShare: 0.01,
  inletProbe: probe,
  outletProbe: probe,
  flow: { kind: "mass", meter: { key: "m", at: "outlet", limitShare: 0.03, limitFixed: 0 } },
  fanShare: 0,
  timeConstantS: 240,
  b0: 0.1,
  b0Limit: 0.03,
  opticalLimit: null,
});
const setup: RunSetup = {
  run: "1",
  place: TANSY_RIDGE,
  plane: BENCH_PLANE,
  zone: BENCH_ZONE,
  linkeTurbidity: 3,
  sunSensor: { key: "sun", limitShare: 0.02, mounting: "plane" },
  ambientProbe: probe,
  pressurePa: 88500,
  pressureLimitPa: 1500,
  relativeHumidity: 0.5,
  humidityLimit: 0.1,
  lanes: ["A", "B"].map(laneSetup),
};

interface World {
  sun: (ms: number) => number;
  ambient?: number;
  lanes: Record<string, { heatWm2: (ms: number, i: number) => number; flow?: (ms: number, i: number) => number }>;
  days?: number;
  hours?: [number, number];
  other?: Partial<Record<string, (ms: number, i: number) => number>>;
  events?: { atMs: number; kind: EventKind; lane: string | null }[];
}
const DAY0 = Date.UTC(2026, 5, 10);
const HOUR = 3600_000;

/** Days of invented minutes: heat as told, temperatures that belong to it. */
function world({
  sun,
  ambient = 10,
  lanes,
  days = 1,
  hours = [4, 20],
  other = {},
  events: marked = [],
}: World): MethodSpan[] {
  return Array.from({ length: days }, (_, d): MethodSpan => {
    const startMs = DAY0 + d * 24 * HOUR + hours[0] * HOUR;
    const count = (hours[1] - hours[0]) * 60;
    const at = (f: (ms: number, i: number) => number) =>
      Float64Array.from({ length: count }, (_, i) => f(startMs + (i + 0.5) * 60_000, i));
    const laneMinutes = Object.entries(lanes).map(([letter, own]): LaneMinutes => {
      const flow = at(own.flow ?? (() => 0.04));
      const heat = at((ms, i) => own.heatWm2(ms, i) * AREA);
      const inlet = at(() => ambient);
      return {
        lane: laneSetup(letter),
        inlet,
        outlet: heat.map((q, i) => inlet[i] + q / CAPACITY),
        flow,
        mass: flow,
        capacity: at(() => CAPACITY),
        stream: heat,
        heat,
        usualFlow: 0.04,
      };
    });
    return {
      run: "1",
      setup: { ...setup, lanes: Object.keys(lanes).map(laneSetup) },
      minutes: {
        startMs,
        stepMs: 60_000,
        count,
        lanes: laneMinutes,
        ambient: at(() => ambient),
        irradiance: at(sun),
        pressure: null,
        humidity: null,
      },
      wind: null,
      other: (kind, lane) => (other[`${kind}/${lane}`] ? at(other[`${kind}/${lane}`]!) : null),
      events: marked.filter((e) => e.atMs >= startMs && e.atMs < startMs + count * 60_000),
    };
  });
}
const input = (spans: MethodSpan[], tankKg: number | null = null, pipeM: number | null = null): FinderInput => ({
  spans,
  lanes: [...new Set(spans.flatMap((s) => s.setup.lanes.map((l) => l.lane)))].map((lane) => ({
    lane,
    variant: lane,
    tank: tankKg ? { massKg: tankKg, limitShare: 0.01 } : null,
    pipeM,
  })),
  basis: "mean",
  operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
  stationShare: 0,
});
const find = (finder: Finder, of: FinderInput, name: string, lane = "A"): Uncertain => {
  const found = finder(of).findings.find((f) => f.name === name && f.lane === lane);
  if (!found) throw new Error(`no ${name}: ${JSON.stringify(finder(of).gaps)}`);
  return found.figure;
};
const half = (u: Uncertain) => coverageFactor(effectiveDof(u)) * standardUncertainty(u);
const random = seededRandom(5);
const noise = (size: number) => size * (random.uniform() - 0.5);
const clear = (ms: number) => clearSkyInPlane(ms, TANSY_RIDGE, BENCH_PLANE, 3).total;

test("the time constant of a cover laid on and taken off", () => {
  const TAU = 300;
  const on = (m: number) => m >= 60 && m < 120;
  let state = 400;
  const heatWm2 = (_: number, i: number) => {
    state += ((on(i % 180) ? 0 : 400) - state) * (1 - Math.exp(-60 / TAU));
    return state + noise(2);
  };
  const spans = world({ sun: () => 900, lanes: { A: { heatWm2 } }, hours: [8, 16] });
  const tau = find(timeConstant, input(spans), "tau");
  expect(tau.value).toBeGreaterThan(TAU * 0.9);
  expect(tau.value).toBeLessThan(TAU * 1.1);
  const cloudy = world({ sun: (ms) => 500 + 400 * Math.sin(ms / 300_000), lanes: { A: { heatWm2 } }, hours: [8, 16] });
  expect(timeConstant(input(cloudy)).gaps).toEqual([{ lane: "A", why: "noStep" }]);
});

test("stagnation is brought to 1,000 W/m² and 30 °C", () => {
  const still = { heatWm2: () => 0, flow: () => 0 };
  const spans = world({
    sun: () => 900,
    ambient: 12,
    lanes: { A: still },
    hours: [9, 13],
    other: { "plate/A": (_, i) => 12 + 108 * (1 - Math.exp(-i / 15)) },
  });
  const stood = find(stagnation, input(spans), "stagnationC");
  // 108 K over outside at 900 W/m² is 120 K at 1,000.
  expect(stood.value).toBeCloseTo(150, 0);
  expect(half(stood)).toBeGreaterThan(1);
  expect(stagnation(input(world({ sun: () => 900, lanes: { A: still } }))).gaps[0].why).toBe("noPlate");
  const weak = world({ sun: () => 500, lanes: { A: still }, other: { "plate/A": () => 80 } });
  expect(stagnation(input(weak)).gaps[0].why).toBe("neverStill");
});

test("b0 comes back from clear days, whatever the lane was taken to have", () => {
  const B0 = 0.25;
  const heatWm2 = (ms: number) => {
    const light = clearSkyInPlane(ms, TANSY_RIDGE, BENCH_PLANE, 3);
    const angle = incidenceAngle(sunPosition(ms, TANSY_RIDGE), BENCH_PLANE);
    const counted = light.beam * incidenceModifier(angle, B0) + (light.total - light.beam) * (1 - B0);
    return 0.7 * counted + noise(4);
  };
  const spans = world({ sun: clear, lanes: { A: { heatWm2 } }, days: 3 });
  const b0 = find(offNormal, input(spans), "b0");
  expect(Math.abs(b0.value - B0)).toBeLessThan(0.04);
  const noon = world({ sun: clear, lanes: { A: { heatWm2 } }, hours: [10, 13], days: 3 });
  expect(offNormal(input(noon)).gaps).toEqual([{ lane: "A", why: "angleNarrow" }]);
});

describe("what an event did", () => {
  const bench = (kind: EventKind, at: number[], effect: number) => {
    const state = (ms: number) => at.filter((h) => ms >= DAY0 + h * HOUR).length % 2;
    return world({
      sun: clear,
      hours: [7, 17],
      lanes: {
        A: { heatWm2: (ms) => 0.6 * clear(ms) * (state(ms) ? effect : 1) + noise(6) },
        B: { heatWm2: (ms) => 0.55 * clear(ms) + noise(6) },
      },
      events: at.map((h) => ({ atMs: DAY0 + h * HOUR, kind, lane: "A" })),
    });
  };
  test("a cleaned cover: its lane against the others, after against before, under a sun that moves on", () => {
    const ratio = find(events, input(bench("coverCleaned", [11], 1.06)), "eventRatio");
    expect(Math.abs(ratio.value - 1.06)).toBeLessThan(half(ratio));
    expect(half(ratio)).toBeLessThan(0.02);
  });
  test("a cover cleaned three times is cleaner after each, not dirty again after the second", () => {
    const at = [9, 11.5, 14];
    const dirt = (ms: number) => {
      const since = Math.min(...at.map((h) => (ms - DAY0) / HOUR - h).filter((h) => h >= 0), 2.5);
      return 0.9 + 0.1 * (since < 1.25 ? 1 : 0);
    };
    const spans = world({
      sun: clear,
      hours: [7, 17],
      lanes: {
        A: { heatWm2: (ms) => 0.6 * clear(ms) * dirt(ms) + noise(6) },
        B: { heatWm2: (ms) => 0.6 * clear(ms) + noise(6) },
      },
      events: at.map((h) => ({ atMs: DAY0 + h * HOUR, kind: "coverCleaned", lane: "A" })),
    });
    expect(find(events, input(spans), "eventRatio").value).toBeGreaterThan(1.08);
  });
  test("a mirror turned to and away again and again is one comparison", () => {
    const found = events(input(bench("mirror", [9, 11, 13, 15], 1.25)));
    expect(found.findings).toHaveLength(1);
    expect(found.findings[0].event).toMatchObject({ kind: "mirror", times: 4 });
    expect(found.findings[0].figure.value).toBeCloseTo(1.25, 1);
  });
  test("nothing marked, or only for all lanes, says nothing", () => {
    expect(events(input(bench("mirror", [], 1))).gaps).toEqual([{ lane: null, why: "noEvent" }]);
    expect(events(input(bench("cloud", [11], 1))).gaps).toEqual([{ lane: null, why: "noEvent" }]);
  });
});

test("a natural draught follows the sun by its power; a steady fan does not; a thermostat's share and starts are counted", () => {
  const draught = world({
    sun: clear,
    days: 3,
    hours: [6, 18],
    lanes: {
      A: {
        heatWm2: (ms) => 0.5 * clear(ms),
        flow: (ms) => 0.04 * (Math.max(1, clear(ms)) / 800) ** 0.4 * (1 + noise(0.02)),
      },
      B: { heatWm2: (ms) => 0.5 * clear(ms) },
    },
  });
  const n = find(flowBySun, input(draught), "flowExponent");
  expect(n.value).toBeCloseTo(0.4, 1);
  expect(find(flowBySun, input(draught), "flowAtSun").value).toBeCloseTo(0.04, 3);
  expect(flowBySun(input(draught)).gaps).toEqual([{ lane: "B", why: "flowSteady" }]);
  const cycling = world({
    sun: () => 700,
    hours: [8, 16],
    lanes: { A: { heatWm2: (_, i) => (i % 20 < 5 ? 500 : 0), flow: (_, i) => (i % 20 < 5 ? 0.04 : 0) } },
  });
  expect(find(flowBySun, input(cycling), "onShare").value).toBeCloseTo(0.25, 2);
  expect(find(flowBySun, input(cycling), "startsPerHour").value).toBeCloseTo(3, 1);
  const whole = find(flowBySun, input(cycling), "dayEfficiency");
  expect(whole.value).toBeCloseTo(125 / 700, 2);
  // Meter 3 %, sun 2 %, two probes of 0.3 K against the rise: never better than its instruments.
  expect(half(whole) / whole.value).toBeGreaterThan(0.04);
});

test("whole days: line, morning and pipe", () => {
  const factor = [1, 0.8, 0.6, 0.9, 0.5];
  const sun = (ms: number) => clear(ms) * factor[Math.floor((ms - DAY0) / (24 * HOUR))];
  const heatWm2 = (ms: number) => (sun(ms - 20 * 60_000) > 60 ? 0.6 * sun(ms) - 30 : 0);
  const of = input(world({ sun, days: 5, hours: [3, 21], lanes: { A: { heatWm2 } } }), null, 25);
  const slope = find(wholeDays, of, "slope");
  expect(Math.abs(slope.value - 0.6)).toBeLessThan(0.05);
  expect(find(wholeDays, of, "dailyLoss").value).toBeGreaterThan(0);
  expect(find(wholeDays, of, "warmUp").value).toBeGreaterThan(0);
  expect(find(wholeDays, of, "perMetre").value).toBeGreaterThan(1);
});

test("a tank on a loop: light and loss of the box, and the tank's own loss from its nights", () => {
  const [eta0, U, own, massKg] = [0.7, 5, 3, 120];
  const cp = specificHeat({ kind: "water" }, { temperatureC: 35, pressurePa: 101325, relativeHumidity: 0 });
  let T = 20;
  const sun = (ms: number) => clear(ms);
  const spans = world({
    sun,
    days: 4,
    hours: [0, 24],
    lanes: { A: { heatWm2: () => NaN, flow: () => NaN } },
    other: {
      "tank/A": (ms) => {
        const G = sun(ms);
        const gain = G > 20 ? AREA * (eta0 * G - U * (T - 10)) : 0;
        T += ((gain - own * (T - 10)) * 60) / (massKg * cp);
        return T;
      },
    },
  });
  // The same world read twice gives the same tank: frozen.
  const frozen = spans.map((s) => {
    const held = s.other("tank", "A");
    return { ...s, other: (kind: string) => (kind === "tank" ? held : null) };
  }) as MethodSpan[];
  const of = input(frozen, massKg);
  expect(find(tank, of, "tankLoss").value).toBeCloseTo(own, 0);
  expect(find(tank, of, "eta0").value).toBeGreaterThan(0.65);
  expect(find(tank, of, "eta0").value).toBeLessThan(0.75);
  expect(find(tank, of, "a1").value).toBeGreaterThan(3.5);
  expect(find(tank, of, "a1").value).toBeLessThan(6.5);
  expect(tank(input(frozen)).gaps).toEqual([{ lane: "A", why: "noTankMass" }]);
});

test("an ice bank is counted by what melted, and its water's standing still is no loss", () => {
  const ICE = 20;
  const WATER = 60;
  const cp = specificHeat({ kind: "water" }, { temperatureC: 35, pressurePa: 101325, relativeHumidity: 0 });
  const power = 500;
  // Ice goes first, then the water warms.
  const at = (ms: number) => {
    const given = (power * (ms - (DAY0 + 8 * HOUR))) / 1000;
    return Math.max(0, (given - ICE * 333_600) / (WATER * cp));
  };
  const spans = world({
    sun: () => 800,
    lanes: { A: { heatWm2: () => power / AREA } },
    hours: [8, 14],
    other: { "tank/A": at },
  });
  const of = input(spans);
  const iced: FinderInput = {
    ...of,
    lanes: [{ ...of.lanes[0], tank: { massKg: WATER, limitShare: 0.02, iceKg: ICE } }],
  };
  const melt = find(tank, iced, "meltHeat");
  // From the middle of the first ten minutes to that of the last.
  expect(melt.value / (power * (6 - 1 / 3) * 3600)).toBeCloseTo(1, 1);
  expect(find(tank, iced, "meltEfficiency").value).toBeCloseTo(power / (800 * AREA), 1);
  expect(half(melt) / melt.value).toBeGreaterThan(0.015);
  const cold = world({
    sun: () => 800,
    lanes: { A: { heatWm2: () => 100 } },
    hours: [8, 14],
    other: { "tank/A": () => 0.2 },
  });
  expect(tank({ ...iced, spans: cold }).gaps).toEqual([{ lane: "A", why: "notMelted" }]);
});

test("two meters, one at either end, tell what leaks between them", () => {
  const spans = world({
    sun: () => 800,
    lanes: { A: { heatWm2: () => 300 } },
    hours: [9, 15],
    // 5 % less comes in than goes out, as litres of air at 10 °C and half its moisture.
    other: { "volumeFlow/A": () => (0.95 * 0.04) / 1.0842 },
  });
  const leak = find(leakage, input(spans), "leakShare");
  expect(leak.value).toBeCloseTo(0.05, 2);
  expect(half(leak)).toBeGreaterThan(0.03);
  const one = world({ sun: () => 800, lanes: { A: { heatWm2: () => 300 } }, hours: [9, 15] });
  expect(leakage(input(one)).gaps).toEqual([{ lane: "A", why: "oneMeter" }]);
});

test("boxes in series: the later gives less, and boxes side by side are no row", () => {
  const side = world({
    sun: clear,
    lanes: { A: { heatWm2: (ms) => 0.5 * clear(ms) }, B: { heatWm2: (ms) => 0.41 * clear(ms) } },
    hours: [8, 16],
  });
  expect(chain(input(side))).toEqual({ findings: [], gaps: [{ lane: null, why: "notFed" }] });
  const row = side.map((s) => {
    const [a, b] = s.minutes.lanes;
    const fed = { ...b, inlet: a.outlet.slice(), outlet: b.outlet.map((v, i) => v - b.inlet[i] + a.outlet[i]) };
    return { ...s, minutes: { ...s.minutes, lanes: [a, fed] } };
  });
  const { findings } = chain(input(row));
  expect(findings.map((f) => [f.lane, f.other])).toEqual([["B", "A"]]);
  expect(findings[0].figure.value).toBeCloseTo(0.82, 2);
  expect(half(findings[0].figure)).toBeGreaterThan(0.02);
});

test("a batch test with nothing but a tank probe, sun and outside air is read", () => {
  const [run] = simulateBench({
    seed: 9,
    stepS: 60,
    hours: [7, 23.5],
    fluid: { kind: "water" },
    accuracy: { probeK: 0.1, speedShare: 0.02, profileLimit: 0, sunShare: 0.02, ambientK: 0.2, stationShare: 0 },
    inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
    specimens: [
      {
        lane: "A",
        variant: "a",
        collector: { ...CORRUGATED, streamTransfer: 200, capacity: 12_000 },
        areaM2: 2,
        massFlowKgPerS: 0.05,
        tank: { massKg: 100, lossWK: 3, fromC: 14 },
      },
    ],
    runs: [
      {
        run: "1",
        stations: { A: 1 },
        days: [10, 11, 12].map((d) => ({
          dateMs: Date.UTC(2026, 8, d, 10),
          cloudiness: 0.1,
          meanAmbientC: 14,
          meanWind: 1,
        })),
      },
    ],
  });
  const channels = run.channels.filter((c) => ["tank", "irradiance", "ambient"].includes(c.kind));
  const spans = methodSpans(wholeRun(run.setup, assembleRun(channels)), []);
  expect(spans).toHaveLength(1);
  expect(spans[0].minutes.lanes).toHaveLength(0);
  const of = input(spans, 100);
  expect(find(tank, of, "tankLoss").value).toBeGreaterThan(2.4);
  expect(find(tank, of, "tankLoss").value).toBeLessThan(3.6);
  const eta0 = find(tank, of, "eta0");
  // F′·τα of the box, freed of nothing but its incidence.
  expect(eta0.value).toBeGreaterThan(0.66);
  expect(eta0.value).toBeLessThan(0.8);
});
