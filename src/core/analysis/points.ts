import type { LimitCheck, SteadyWindow } from "../log/windows";
import { localDay } from "../log/zone";
import type { Incidence } from "../sun/clearSky";
import { autocorrelatedMean } from "../uncertainty/typeA";
import {
  add,
  combine,
  exact,
  fromLimit,
  multiply,
  onlySources,
  subtract,
  withSource,
  type Terms,
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
import {
  statedReading,
  type LaneSeries,
  type LaneSetup,
  type ProbeSetup,
  type RunSeries,
  type RunSetup,
} from "./setup";

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
  /** Heat that warmed a tank: what flowed is not known; `massFlow` is the tank's water over the length of the span. */
  byTank?: boolean;
}

/** kg/(s·m²), per gross area; NaN where what flowed is not known. */
export const flowPerGrossArea = ({ massFlow, area, grossAreaM2, byTank }: HeatPoint): number =>
  byTank ? NaN : massFlow.value / (grossAreaM2 ?? area.value);

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
  const lanes = new Map(setup.lanes.map((lane) => [lane.lane, knownLane(lane, series)]));
  return windows.flatMap((steady, index) => {
    const shared = sharedMeans(setup, series, steady, index);
    if (!shared) return [];
    const day = localDay(steady.startMs, setup.zone);
    return steady.lanes.flatMap((letter) => {
      const known = lanes.get(letter);
      return (known && lanePoint(setup, series, known, { steady, index, day, shared, options })) ?? [];
    });
  });
}

/** A lane of a run and what of it no window changes. */
interface KnownLane {
  lane: LaneSetup;
  series: LaneSeries | undefined;
  area: Uncertain;
  factor: Uncertain;
}

const knownLane = (lane: LaneSetup, series: RunSeries): KnownLane => ({
  lane,
  series: series.lanes.get(lane.lane),
  area: areaOf(lane),
  factor: meterFactor(lane),
});

interface Span {
  steady: SteadyWindow;
  index: number;
  day: string;
  shared: SharedMeans;
  options: { basis: TemperatureBasis; modifierAt: ModifierAt };
}

/** null where something of the lane is not known in the window. */
function lanePoint(
  setup: RunSetup,
  { stepMs }: RunSeries,
  { lane, series, area, factor }: KnownLane,
  { steady, index, day, shared, options }: Span,
): EfficiencyPoint | null {
  if (!series?.inlet || !series.outlet) return null;
  const letter = lane.lane;
  const noiseOf = (end: "in" | "out") => ({ run: setup.run, window: index, channel: `${letter}/${end}` });
  const inlet = probeMean(series.inlet, steady, lane.inletProbe, noiseOf("in"), letter);
  const outlet = probeMean(series.outlet, steady, lane.outletProbe, noiseOf("out"), letter);
  if (!inlet || !outlet) return null;
  const flow = massFlow(setup, { lane, factor }, series.flow, steady, index, { inlet, outlet, ...shared });
  if (!flow) return null;
  const meanC = (inlet.value + outlet.value) / 2;
  const cp = meanSpecificHeat(lane.fluid, meanC, shared);
  const rise = subtract(outlet, inlet);
  const fanW = series.fanPower ? autocorrelatedMean(series.fanPower.subarray(steady.from, steady.to)).mean : NaN;
  const fan = Number.isNaN(fanW) ? 0 : fanW;
  const { ambient } = shared;
  const mass = flow.massFlow;
  const heat = combine(mass.value * cp.value * rise.value - fan * lane.fanShare, [
    [cp.value * rise.value, mass],
    [mass.value * rise.value, cp],
    [mass.value * cp.value, rise],
  ]);
  const bare = lane.bareShare == null ? null : { emittanceShare: lane.bareShare, tilt: setup.plane.tilt };
  const irradiance = bare ? add(shared.irradiance, netLongWave(bare, ambient.value)) : shared.irradiance;
  const sun = irradiance.value;
  // A bare absorber under too little sun for the sky's cold gives no efficiency that means anything.
  if (!(sun > LEAST_NET)) return null;
  const eta = heat.value / (area.value * sun);
  const x = ((options.basis === "mean" ? meanC : inlet.value) - ambient.value) / sun;
  const fluidTerms: Terms =
    options.basis === "mean"
      ? [
          [0.5 / sun, inlet],
          [0.5 / sun, outlet],
        ]
      : [[1 / sun, inlet]];
  // Field by field: spread into a record of this size, a point takes longer to put down than to reckon.
  return {
    run: setup.run,
    window: index,
    day,
    lane: letter,
    station: lane.station,
    startMs: steady.startMs,
    endMs: steady.endMs,
    irradiance,
    bare,
    ambient,
    inlet,
    outlet,
    rise,
    massFlow: mass,
    indicatedFlow: flow.indicatedFlow,
    density: flow.density,
    specificHeat: cp,
    heat,
    area,
    grossAreaM2: lane.grossAreaM2,
    efficiency: combine(eta, [
      [1 / (area.value * sun), heat],
      [-eta / area.value, area],
      [-eta / sun, irradiance],
    ]),
    modifier: modifierOf(lane, steady, { ...options, seen: shared.suns }),
    reducedTemperature: combine(x, [...fluidTerms, [-1 / sun, ambient], [-x / sun, irradiance]]),
    heldGuess: (lane.timeConstantS * mass.value * cp.value) / area.value,
    drift: slope(series.outlet, steady) / (stepMs / 1000),
    wind: shared.wind,
    fanW,
    checks: steady.checks.filter((c) => c.lane === null || c.lane === letter),
  };
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
  const { key: sensor, limitShare, sensorShare = limitShare } = setup.sunSensor;
  const gain = withSource(sun.mean, fromLimit(sensorShare * sun.mean), {
    kind: "sunSensor",
    sensor,
    owner: "",
    dof: Infinity,
  });
  const moved = series.transposition
    ? autocorrelatedMean(series.transposition.subarray(steady.from, steady.to)).mean
    : 0;
  const plane = withSource(0, moved * sun.mean || 0, { kind: "transposition", sensor, owner: "", dof: Infinity });
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
      [1, plane],
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
  { lane, factor }: Pick<KnownLane, "lane" | "factor">,
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
  if (!countsVolume(lane)) return { indicatedFlow, density, massFlow: multiply(factor, indicatedFlow) };
  const mass = combine(density.value * factor.value * indicatedFlow.value, [
    [factor.value * indicatedFlow.value, density],
    [density.value * indicatedFlow.value, factor],
    [density.value * factor.value, indicatedFlow],
  ]);
  return { indicatedFlow, density, massFlow: mass };
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
      { b0: lane.b0 + by, b0Across: lane.b0Across == null ? null : lane.b0Across + by, slanted: lane.slanted },
      options.seen,
    );
  const standard = Math.abs(moved(u) - moved(-u)) / 2;
  return withSource(K, standard, { kind: "incidence", variant: lane.variant, owner: lane.lane, dof: Infinity });
}
