import type { Slanted } from "../optics/covers";
import { density, specificHeat, type Fluid } from "../fluids/fluid";
import { airSpecificHeat, standardPressure, warmedHumidity } from "../fluids/moistAir";
import { seededRandom, type Random } from "../random/seededRandom";
import { incidenceModifier, overallModifier, type PlaneIrradiance } from "../sun/clearSky";
import { hingedPlace, mirrorBeam, sunFrom, type HingedMirror, type Opening } from "../mirror/geometry";
import type { Place, Plane } from "../sun/position";
import { startOfDay } from "../log/zone";
import { lightInPlane, weatherProcess, type RigDay, type RigLight } from "./weather";

const { exp, max } = Math;

/**
 * A simulated collector: an absorber node with the box's front mass, a back node behind the insulation, and an air
 * stream with negligible capacity, so that in steady state η = F′(τα)K − F′U·(Tm − Ta)/G exactly, with F′ = h/(h + U).
 */
export interface RigCollector {
  /** Transmittance–absorptance product at normal incidence. */
  tauAlpha: number;
  /** Absorber to air stream, W/(m²·K), at the reference flow; grows with flow^0.8. */
  streamTransfer: number;
  referenceFlowPerArea: number;
  /** Front loss: constant, per m/s of wind, per K of absorber over ambient; W/(m²·K …). */
  frontLoss: number;
  windLoss: number;
  temperatureLoss: number;
  /** Absorber to back node and back node to ambient, W/(m²·K). */
  backInner: number;
  backOuter: number;
  /** Heat capacity of absorber node and back node, J/(m²·K). */
  capacity: number;
  backCapacity: number;
  b0: number;
  /** Light beyond 60°; left out: as through one clear glass. */
  slanted?: Slanted;
}

export interface RigLane {
  lane: string;
  collector: RigCollector;
  areaM2: number;
  station: number;
  /** Set mass flow, kg/s, before the station's own share. */
  massFlowKgPerS: number;
  mirror?: RigMirror;
  tank?: RigTank;
}

/** A mirror along an edge of the box, up in some spans and folded away else. The sun sensor stands beside it and sees nothing of it. */
export interface RigMirror {
  box: Opening;
  hinged: HingedMirror;
  reflectance: number;
  up: readonly { fromMs: number; toMs: number }[];
}

/** A stirred tank whose water goes round through the box while the sun shines. */
export interface RigTank {
  massKg: number;
  /** Loss of the tank alone, W/K. */
  lossWK: number;
  fromC: number;
}

/** The pump of a tank's loop runs above this irradiance, W/m². */
const PUMP_SUN = 60;

/** One place on the bench with its fixed instruments. Errors are drawn from the stated limits. */
export interface RigStation {
  inletBiasK: number;
  outletBiasK: number;
  speedGain: number;
  profileFactor: number;
  /** Share by which heat differs at this place (draught, shade, view). */
  heatShare: number;
}

export interface RigInstruments {
  sunGain: number;
  ambientBiasK: number;
  probeNoiseK: number;
  probeLagS: number;
  probeResolutionK: number;
  speedNoiseShare: number;
  speedResolution: number;
  sunNoise: number;
}

export interface RigFault {
  kind: "errorCode" | "stuck" | "fanSag" | "powerUp";
  lane: string;
  probe: "inlet" | "outlet";
  fromMs: number;
  toMs: number;
  /** Fan sag as a share of flow. */
  share?: number;
}

export interface RigScenario {
  seed: number;
  place: Place;
  plane: Plane;
  zone: string;
  linkeTurbidity: number;
  stepS: number;
  /** Local hours logged, from and to. */
  hours: [number, number];
  days: RigDay[];
  lanes: RigLane[];
  stations: ReadonlyMap<number, RigStation>;
  instruments: RigInstruments;
  /** Warming of the shared inlet plenum above ambient by local hour, K. */
  inletProgram: readonly { fromHour: number; aboveAmbientK: number }[];
  duct: { areaM2: number };
  /** Air unless said; a liquid's lanes log volume per second in place of a speed. */
  fluid?: Fluid;
  faults: readonly RigFault[];
}

export interface RigLog {
  times: Float64Array;
  shared: Record<"irradiance" | "ambient" | "wind" | "humidity", Float64Array>;
  lanes: Map<string, Record<"inlet" | "outlet" | "speed", Float64Array>>;
  /** Water temperature of each lane's tank, where it has one. */
  tanks: Map<string, Float64Array>;
  /** Nobody at the bench knows these: kept for tests and for practice. */
  truth: { irradiance: Float64Array; heat: Map<string, Float64Array>; wind: number };
}

/** Runs the bench through its days. Same scenario, same log, on any computer. */
export function simulateRig(scenario: RigScenario): RigLog {
  const random = seededRandom(scenario.seed);
  const stepMs = scenario.stepS * 1000;
  const perDay = Math.round(((scenario.hours[1] - scenario.hours[0]) * 3600) / scenario.stepS);
  const n = perDay * scenario.days.length;
  const column = () => new Float64Array(n);
  const log: RigLog = {
    times: column(),
    shared: { irradiance: column(), ambient: column(), wind: column(), humidity: column() },
    lanes: new Map(scenario.lanes.map((l) => [l.lane, { inlet: column(), outlet: column(), speed: column() }])),
    tanks: new Map(scenario.lanes.flatMap((l) => (l.tank ? [[l.lane, column()]] : []))),
    truth: { irradiance: column(), heat: new Map(scenario.lanes.map((l) => [l.lane, column()])), wind: 0 },
  };
  const pressurePa = standardPressure(scenario.place.altitudeM);
  const { fluid = { kind: "air" } } = scenario;
  let windSum = 0;
  let i = 0;
  for (const day of scenario.days) {
    const start = startOfDay(day.dateMs, scenario.zone) + scenario.hours[0] * 3600000;
    const weather = weatherProcess(day, random, scenario.stepS);
    const states = scenario.lanes.map((l) => ({
      tank: l.tank?.fromC ?? NaN,
      plate: day.meanAmbientC,
      back: day.meanAmbientC,
      inletProbe: NaN,
      outletProbe: NaN,
      flowDrift: 0,
    }));
    let plenum = day.meanAmbientC;
    for (let k = 0; k < perDay; k++, i++) {
      const timeMs = start + k * stepMs;
      const hour = scenario.hours[0] + (k * scenario.stepS) / 3600;
      const w = weather(hour);
      const light = lightInPlane(timeMs, scenario, w.clearness);
      log.times[i] = timeMs;
      log.truth.irradiance[i] = light.total;
      windSum += w.wind;
      const program = [...scenario.inletProgram].reverse().find((p) => hour >= p.fromHour);
      const target = w.ambient + (program?.aboveAmbientK ?? 0);
      plenum += (target - plenum) * (1 - exp(-scenario.stepS / 180)) + 0.01 * random.normal();
      const { instruments } = scenario;
      log.shared.irradiance[i] = round(
        max(
          0,
          light.total * (1 + instruments.sunGain) + (light.total > 1 ? instruments.sunNoise * random.normal() : 0),
        ),
        0.1,
      );
      log.shared.ambient[i] = round(w.ambient + instruments.ambientBiasK + 0.05 * random.normal(), 0.01);
      log.shared.wind[i] = round(w.wind, 0.1);
      log.shared.humidity[i] = round(w.humidity, 0.001);
      scenario.lanes.forEach((lane, j) => {
        const station = scenario.stations.get(lane.station)!;
        const state = states[j];
        const sag = scenario.faults.find(
          (f) => f.kind === "fanSag" && f.lane === lane.lane && timeMs >= f.fromMs && timeMs < f.toMs,
        );
        state.flowDrift +=
          -state.flowDrift * (scenario.stepS / 600) + 0.0008 * Math.sqrt(scenario.stepS / 10) * random.normal();
        const still = lane.tank !== undefined && light.total < PUMP_SUN;
        const flow = still ? 0 : lane.massFlowKgPerS * (1 + state.flowDrift) * (1 - (sag?.share ?? 0));
        const inlet = lane.tank ? state.tank : plenum;
        const streamAt = (temperatureC: number) => ({
          temperatureC,
          pressurePa,
          relativeHumidity: warmedHumidity(w.humidity, w.ambient, temperatureC),
        });
        const cp = specificHeat(fluid, streamAt(inlet + (fluid.kind === "air" ? 10 : 2)));
        const step = collectorStep(lane.collector, state, {
          light,
          mirrored: lane.mirror ? mirroredLight(lane.mirror, scenario.plane, timeMs, light) : null,
          b0: lane.collector.b0,
          tilt: scenario.plane.tilt,
          ambient: w.ambient,
          wind: w.wind,
          inlet,
          flowPerArea: flow / lane.areaM2,
          stepS: scenario.stepS,
          cp,
        });
        const heat = step.heatPerArea * (1 + station.heatShare);
        // Without flow the water in the box is as warm as the box.
        const outlet = flow > 0 ? inlet + (heat * lane.areaM2) / (flow * cp) : state.plate;
        if (lane.tank) {
          state.tank = tankAfter(lane.tank, state.tank, {
            heatW: flow > 0 ? heat * lane.areaM2 : 0,
            ambientC: w.ambient,
            capacity: lane.tank.massKg * cp,
            stepS: scenario.stepS,
          });
          log.tanks.get(lane.lane)![i] = round(state.tank + instruments.probeNoiseK * random.normal(), 0.01);
        }
        log.truth.heat.get(lane.lane)![i] = heat;
        const volume = flow / density(fluid, streamAt(outlet));
        const meanSpeed = fluid.kind === "air" ? volume / scenario.duct.areaM2 : volume;
        const columns = log.lanes.get(lane.lane)!;
        const lag = 1 - exp(-scenario.stepS / max(1e-6, instruments.probeLagS));
        state.inletProbe = following(state.inletProbe, inlet, lag);
        state.outletProbe = following(state.outletProbe, outlet, lag);
        const read = readBy(station, instruments, random);
        columns.inlet[i] = read.probe(state.inletProbe, station.inletBiasK);
        columns.outlet[i] = read.probe(state.outletProbe, station.outletBiasK);
        columns.speed[i] = read.speed(meanSpeed);
      });
    }
  }
  log.truth.wind = windSum / max(1, n);
  applyFaults(log, scenario.faults);
  return log;
}

export const round = (value: number, step: number) => (step > 0 ? Math.round(value / step) * step : value);

/** A probe follows by a share of what it lacks; the first time it is there. */
const following = (shown: number, real: number, share: number): number =>
  Number.isNaN(shown) ? real : shown + share * (real - shown);

/** What the instruments of a place make of what is there. */
const readBy = (station: RigStation, instruments: RigInstruments, random: Random) => ({
  probe: (atC: number, biasK: number) =>
    round(atC + biasK + instruments.probeNoiseK * random.normal(), instruments.probeResolutionK),
  speed: (mean: number) => {
    const noise = 1 + instruments.speedNoiseShare * random.normal();
    return round(max(0, (mean / station.profileFactor) * (1 + station.speedGain) * noise), instruments.speedResolution);
  },
});

/** A tank's water after a step: what the box gave less what the tank lost. */
const tankAfter = (
  { lossWK }: RigTank,
  nowC: number,
  { heatW, ambientC, capacity, stepS }: { heatW: number; ambientC: number; capacity: number; stepS: number },
): number => nowC + ((heatW - lossWK * (nowC - ambientC)) * stepS) / capacity;

/** What a mirror throws into the opening, spread over all of it. */
function mirroredLight(mirror: RigMirror, plane: Plane, timeMs: number, light: RigLight) {
  if (!mirror.up.some((u) => timeMs >= u.fromMs && timeMs < u.toMs)) return null;
  const { lit, cosine } = mirrorBeam(mirror.box, hingedPlace(mirror.box, mirror.hinged), sunFrom(plane, light.sun));
  return {
    added: mirror.reflectance * light.beamNormal * lit * cosine,
    incidence: (Math.acos(cosine) * 180) / Math.PI,
  };
}

interface NodeState {
  plate: number;
  back: number;
}

/** One implicit step of the two nodes; returns the heat to the stream, W/m². */
function collectorStep(
  c: RigCollector,
  state: NodeState,
  at: {
    light: PlaneIrradiance;
    /** Light of a mirror on the whole opening, W/m², and its incidence, degrees. */
    mirrored: { added: number; incidence: number } | null;
    b0: number;
    tilt: number;
    ambient: number;
    wind: number;
    inlet: number;
    flowPerArea: number;
    stepS: number;
    cp: number;
  },
): { heatPerArea: number } {
  const h = c.streamTransfer * (max(1e-9, at.flowPerArea) / c.referenceFlowPerArea) ** 0.8;
  // Stream at its arithmetic mean: q = h(Tp − Tm), Tm = Tin + q/(2ṁ″cp).
  const toStream = 1 / (1 / h + 1 / (2 * max(1e-9, at.flowPerArea) * at.cp));
  const front = c.frontLoss + c.windLoss * at.wind + c.temperatureLoss * max(0, state.plate - at.ambient);
  const thrown = at.mirrored ? at.mirrored.added * incidenceModifier(at.mirrored.incidence, at.b0, c.slanted) : 0;
  const absorbed =
    c.tauAlpha * (at.light.total * overallModifier(at.light, { b0: at.b0, slanted: c.slanted }, at.tilt) + thrown);
  state.back +=
    ((c.backInner * (state.plate - state.back) + c.backOuter * (at.ambient - state.back)) * at.stepS) / c.backCapacity;
  const gain = absorbed + toStream * at.inlet + front * at.ambient + c.backInner * state.back;
  const loss = toStream + front + c.backInner;
  const balance = gain / loss;
  state.plate = balance + (state.plate - balance) * exp((-loss * at.stepS) / c.capacity);
  return { heatPerArea: toStream * (state.plate - at.inlet) };
}

export interface SteadyConditions {
  irradianceWm2: number;
  ambientC: number;
  inletC: number;
  wind: number;
  flowPerArea: number;
}

/** Steady heat per area, W/m², at normal incidence, and the mean stream temperature, °C: what the transient model settles to. */
export function steadyHeat(
  c: RigCollector,
  at: SteadyConditions,
  pressurePa: number,
): { heatPerArea: number; meanC: number } {
  const h = c.streamTransfer * (at.flowPerArea / c.referenceFlowPerArea) ** 0.8;
  const cp = airSpecificHeat({ temperatureC: at.inletC + 10, pressurePa, relativeHumidity: 0.1 });
  const toStream = 1 / (1 / h + 1 / (2 * at.flowPerArea * cp));
  const back = 1 / (1 / c.backInner + 1 / c.backOuter);
  let plate = at.inletC;
  // The front loss depends on the plate it cools; a few substitutions settle it.
  for (let i = 0; i < 60; i++) {
    const U = c.frontLoss + c.windLoss * at.wind + c.temperatureLoss * max(0, plate - at.ambientC) + back;
    plate = (c.tauAlpha * at.irradianceWm2 + toStream * at.inletC + U * at.ambientC) / (toStream + U);
  }
  const heatPerArea = toStream * (plate - at.inletC);
  return { heatPerArea, meanC: at.inletC + heatPerArea / (2 * at.flowPerArea * cp) };
}

/** The straight curve that a perfect test at these conditions finds: least squares through the exact steady efficiencies. @testing */
export function trueCurve(
  c: RigCollector,
  conditions: readonly SteadyConditions[],
  pressurePa: number,
): { eta0: number; a1: number } {
  const points = conditions.map((at) => {
    const { heatPerArea, meanC } = steadyHeat(c, at, pressurePa);
    return { x: (meanC - at.ambientC) / at.irradianceWm2, y: heatPerArea / at.irradianceWm2 };
  });
  const n = points.length;
  const mx = points.reduce((s, p) => s + p.x, 0) / n;
  const my = points.reduce((s, p) => s + p.y, 0) / n;
  const slope =
    points.reduce((s, p) => s + (p.x - mx) * (p.y - my), 0) / points.reduce((s, p) => s + (p.x - mx) ** 2, 0);
  return { eta0: my - slope * mx, a1: -slope };
}

/** What a probe says of itself; the other faults hold its last reading. */
const FAULT_CODES: Partial<Record<RigFault["kind"], number>> = { errorCode: -127, powerUp: 85 };

function applyFaults(log: RigLog, faults: readonly RigFault[]): void {
  for (const fault of faults) {
    if (fault.kind === "fanSag") continue;
    const values = log.lanes.get(fault.lane)?.[fault.probe];
    if (!values) continue;
    let held = NaN;
    for (let i = 0; i < values.length; i++) {
      if (log.times[i] < fault.fromMs || log.times[i] >= fault.toMs) continue;
      if (Number.isNaN(held)) held = values[i];
      values[i] = FAULT_CODES[fault.kind] ?? held;
    }
  }
}

/** Draws a station's hidden errors within the instruments' stated limits. */
export function drawStation(
  random: Random,
  limits: { probeK: number; speedShare: number; profileFactor: number; profileLimit: number; heatShareSd: number },
): RigStation {
  return {
    inletBiasK: random.within(limits.probeK),
    outletBiasK: random.within(limits.probeK),
    speedGain: random.within(limits.speedShare),
    profileFactor: limits.profileFactor + random.within(limits.profileLimit),
    heatShare: limits.heatShareSd * random.normal(),
  };
}
