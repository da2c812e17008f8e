import type { FlowSetup, LaneSetup, RunSetup } from "../analysis/setup";
import type { LoggedChannel } from "../analysis/assemble";
import type { Fluid } from "../fluids/fluid";
import { standardPressure } from "../fluids/moistAir";
import { seededRandom } from "../random/seededRandom";
import type { BathProbe } from "./bath";
import {
  drawStation,
  simulateRig,
  type RigCollector,
  type RigInstruments,
  type RigLog,
  type RigMirror,
  type RigScenario,
  type RigStation,
  type RigTank,
} from "./simulate";

/** Stated accuracies of the bench's instruments: the analysis is told these, the rig draws its errors from them. */
export interface BenchAccuracy {
  probeK: number;
  speedShare: number;
  profileLimit: number;
  sunShare: number;
  ambientK: number;
  /** Station-to-station share of heat, standard. */
  stationShare: number;
}

export const TANSY_RIDGE = { latitude: 46.31, longitude: 9.05, altitudeM: 1120 };
export const BENCH_PLANE = { tilt: 55, azimuth: 180 };
export const BENCH_ZONE = "Europe/Zurich";
const BENCH_DUCT_DIAMETER = 0.125;
const LINKE = 2.7;
const REFERENCE_FLOW = 0.02;
const PROFILE = 0.86;

/** A glazed air collector with a plain corrugated sheet; other shapes are variations of it. */
export const CORRUGATED: RigCollector = {
  tauAlpha: 0.79,
  streamTransfer: 26,
  referenceFlowPerArea: REFERENCE_FLOW,
  frontLoss: 4.4,
  windLoss: 0.35,
  temperatureLoss: 0.012,
  backInner: 0.75,
  backOuter: 9,
  capacity: 4800,
  backCapacity: 3500,
  b0: 0.1,
};

/** Of a box of these parts at the reference flow: capacity over what cools it, 4,800 J/(m²·K) over stream 16, front 5.4 and back 0.7 W/(m²·K). */
const TIME_CONSTANT_S = 220;

export interface BenchRunPlan {
  run: string;
  days: RigScenario["days"];
  /** Station of each lane in this run. */
  stations: Record<string, number>;
  faults?: RigScenario["faults"];
  /** Haze of its days; left out: that of the bench. */
  linkeTurbidity?: number;
}

export interface BenchPlan {
  seed: number;
  accuracy: BenchAccuracy;
  specimens: readonly {
    lane: string;
    variant: string;
    collector: RigCollector;
    areaM2: number;
    massFlowKgPerS: number;
    mirror?: RigMirror;
    tank?: RigTank;
  }[];
  runs: readonly BenchRunPlan[];
  inletProgram: RigScenario["inletProgram"];
  stepS: number;
  hours?: [number, number];
  /** Air unless said. */
  fluid?: Fluid;
  /** Of its boxes, s, where they are not sheets over air. */
  timeConstantS?: number;
}

export interface BenchRun {
  setup: RunSetup;
  channels: LoggedChannel[];
  log: RigLog;
}

const isAir = ({ fluid }: BenchPlan): boolean => !fluid || fluid.kind === "air";

/** The hidden errors of a bench: the same for every call with one plan. */
function drawBench(plan: BenchPlan): { stations: Map<number, RigStation>; instruments: RigInstruments } {
  const random = seededRandom(plan.seed);
  const stationCount = Math.max(...plan.runs.flatMap((r) => Object.values(r.stations)));
  const stations = new Map<number, RigStation>();
  for (let s = 1; s <= stationCount; s++) {
    stations.set(
      s,
      drawStation(random, {
        probeK: plan.accuracy.probeK,
        speedShare: plan.accuracy.speedShare,
        profileFactor: isAir(plan) ? PROFILE : 1,
        profileLimit: isAir(plan) ? plan.accuracy.profileLimit : 0,
        heatShareSd: plan.accuracy.stationShare,
      }),
    );
  }
  const instruments = {
    sunGain: random.within(plan.accuracy.sunShare),
    ambientBiasK: random.within(plan.accuracy.ambientK),
    probeNoiseK: 0.04,
    probeLagS: 15,
    probeResolutionK: 0.01,
    speedNoiseShare: 0.012,
    speedResolution: isAir(plan) ? 0.01 : 1e-8,
    sunNoise: 2,
  };
  return { stations, instruments };
}

/** The bench's own probes, with the errors it hides, ready for a bath. */
export function benchProbes(plan: BenchPlan): BathProbe[] {
  const { stations, instruments } = drawBench(plan);
  const probe = (key: string, offsetK: number): BathProbe => ({
    key,
    offsetK,
    slope: 0,
    lagS: instruments.probeLagS,
    noiseK: instruments.probeNoiseK,
    resolutionK: instruments.probeResolutionK,
  });
  return [
    ...[...stations].flatMap(([n, s]) => [probe(`${n}-in`, s.inletBiasK), probe(`${n}-out`, s.outletBiasK)]),
    probe("ambient", instruments.ambientBiasK),
  ];
}

/** Draws the bench's hidden errors once and simulates all its runs: the instruments stay with their stations. */
export function simulateBench(plan: BenchPlan): BenchRun[] {
  const { stations, instruments } = drawBench(plan);
  return plan.runs.map((run, index) => {
    const log = simulateRig({
      seed: plan.seed * 7919 + index,
      place: TANSY_RIDGE,
      plane: BENCH_PLANE,
      zone: BENCH_ZONE,
      linkeTurbidity: run.linkeTurbidity ?? LINKE,
      stepS: plan.stepS,
      hours: plan.hours ?? [7, 19],
      days: run.days,
      lanes: plan.specimens
        .filter((s) => run.stations[s.lane])
        .map((s) => ({
          lane: s.lane,
          collector: s.collector,
          areaM2: s.areaM2,
          station: run.stations[s.lane],
          massFlowKgPerS: s.massFlowKgPerS,
          mirror: s.mirror,
          tank: s.tank,
        })),
      stations,
      instruments,
      inletProgram: plan.inletProgram,
      fluid: plan.fluid,
      duct: { areaM2: (Math.PI / 4) * BENCH_DUCT_DIAMETER ** 2 },
      faults: run.faults ?? [],
    });
    return {
      setup: benchSetup(plan, run),
      channels: loggedChannels(log, run.stations, isAir(plan) ? "speed" : "volumeFlow"),
      log,
    };
  });
}

/** What a careful builder would tell Bravel about this bench: stated limits, no hidden errors. */
function benchSetup(plan: BenchPlan, run: BenchRunPlan): RunSetup {
  const { accuracy } = plan;
  return {
    run: run.run,
    place: TANSY_RIDGE,
    plane: BENCH_PLANE,
    zone: BENCH_ZONE,
    linkeTurbidity: 3,
    sunSensor: { key: "sun", limitShare: accuracy.sunShare, mounting: "plane" },
    ambientProbe: { key: "ambient", limitK: accuracy.ambientK, resolutionK: 0.01 },
    pressurePa: standardPressure(TANSY_RIDGE.altitudeM),
    pressureLimitPa: 1500,
    relativeHumidity: 0.5,
    humidityLimit: 0.1,
    lanes: plan.specimens
      .filter((s) => run.stations[s.lane])
      .map((s): LaneSetup => {
        const station = run.stations[s.lane];
        return {
          lane: s.lane,
          specimen: s.lane,
          variant: s.variant,
          station,
          fluid: plan.fluid ?? { kind: "air" },
          areaM2: s.areaM2,
          areaLimitShare: 0,
          inletProbe: { key: `${station}-in`, limitK: accuracy.probeK, resolutionK: 0.01 },
          outletProbe: { key: `${station}-out`, limitK: accuracy.probeK, resolutionK: 0.01 },
          flow: flowSetup(plan, station),
          fanShare: 0,
          timeConstantS: plan.timeConstantS ?? TIME_CONSTANT_S,
          b0: 0.1,
          b0Limit: 0.03,
          opticalLimit: null,
        };
      }),
  };
}

function flowSetup(plan: BenchPlan, station: number): FlowSetup {
  const { accuracy } = plan;
  const meter = { key: String(station), at: "outlet" as const, limitShare: accuracy.speedShare, limitFixed: 0 };
  if (!isAir(plan)) return { kind: "volume", meter };
  return {
    kind: "speed",
    duct: { kind: "round", diameterM: BENCH_DUCT_DIAMETER },
    ductLimitM: 0,
    profileFactor: PROFILE,
    profileLimit: accuracy.profileLimit,
    meter,
  };
}

function loggedChannels(log: RigLog, stations: Record<string, number>, flow: "speed" | "volumeFlow"): LoggedChannel[] {
  let id = 0;
  const channel = (kind: LoggedChannel["kind"], lane: string | null, values: Float64Array): LoggedChannel => ({
    id: ++id,
    name: lane ? `${lane} ${kind}` : kind,
    kind,
    station: lane === null ? null : stations[lane],
    times: log.times,
    values,
    clockOffsetMs: 0,
  });
  return [
    ...(["irradiance", "ambient", "wind", "humidity"] as const).map((kind) => channel(kind, null, log.shared[kind])),
    ...[...log.lanes].flatMap(([lane, c]) => [
      channel("inlet", lane, c.inlet),
      channel("outlet", lane, c.outlet),
      channel(flow, lane, c.speed),
    ]),
    ...[...log.tanks].map(([lane, values]) => channel("tank", lane, values)),
  ];
}
