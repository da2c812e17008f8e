import type { Fluid } from "../fluids/fluid";
import { airDensity, standardPressure, warmedHumidity } from "../fluids/moistAir";
import { glycolDensity, waterDensity, waterSpecificHeat } from "../fluids/water";
import type { SteadyWindow } from "../log/windows";
import { measured, standardUncertainty } from "../uncertainty/uncertain";
import { efficiencyPoints, onlyParts } from "./points";
import type { FlowSetup, LaneSetup, RunSeries, RunSetup } from "./setup";

const N = 30;
const level = (value: number) => Float64Array.from({ length: N }, (_, i) => value * (1 + 1e-6 * Math.sin(i)));
const WINDOW: SteadyWindow = {
  from: 0,
  to: N,
  startMs: Date.UTC(2026, 9, 6, 11),
  endMs: Date.UTC(2026, 9, 6, 11, 15),
  lanes: ["A"],
  checks: [],
};
const meter = { key: "m", at: "inlet" as const, limitShare: 0.02, limitFixed: 0 };

function point(
  fluid: Fluid,
  flow: FlowSetup,
  reading: number | null,
  over: { lane?: Partial<LaneSetup>; series?: Partial<RunSeries>; fanPower?: number } = {},
) {
  const lane: LaneSetup = {
    lane: "A",
    specimen: "1",
    variant: "v",
    station: 1,
    fluid,
    areaM2: 2,
    areaLimitShare: 0.01,
    inletProbe: { key: "in", limitK: 0.1, resolutionK: 0.1 },
    outletProbe: { key: "out", limitK: 0.1, resolutionK: 0.1 },
    flow,
    fanShare: 0,
    timeConstantS: 300,
    b0: 0.1,
    b0Limit: 0.03,
    opticalLimit: null,
    ...over.lane,
  };
  const setup: RunSetup = {
    run: "1",
    place: { latitude: 46.31, longitude: 9.05, altitudeM: 1120 },
    plane: { tilt: 55, azimuth: 180 },
    zone: "Europe/Zurich",
    linkeTurbidity: 3,
    sunSensor: { key: "sun", limitShare: 0.03, mounting: "plane" },
    ambientProbe: { key: "ambient", limitK: 0.3, resolutionK: 0.1 },
    pressurePa: standardPressure(1120),
    pressureLimitPa: 1500,
    relativeHumidity: 0.5,
    humidityLimit: 0.1,
    lanes: [lane],
  };
  const series: RunSeries = {
    startMs: WINDOW.startMs,
    stepMs: 30000,
    irradiance: level(900),
    ambient: level(10),
    wind: null,
    humidity: null,
    pressure: null,
    lanes: new Map([
      [
        "A",
        {
          inlet: level(30),
          outlet: level(38),
          flow: reading === null ? null : level(reading),
          fanPower: over.fanPower === undefined ? null : level(over.fanPower),
        },
      ],
    ]),
    ...over.series,
  };
  const [found] = efficiencyPoints(setup, series, [WINDOW], { basis: "mean", modifierAt: () => 1 });
  return { p: found };
}

describe("water", () => {
  test("a volume meter in the inlet: ṁ = ρ(Tin)·V̇, Q = ṁ·cp(Tm)·ΔT", () => {
    const { p } = point({ kind: "water" }, { kind: "volume", meter }, 2.5e-5);
    expect(p.massFlow.value).toBeCloseTo(waterDensity(30) * 2.5e-5, 7);
    expect(p.heat.value).toBeCloseTo(waterDensity(30) * 2.5e-5 * waterSpecificHeat(34) * 8, 1);
    expect(p.efficiency.value).toBeCloseTo(p.heat.value / 1800, 6);
    expect(p.reducedTemperature.value).toBeCloseTo(24 / 900, 6);
  });
  test("the same meter in the outlet carries less mass, as warm water is lighter", () => {
    const mass = (at: "inlet" | "outlet") =>
      point({ kind: "water" }, { kind: "volume", meter: { ...meter, at } }, 2.5e-5).p.massFlow.value;
    expect(mass("outlet") / mass("inlet")).toBeCloseTo(waterDensity(38) / waterDensity(30), 6);
  });
  test("glycol weighs more, holds less, and its mixture is less certain", () => {
    const glycol = point({ kind: "glycol", massFraction: 0.4 }, { kind: "volume", meter }, 2.5e-5);
    expect(glycol.p.density.value).toBeCloseTo(glycolDensity(30, 0.4), 3);
    const share = (r: ReturnType<typeof point>) => standardUncertainty(r.p.specificHeat) / r.p.specificHeat.value;
    expect(share(glycol)).toBeCloseTo(0.01, 9);
    expect(share(point({ kind: "water" }, { kind: "volume", meter }, 2.5e-5))).toBeCloseTo(0.001, 9);
  });
});

describe("air", () => {
  const speed: FlowSetup = {
    kind: "speed",
    duct: { kind: "round", diameterM: 0.125 },
    ductLimitM: 0.001,
    profileFactor: 0.86,
    profileLimit: 0.02,
    meter: { ...meter, at: "outlet" },
  };
  test("the density is that at the meter, with the outside air's vapour warmed", () => {
    const { p } = point({ kind: "air" }, speed, 3);
    const rho = airDensity({
      temperatureC: 38,
      pressurePa: standardPressure(1120),
      relativeHumidity: warmedHumidity(0.5, 10, 38),
    });
    expect(p.density.value).toBeCloseTo(rho, 5);
    expect(p.massFlow.value).toBeCloseTo(rho * (Math.PI / 4) * 0.125 ** 2 * 0.86 * 3, 5);
  });
  test("a logged barometer and hygrometer are used instead of the assumed ones", () => {
    const logged = point({ kind: "air" }, speed, 3, { series: { pressure: level(90000), humidity: level(0.9) } }).p
      .density.value;
    expect(logged).toBeCloseTo(
      airDensity({ temperatureC: 38, pressurePa: 90000, relativeHumidity: warmedHumidity(0.9, 10, 38) }),
      4,
    );
  });
  test("a mass flow logged or given for the run needs no density", () => {
    expect(point({ kind: "air" }, { kind: "mass", meter }, 0.04).p.massFlow.value).toBeCloseTo(0.04, 4);
    expect(point({ kind: "air" }, { kind: "constant", massFlowKgPerS: 0.04, meter }, null).p.massFlow.value).toBe(0.04);
  });
  test("a fan between the probes takes its share of the heat", () => {
    const bare = point({ kind: "air" }, { kind: "mass", meter }, 0.04).p.heat.value;
    const driven = point({ kind: "air" }, { kind: "mass", meter }, 0.04, { lane: { fanShare: 0.8 }, fanPower: 25 }).p
      .heat.value;
    expect(bare - driven).toBeCloseTo(20, 3);
  });
  test("the uncertainty of heat is that of its parts, in squares", () => {
    const { p } = point({ kind: "air" }, { kind: "mass", meter }, 0.04);
    const relative = (key: string) => (p.heat.parts.get(key)?.standard ?? 0) / p.heat.value;
    expect(relative("flowMeter:m")).toBeCloseTo(0.02 / Math.sqrt(3), 6);
    const probe = Math.hypot(0.1 / Math.sqrt(3), 0.1 / Math.sqrt(12));
    expect(Math.abs(relative("probe:out"))).toBeCloseTo(probe / 8, 3);
    expect(relative("probe:out")).toBeCloseTo(-relative("probe:in"), 3);
    expect(measured(p.heat).standardUncertainty).toBeGreaterThan(0);
  });
  test("random and systematic parts together are the whole", () => {
    const { p } = point({ kind: "air" }, speed, 3);
    const [random, systematic] = (["random", "systematic"] as const).map((w) =>
      standardUncertainty(onlyParts(p.efficiency, w)),
    );
    expect(Math.hypot(random, systematic)).toBeCloseTo(standardUncertainty(p.efficiency), 12);
    expect(systematic).toBeGreaterThan(random);
  });
});

test("a window without flow, sun or a probe gives no point rather than a wrong one", () => {
  const flow: FlowSetup = { kind: "mass", meter };
  expect(point({ kind: "air" }, flow, null).p).toBeUndefined();
  expect(point({ kind: "air" }, flow, 0.04, { series: { irradiance: null } }).p).toBeUndefined();
  expect(point({ kind: "air" }, flow, 0.04, { series: { ambient: new Float64Array(N).fill(NaN) } }).p).toBeUndefined();
});
