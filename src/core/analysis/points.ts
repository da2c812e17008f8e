import { density, specificHeat, specificHeatShare, type Fluid } from "../fluids/fluid";
import { warmedHumidity, type AirState } from "../fluids/moistAir";
import { correct, correctionUncertainty } from "../calibration/correction";
import { ductArea } from "../flow/duct";
import type { LimitCheck, SteadyWindow } from "../log/windows";
import { localDay } from "../log/zone";
import { autocorrelatedMean } from "../uncertainty/typeA";
import {
  combine,
  divide,
  exact,
  fromLimit,
  fromResolution,
  multiply,
  onlySources,
  scale,
  subtract,
  withSource,
  type Uncertain,
} from "../uncertainty/uncertain";
import { type SourceKind } from "../uncertainty/source";
import type { TemperatureBasis } from "./heat";
import type { LaneSetup, ProbeCalibrationLayer, ProbeSetup, RunSeries, RunSetup } from "./setup";

/** One lane in one steady window: the means, and everything computed from them, with uncertainty by source. */
export interface EfficiencyPoint {
  run: string;
  /** Counts from 0 within the run. */
  window: number;
  day: string;
  lane: string;
  station: number;
  startMs: number;
  endMs: number;
  irradiance: Uncertain;
  ambient: Uncertain;
  inlet: Uncertain;
  outlet: Uncertain;
  rise: Uncertain;
  /** Speed, volume or mass flow as logged. */
  indicatedFlow: Uncertain;
  /** At the meter, kg/m³. */
  density: Uncertain;
  massFlow: Uncertain;
  specificHeat: Uncertain;
  heat: Uncertain;
  efficiency: Uncertain;
  /** Incidence modifier in the window; the efficiency divided by it counts at normal incidence. */
  modifier: Uncertain;
  normalEfficiency: Uncertain;
  reducedTemperature: Uncertain;
  area: Uncertain;
  /** Drift of the mean fluid temperature over the window, K/s: what the box stores or gives back follows it. */
  drift: number;
  wind: number;
  checks: LimitCheck[];
}

/** Contributions that average out over windows, as against those that a whole run shares. */
const RANDOM_KINDS: ReadonlySet<SourceKind> = new Set(["probeNoise", "speedNoise", "sunNoise", "otherNoise"]);

/** The figure with only its random, or only its systematic contributions. */
export const onlyParts = (figure: Uncertain, which: "random" | "systematic"): Uncertain =>
  onlySources(figure, (source) => RANDOM_KINDS.has(source.kind) === (which === "random"));

/**
 * The efficiency points of a run: for each window and each lane steady in it.
 * Formulas: Q = ṁ·cp·(Tout − Tin) − share·P_fan; η = Q/(A·G), as in ISO 9806:2017. The mean of cp is
 * taken at the mean fluid temperature; ρ at the meter.
 *
 * @param modifierAt incidence modifier at an instant for a lane's b0
 */
export function efficiencyPoints(
  setup: RunSetup,
  series: RunSeries,
  windows: readonly SteadyWindow[],
  options: { basis: TemperatureBasis; modifierAt: (timeMs: number, b0: number) => number },
): EfficiencyPoint[] {
  return windows.flatMap((steady, index) => {
    const shared = sharedMeans(setup, series, steady, index);
    if (!shared) return [];
    return steady.lanes.flatMap((letter) => {
      const lane = setup.lanes.find((l) => l.lane === letter);
      const laneSeries = series.lanes.get(letter);
      if (!lane || !laneSeries?.inlet || !laneSeries.outlet) return [];
      const inlet = probeMean(
        laneSeries.inlet,
        steady,
        lane.inletProbe,
        { run: setup.run, window: index, channel: `${letter}/in` },
        letter,
      );
      const outlet = probeMean(
        laneSeries.outlet,
        steady,
        lane.outletProbe,
        { run: setup.run, window: index, channel: `${letter}/out` },
        letter,
      );
      if (!inlet || !outlet) return [];
      const flow = massFlow(setup, lane, laneSeries.flow, steady, index, { inlet, outlet, ...shared });
      if (!flow) return [];
      const mean = combine((inlet.value + outlet.value) / 2, [
        [0.5, inlet],
        [0.5, outlet],
      ]);
      const cp = meanSpecificHeat(lane.fluid, mean.value, shared);
      const rise = subtract(outlet, inlet);
      const fan =
        laneSeries.fanPower && lane.fanShare > 0
          ? autocorrelatedMean(laneSeries.fanPower.subarray(steady.from, steady.to)).mean
          : 0;
      const streamHeat = multiply(multiply(flow.massFlow, cp), rise);
      const heat = { value: streamHeat.value - fan * lane.fanShare, parts: streamHeat.parts };
      const area = withSource(lane.areaM2, fromLimit(lane.areaLimitShare * lane.areaM2), {
        kind: "area",
        specimen: lane.specimen,
        owner: letter,
        dof: Infinity,
      });
      const efficiency = divide(heat, multiply(area, shared.irradiance));
      const modifier = modifierOf(lane, steady, options);
      const fluidTemperature = options.basis === "mean" ? mean : inlet;
      return [
        {
          run: setup.run,
          window: index,
          day: localDay(steady.startMs, setup.zone),
          lane: letter,
          station: lane.station,
          startMs: steady.startMs,
          endMs: steady.endMs,
          irradiance: shared.irradiance,
          ambient: shared.ambient,
          inlet,
          outlet,
          rise,
          ...flow,
          specificHeat: cp,
          heat,
          area,
          efficiency,
          modifier,
          normalEfficiency: divide(efficiency, modifier),
          reducedTemperature: divide(subtract(fluidTemperature, shared.ambient), shared.irradiance),
          drift: (slope(laneSeries.inlet, steady) + slope(laneSeries.outlet, steady)) / 2 / (series.stepMs / 1000),
          wind: shared.wind,
          checks: steady.checks.filter((c) => c.lane === null || c.lane === letter),
        },
      ];
    });
  });
}

interface SharedMeans {
  irradiance: Uncertain;
  ambient: Uncertain;
  pressure: Uncertain;
  humidity: Uncertain;
  wind: number;
}

function sharedMeans(setup: RunSetup, series: RunSeries, steady: SteadyWindow, index: number): SharedMeans | null {
  if (!series.irradiance || !series.ambient) return null;
  const sun = autocorrelatedMean(series.irradiance.subarray(steady.from, steady.to));
  const ambient = probeMean(
    series.ambient,
    steady,
    setup.ambientProbe,
    { run: setup.run, window: index, channel: "ambient" },
    "",
  );
  if (!(sun.mean > 0) || !ambient) return null;
  const gain = withSource(sun.mean, fromLimit(setup.sunSensor.limitShare * sun.mean), {
    kind: "sunSensor",
    sensor: setup.sunSensor.key,
    owner: "",
    dof: Infinity,
  });
  const noise = withSource(0, sun.standardError || 0, {
    kind: "sunNoise",
    run: setup.run,
    window: index,
    channel: "sun",
    owner: "",
    dof: Math.max(1, sun.effectiveSize - 1),
  });
  const logged = (channel: Float64Array | null) =>
    channel ? autocorrelatedMean(channel.subarray(steady.from, steady.to)).mean : NaN;
  const barometer = logged(series.pressure);
  const hygrometer = logged(series.humidity);
  return {
    irradiance: combine(sun.mean, [
      [1, gain],
      [1, noise],
    ]),
    ambient,
    pressure: withSource(Number.isNaN(barometer) ? setup.pressurePa : barometer, fromLimit(setup.pressureLimitPa), {
      kind: "pressure",
      owner: "",
      dof: Infinity,
    }),
    humidity: withSource(
      Number.isNaN(hygrometer) ? setup.relativeHumidity : hygrometer,
      fromLimit(setup.humidityLimit),
      { kind: "humidity", owner: "", dof: Infinity },
    ),
    wind: logged(series.wind),
  };
}

/** Which mean a noise belongs to. */
interface NoiseOf {
  run: string;
  window: number;
  channel: string;
}

function probeMean(
  channel: Float64Array,
  steady: SteadyWindow,
  probe: ProbeSetup,
  noiseOf: NoiseOf,
  owner: string,
): Uncertain | null {
  const mean = autocorrelatedMean(channel.subarray(steady.from, steady.to));
  if (Number.isNaN(mean.mean)) return null;
  if (probe.calibration) return calibratedMean(mean, probe, probe.calibration, noiseOf, owner);
  const bias = Math.hypot(fromLimit(probe.limitK), fromResolution(probe.resolutionK));
  const stated = withSource(mean.mean, bias, {
    kind: owner ? "probe" : "ambient",
    probe: probe.key,
    owner: owner || probe.key,
    dof: Infinity,
  });
  const noise = withSource(0, mean.standardError || 0, {
    kind: "probeNoise",
    ...noiseOf,
    owner,
    dof: Math.max(1, mean.effectiveSize - 1),
  });
  return combine(mean.mean, [
    [1, stated],
    [1, noise],
  ]);
}

/** A corrected mean: what the bath left of the probe's own error, its drift, and the reference's error that all probes of the bath share. */
function calibratedMean(
  mean: { mean: number; standardError: number; effectiveSize: number },
  probe: ProbeSetup,
  layer: ProbeCalibrationLayer,
  noiseOf: NoiseOf,
  owner: string,
): Uncertain {
  const { correction } = layer;
  const value = correct(correction, mean.mean);
  const whose = owner || probe.key;
  const own = withSource(
    0,
    Math.hypot(correctionUncertainty(correction, mean.mean), fromResolution(probe.resolutionK)),
    { kind: owner ? "probe" : "ambient", probe: probe.key, owner: whose, dof: Infinity },
  );
  const drift = withSource(0, layer.driftK, { kind: "drift", probe: probe.key, owner: whose, dof: Infinity });
  const reference = withSource(0, layer.referenceStandardK, {
    kind: "reference",
    bath: layer.bath,
    owner: "",
    dof: Infinity,
  });
  const noise = withSource(0, mean.standardError || 0, {
    kind: "probeNoise",
    ...noiseOf,
    owner,
    dof: Math.max(1, mean.effectiveSize - 1),
  });
  return combine(value, [
    [1, own],
    [1, drift],
    [1, reference],
    [1 - correction.slope, noise],
  ]);
}

function massFlow(
  setup: RunSetup,
  lane: LaneSetup,
  channel: Float64Array | null,
  steady: SteadyWindow,
  index: number,
  state: SharedMeans & { inlet: Uncertain; outlet: Uncertain },
): { indicatedFlow: Uncertain; density: Uncertain; massFlow: Uncertain } | null {
  const { flow } = lane;
  const reading =
    flow.kind === "constant"
      ? { mean: flow.massFlowKgPerS, standardError: 0, effectiveSize: 2 }
      : channel
        ? autocorrelatedMean(channel.subarray(steady.from, steady.to))
        : null;
  if (!reading || Number.isNaN(reading.mean)) return null;
  const limit = flow.meter.limitShare * Math.abs(reading.mean) + flow.meter.limitFixed;
  const kind = flow.kind === "speed" ? "speedMeter" : flow.kind === "volume" ? "volumeMeter" : "massMeter";
  const stated = withSource(reading.mean, fromLimit(limit), {
    kind,
    meter: flow.meter.key,
    owner: lane.lane,
    dof: Infinity,
  });
  const noise = withSource(0, reading.standardError || 0, {
    kind: "speedNoise",
    run: setup.run,
    window: index,
    channel: `${lane.lane}/flow`,
    owner: lane.lane,
    dof: Math.max(1, reading.effectiveSize - 1),
  });
  const indicatedFlow = combine(reading.mean, [
    [1, stated],
    [1, noise],
  ]);
  const density = densityAtMeter(lane.fluid, flow.meter.at === "inlet" ? state.inlet : state.outlet, state);
  if (flow.kind === "mass" || flow.kind === "constant") return { indicatedFlow, density, massFlow: indicatedFlow };
  if (flow.kind === "volume") return { indicatedFlow, density, massFlow: multiply(density, indicatedFlow) };
  const area = ductArea(flow.duct);
  const relativeArea =
    flow.duct.kind === "round"
      ? (2 * flow.ductLimitM) / flow.duct.diameterM
      : flow.ductLimitM * Math.hypot(1 / flow.duct.widthM, 1 / flow.duct.heightM);
  const duct = withSource(area, fromLimit(relativeArea * area), {
    kind: "ductArea",
    meter: flow.meter.key,
    owner: lane.lane,
    dof: Infinity,
  });
  const profile = withSource(flow.profileFactor, fromLimit(flow.profileLimit), {
    kind: "profile",
    meter: flow.meter.key,
    owner: lane.lane,
    dof: Infinity,
  });
  return { indicatedFlow, density, massFlow: multiply(multiply(density, duct), multiply(profile, indicatedFlow)) };
}

/** Density with its dependence on temperature, pressure and humidity. The hygrometer hangs outside: the stream holds the same vapour, warmed. */
function densityAtMeter(fluid: Fluid, temperature: Uncertain, { pressure, humidity, ambient }: SharedMeans): Uncertain {
  const state: AirState = {
    temperatureC: temperature.value,
    pressurePa: pressure.value,
    relativeHumidity: warmedHumidity(humidity.value, ambient.value, temperature.value),
  };
  const rho = density(fluid, state);
  if (fluid.kind !== "air") {
    const at = (temperatureC: number) => density(fluid, { ...state, temperatureC });
    return combine(rho, [[at(temperature.value + 0.5) - at(temperature.value - 0.5), temperature]]);
  }
  const perHumidity = (density(fluid, { ...state, relativeHumidity: state.relativeHumidity + 0.01 }) - rho) / 0.01;
  return combine(rho, [
    [-rho / (temperature.value + 273.15), temperature],
    [rho / pressure.value, pressure],
    [perHumidity, scale(humidity, state.relativeHumidity / Math.max(0.01, humidity.value))],
  ]);
}

function meanSpecificHeat(fluid: Fluid, meanC: number, shared: SharedMeans): Uncertain {
  const cp = specificHeat(fluid, {
    temperatureC: meanC,
    pressurePa: shared.pressure.value,
    relativeHumidity: warmedHumidity(shared.humidity.value, shared.ambient.value, meanC),
  });
  // Shared by all lanes of one fluid.
  return withSource(cp, specificHeatShare(fluid) * cp, {
    kind: "specificHeat",
    fluid: fluid.kind,
    owner: "",
    dof: Infinity,
  });
}

/** Least-squares slope of a channel over a window, per grid cell; 0 where fewer than three cells are known. */
function slope(channel: Float64Array, { from, to }: SteadyWindow): number {
  let n = 0;
  let st = 0;
  let sv = 0;
  let stt = 0;
  let stv = 0;
  for (let i = from; i < to; i++) {
    const v = channel[i];
    if (Number.isNaN(v)) continue;
    const t = i - from;
    n++;
    st += t;
    sv += v;
    stt += t * t;
    stv += t * v;
  }
  return n < 3 ? 0 : (n * stv - st * sv) / (n * stt - st * st);
}

function modifierOf(
  lane: LaneSetup,
  steady: SteadyWindow,
  options: { modifierAt: (timeMs: number, b0: number) => number },
): Uncertain {
  const middle = (steady.startMs + steady.endMs) / 2;
  const K = options.modifierAt(middle, lane.b0);
  if (K === 1) return exact(1);
  // Taken from both sides of b0: the part of K that light from the ground makes (beyond 60°) hardly depends on b0.
  const u = fromLimit(lane.b0Limit);
  const standard = Math.abs(options.modifierAt(middle, lane.b0 + u) - options.modifierAt(middle, lane.b0 - u)) / 2;
  return withSource(K, standard, { kind: "incidence", variant: lane.variant, owner: lane.lane, dof: Infinity });
}
