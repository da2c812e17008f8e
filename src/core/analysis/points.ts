import type { LimitCheck, SteadyWindow } from "../log/windows";
import { localDay } from "../log/zone";
import type { Incidence } from "../sun/clearSky";
import { autocorrelatedMean } from "../uncertainty/typeA";
import {
  add,
  combine,
  divide,
  exact,
  fromLimit,
  multiply,
  onlySources,
  subtract,
  withSource,
  type Uncertain,
} from "../uncertainty/uncertain";
import { type SourceKind } from "../uncertainty/source";
import type { TemperatureBasis } from "./heat";
import type { SunsSeen } from "./light";
import { netLongWave, type Bare } from "./longWave";
import {
  airOf,
  areaOf,
  countsVolume,
  densityAtMeter,
  meanSpecificHeat,
  meterFactor,
  meterReading,
  probeReading,
  type AirAround,
} from "./figures";
import { statedReading, type LaneSetup, type ProbeSetup, type RunSeries, type RunSetup } from "./setup";

/** What one lane gave over one span, a steady window or an hour: no sun is needed for it. */
export interface HeatPoint {
  run: string;
  /** Names the span within the run; lanes of one span hold the same. Windows count from 0. */
  window: number;
  day: string;
  lane: string;
  station: number;
  startMs: number;
  endMs: number;
  inlet: Uncertain;
  outlet: Uncertain;
  rise: Uncertain;
  massFlow: Uncertain;
  specificHeat: Uncertain;
  heat: Uncertain;
  area: Uncertain;
  /** m²; left out where it is that of `area`. */
  grossAreaM2?: number;
}

/** kg/(s·m²), per gross area. */
export const flowPerGrossArea = ({ massFlow, area, grossAreaM2 }: HeatPoint): number =>
  massFlow.value / (grossAreaM2 ?? area.value);

/** One lane in one steady window: the means, and everything computed from them, with uncertainty by source. */
export interface EfficiencyPoint extends HeatPoint {
  /** In the plane; of a bare absorber less what the sky's cold takes (net irradiance). */
  irradiance: Uncertain;
  bare: Bare | null;
  ambient: Uncertain;
  /** Speed, volume or mass flow as logged. */
  indicatedFlow: Uncertain;
  /** At the meter, kg/m³. */
  density: Uncertain;
  efficiency: Uncertain;
  /** Incidence modifier in the window. */
  modifier: Uncertain;
  reducedTemperature: Uncertain;
  /**
   * Drift of the outlet over the window, K/s: what the box stores or gives back follows it. The absorber stands above the stream's mean
   * by about what the outlet does, so that the outlet tells of a falling sun too, which the mean does not.
   */
  drift: number;
  /** Heat the box holds for each kelvin of its outlet, J/(m²·K), as its time constant says: τ·ṁ″·cp, within a third whether inlet or sun drifts. */
  heldGuess: number;
  wind: number;
  /** Electric, logged or stated; NaN where neither. */
  fanW: number;
  checks: LimitCheck[];
}

/** Efficiency over the incidence modifier: what glass and coating must allow. */
export const overModifier = (p: EfficiencyPoint): number => p.efficiency.value / p.modifier.value;

/** Contributions that average out over windows, as against those that a whole run shares. */
export const RANDOM_KINDS: ReadonlySet<SourceKind> = new Set(["probeNoise", "speedNoise", "sunNoise", "otherNoise"]);

/** The figure with only its random, or only its systematic contributions. */
export const onlyParts = (figure: Uncertain, which: "random" | "systematic"): Uncertain =>
  onlySources(figure, (source) => RANDOM_KINDS.has(source.kind) === (which === "random"));

/**
 * The efficiency points of a run: for each window and each lane steady in it.
 * Formulas: Q = ṁ·cp·(Tout − Tin) − share·P_fan; η = Q/(A·G), as in ISO 9806:2017. The mean of cp is
 * taken at the mean fluid temperature; ρ at the meter.
 *
 * @param modifierAt incidence modifier at an instant for a lane's coefficients
 */
export function efficiencyPoints(
  setup: RunSetup,
  series: RunSeries,
  windows: readonly SteadyWindow[],
  options: { basis: TemperatureBasis; modifierAt: ModifierAt },
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
      const fanW = laneSeries.fanPower
        ? autocorrelatedMean(laneSeries.fanPower.subarray(steady.from, steady.to)).mean
        : NaN;
      const fan = Number.isNaN(fanW) ? 0 : fanW;
      const streamHeat = multiply(multiply(flow.massFlow, cp), rise);
      const heat = { value: streamHeat.value - fan * lane.fanShare, parts: streamHeat.parts };
      const area = areaOf(lane);
      const bare = lane.bareShare == null ? null : { emittanceShare: lane.bareShare, tilt: setup.plane.tilt };
      const irradiance = bare ? add(shared.irradiance, netLongWave(bare, shared.ambient.value)) : shared.irradiance;
      // A bare absorber under too little sun for the sky's cold gives no efficiency that means anything.
      if (!(irradiance.value > LEAST_NET)) return [];
      const efficiency = divide(heat, multiply(area, irradiance));
      const modifier = modifierOf(lane, steady, { ...options, seen: shared.suns });
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
          irradiance,
          bare,
          ambient: shared.ambient,
          inlet,
          outlet,
          rise,
          ...flow,
          specificHeat: cp,
          heat,
          area,
          grossAreaM2: lane.grossAreaM2,
          efficiency,
          modifier,
          reducedTemperature: divide(subtract(fluidTemperature, shared.ambient), irradiance),
          heldGuess: (lane.timeConstantS * flow.massFlow.value * cp.value) / area.value,
          drift: slope(laneSeries.outlet, steady) / (series.stepMs / 1000),
          wind: shared.wind,
          fanW,
          checks: steady.checks.filter((c) => c.lane === null || c.lane === letter),
        },
      ];
    });
  });
}

/** W/m² */
const LEAST_NET = 50;

type ModifierAt = (timeMs: number, incidence: Incidence, seen?: SunsSeen) => number;

interface SharedMeans extends AirAround {
  irradiance: Uncertain;
  suns: SunsSeen | undefined;
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
  const horizontal = logged(series.horizontalSun ?? null);
  return {
    irradiance: combine(sun.mean, [
      [1, gain],
      [1, noise],
    ]),
    ambient,
    ...airOf(setup, barometer, hygrometer),
    wind: logged(series.wind),
    suns:
      setup.sunSensor.mounting === "plane" && Number.isFinite(horizontal)
        ? { planeWm2: sun.mean, horizontalWm2: horizontal }
        : undefined,
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
  const noise = withSource(0, mean.standardError || 0, {
    kind: "probeNoise",
    ...noiseOf,
    owner,
    dof: Math.max(1, mean.effectiveSize - 1),
  });
  const known = probeReading(mean.mean, probe, owner);
  return combine(known.value, [
    [1, known],
    [1 - (probe.calibration?.correction.slope ?? 0), noise],
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
  const stated = statedReading(flow);
  // A stated flow has a series only where its fan was logged as on or off.
  const reading = channel
    ? autocorrelatedMean(channel.subarray(steady.from, steady.to))
    : stated !== null && { mean: stated, standardError: 0, effectiveSize: 2 };
  if (!reading || Number.isNaN(reading.mean)) return null;
  const noise = withSource(0, reading.standardError || 0, {
    kind: "speedNoise",
    run: setup.run,
    window: index,
    channel: `${lane.lane}/flow`,
    owner: lane.lane,
    dof: Math.max(1, reading.effectiveSize - 1),
  });
  const indicatedFlow = combine(reading.mean, [
    [1, meterReading(lane, reading.mean)],
    [1, noise],
  ]);
  const density = densityAtMeter(lane.fluid, flow.meter.at === "inlet" ? state.inlet : state.outlet, state);
  const flowing = multiply(meterFactor(lane), indicatedFlow);
  return { indicatedFlow, density, massFlow: countsVolume(lane) ? multiply(density, flowing) : flowing };
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
  options: { modifierAt: ModifierAt; seen: SunsSeen | undefined },
): Uncertain {
  const middle = (steady.startMs + steady.endMs) / 2;
  const K = options.modifierAt(middle, lane, options.seen);
  if (K === 1) return exact(1);
  // Taken from both sides of b0: the part of K that light from the ground makes (beyond 60°) hardly depends on b0.
  const u = fromLimit(lane.b0Limit);
  const moved = (by: number) =>
    options.modifierAt(
      middle,
      { b0: lane.b0 + by, b0Across: lane.b0Across == null ? null : lane.b0Across + by },
      options.seen,
    );
  const standard = Math.abs(moved(u) - moved(-u)) / 2;
  return withSource(K, standard, { kind: "incidence", variant: lane.variant, owner: lane.lane, dof: Infinity });
}
