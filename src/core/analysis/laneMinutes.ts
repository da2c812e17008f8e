import { density, specificHeat } from "../fluids/fluid";
import { warmedHumidity } from "../fluids/moistAir";
import { blockMeans } from "../log/grid";
import { upperMiddle } from "../numeric/middle";
import { correct } from "../calibration/correction";
import { countsVolume, meterFactor } from "./figures";
import { tankMinutes, type TankLoss } from "./tankMinutes";
import { statedReading, type LaneSetup, type ProbeSetup, type RunSeries, type RunSetup } from "./setup";

/** One lane minute by minute, its probes corrected; NaN where something is not known. */
export interface LaneMinutes {
  lane: LaneSetup;
  inlet: Float64Array;
  outlet: Float64Array;
  /** As the meter shows it. */
  flow: Float64Array;
  /** ṁ, kg/s, and ṁ·cp, W/K. */
  mass: Float64Array;
  capacity: Float64Array;
  /** Heat of the stream, and net of what a fan between the probes gave it, W. */
  stream: Float64Array;
  heat: Float64Array;
  usualFlow: number;
  /** Where heat is counted by the lane's tank. */
  tankLoss?: TankLoss;
}

/** All lanes of a run by the minute, or by the logger's step where that is longer. */
export interface Minutes {
  startMs: number;
  stepMs: number;
  count: number;
  lanes: LaneMinutes[];
  ambient: Float64Array | null;
  irradiance: Float64Array | null;
  pressure: Float64Array | null;
  humidity: Float64Array | null;
}

/** A run's series by the minute, or by the logger's step where that is longer; made of those, they are the same again. */
export function byMinute(series: RunSeries): RunSeries {
  const width = Math.max(1, Math.round(60000 / series.stepMs));
  if (width === 1) return series;
  const block = (a: Float64Array | null) => a && blockMeans(a, width);
  return {
    startMs: series.startMs,
    stepMs: width * series.stepMs,
    irradiance: block(series.irradiance),
    ambient: block(series.ambient),
    wind: block(series.wind),
    humidity: block(series.humidity),
    pressure: block(series.pressure),
    horizontalSun: block(series.horizontalSun ?? null),
    transposition: block(series.transposition ?? null),
    lanes: new Map(
      [...series.lanes].map(([lane, own]) => [
        lane,
        {
          inlet: block(own.inlet),
          outlet: block(own.outlet),
          flow: block(own.flow),
          fanPower: block(own.fanPower),
          ...(own.tank ? { tank: block(own.tank) } : {}),
        },
      ]),
    ),
  };
}

/** Minute means of every lane whose heat can be reckoned. */
export function minutesOf(setup: RunSetup, logged: RunSeries): Minutes {
  const series = byMinute(logged);
  const { startMs, stepMs, ambient, irradiance, pressure, humidity } = series;
  const shared = { ambient, irradiance, pressure, humidity };
  const lanes = setup.lanes.flatMap((lane) => {
    const own = series.lanes.get(lane.lane);
    if (lane.flow.kind === "tank")
      return own?.tank
        ? [tankMinutes(setup, lane, lane.flow.massKg, { startMs, stepMs, tank: own.tank, ambient })]
        : [];
    if (!own?.inlet || !own.outlet || (!own.flow && statedReading(lane.flow) === null)) return [];
    const { inlet, outlet, flow, fanPower } = own;
    return [laneMinutes(setup, lane, shared, { inlet, outlet, flow, fan: fanPower })];
  });
  // A tank may be all that was logged of a lane.
  const count = lanes[0]?.heat.length ?? irradiance?.length ?? ambient?.length ?? 0;
  return { startMs, stepMs, count, lanes, ...shared };
}

function laneMinutes(
  setup: RunSetup,
  lane: LaneSetup,
  shared: Pick<Minutes, "ambient" | "pressure" | "humidity">,
  logged: { inlet: Float64Array; outlet: Float64Array; flow: Float64Array | null; fan: Float64Array | null },
): LaneMinutes {
  const n = logged.inlet.length;
  const corrected = (a: Float64Array, { calibration }: ProbeSetup) =>
    calibration ? a.map((v) => correct(calibration.correction, v)) : a;
  const inlet = corrected(logged.inlet, lane.inletProbe);
  const outlet = corrected(logged.outlet, lane.outletProbe);
  const { flow: meter } = lane;
  const flow = logged.flow ?? new Float64Array(n).fill(statedReading(meter) ?? NaN);
  const factor = meterFactor(lane).value;
  const volume = countsVolume(lane);
  const [mass, capacity, stream, heat] = [0, 0, 0, 0].map(() => new Float64Array(n).fill(NaN));
  for (let i = 0; i < n; i++) {
    if (Number.isNaN(inlet[i] + outlet[i] + flow[i])) continue;
    const pressurePa = known(shared.pressure?.[i], setup.pressurePa);
    const humidity = known(shared.humidity?.[i], setup.relativeHumidity);
    const outsideC = known(shared.ambient?.[i], inlet[i]);
    const state = (temperatureC: number) => ({
      temperatureC,
      pressurePa,
      relativeHumidity: lane.fluid.kind === "air" ? warmedHumidity(humidity, outsideC, temperatureC) : humidity,
    });
    const rho = volume ? density(lane.fluid, state(meter.meter.at === "inlet" ? inlet[i] : outlet[i])) : 1;
    mass[i] = rho * factor * flow[i];
    capacity[i] = mass[i] * specificHeat(lane.fluid, state((inlet[i] + outlet[i]) / 2));
    stream[i] = capacity[i] * (outlet[i] - inlet[i]);
    heat[i] = stream[i] - lane.fanShare * known(logged.fan?.[i], 0);
  }
  return { lane, inlet, outlet, flow, mass, capacity, stream, heat, usualFlow: usual(flow) };
}

const known = (value: number | undefined, otherwise: number): number =>
  value === undefined || Number.isNaN(value) ? otherwise : value;

/** Middle of what flows at all. */
const usual = (flow: Float64Array): number => upperMiddle(flow.map(Math.abs), (v) => v > 1e-9) || 0;
