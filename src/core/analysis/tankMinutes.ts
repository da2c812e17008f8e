import { correct } from "../calibration/correction";
import { fluidOf, specificHeat } from "../fluids/fluid";
import { sunPosition } from "../sun/position";
import { combine, exact, fromLimit, withSource, type Uncertain } from "../uncertainty/uncertain";
import type { LaneSetup, RunSetup } from "./setup";

/** What a tank itself gives to the air around it. */
export interface TankLoss {
  /** W/K, with its standard uncertainty. */
  wattsPerK: number;
  standard: number;
  /** Nights it was read from; 0 where it is what such tanks usually lose. */
  nights: number;
}

/** Means over so long: a tank warms by tenths of a kelvin. */
const SMOOTH_MS = 660_000;
/** A fall or a jump faster than this is water drawn or filled in, K in ten minutes. */
const DRAWN_K = 0.6;
const FILLED_K = 8;
const TEN_MINUTES = 600_000;
/** The sun below this: nothing circulates, degrees. */
const DARK_DEG = -3;
const LEAST_NIGHT_MS = 3 * 3_600_000;
/** What 120 litres lose, well wrapped to bare, W/K (typical values: 1 to 6), and how it grows with the surface. */
const USUAL = { wattsPerK: 3.5, limit: 2.5, litres: 120 };
/** Where nobody measured the air around, °C, and its ±. */
const AROUND = { temperatureC: 10, limitK: 15 };

/**
 * Heat that a lane's tank took up, minute by minute: Q = m·cp·dT/dt + UA·(T − T_a), with the tank's own UA from its nights where there are any,
 * else what such tanks usually lose, widely. The rise of a minute is that of the water; summed, only the first and last temperature count.
 *
 * @param logged the tank's temperature on the run's minutes, °C; NaN where not known
 */
export function tankMinutes(
  setup: RunSetup,
  lane: LaneSetup,
  massKg: number,
  {
    startMs,
    stepMs,
    tank,
    ambient,
  }: { startMs: number; stepMs: number; tank: Float64Array; ambient: Float64Array | null },
) {
  const { calibration } = lane.inletProbe;
  const read = calibration ? tank.map((v) => correct(calibration.correction, v)) : tank;
  const water = smoothed(read, Math.max(1, Math.round(SMOOTH_MS / stepMs)));
  const ten = Math.max(1, Math.round(TEN_MINUTES / stepMs));
  const n = water.length;
  const drawn = (i: number) => {
    const change = water[Math.min(n - 1, i + ten)] - water[Math.max(0, i)];
    return change < -DRAWN_K || change > FILLED_K;
  };
  const loss = ownLoss({ setup, massKg, startMs, stepMs, water, ambient });
  const [inlet, outlet, flow, mass, capacity, stream, heat] = Array.from({ length: 7 }, () =>
    new Float64Array(n).fill(NaN),
  );
  let drawnUntil = -1;
  for (let i = 0; i + 1 < n; i++) {
    if (drawn(i)) drawnUntil = i + ten + Math.round(SMOOTH_MS / stepMs / 2);
    if (i <= drawnUntil || Number.isNaN(water[i] + water[i + 1])) continue;
    inlet[i] = water[i];
    outlet[i] = water[i + 1];
    mass[i] = massKg / (stepMs / 1000);
    flow[i] = mass[i];
    capacity[i] = mass[i] * waterCp(water[i]);
    stream[i] = capacity[i] * (outlet[i] - inlet[i]);
    heat[i] = stream[i] + loss.wattsPerK * overAround(water[i], ambient?.[i]);
  }
  return {
    lane,
    inlet,
    outlet,
    flow,
    mass,
    capacity,
    stream,
    heat,
    usualFlow: massKg / (stepMs / 1000),
    tankLoss: loss,
  };
}

/** What tanks hold, whatever runs through the box. */
export const TANK_WATER = fluidOf("water");

const waterCp = (temperatureC: number): number =>
  specificHeat(TANK_WATER, { temperatureC, pressurePa: 101325, relativeHumidity: 0 });

const overAround = (waterC: number, outsideC: number | undefined): number =>
  waterC - (outsideC === undefined || Number.isNaN(outsideC) ? AROUND.temperatureC : outsideC);

/** What the tank itself lost over some minutes, W, with its ±. @param outsideC NaN where nobody measured it */
export function tankLost(
  { wattsPerK, standard, nights }: TankLoss,
  lane: string,
  waterC: number,
  outsideC: number,
): Uncertain {
  const over = overAround(waterC, outsideC);
  const of = (name: string, share: number) =>
    withSource(0, standard * share, {
      kind: "tankLoss",
      lane: name,
      owner: name,
      dof: nights > 1 ? nights - 1 : Infinity,
    });
  // Tanks of one bench that nobody measured are alike by half.
  const parts = nights ? [of(lane, 1)] : [of("", Math.SQRT1_2), of(lane, Math.SQRT1_2)];
  const around = Number.isNaN(outsideC)
    ? withSource(0, fromLimit(AROUND.limitK), { kind: "ambient", probe: "around the tanks", owner: "", dof: Infinity })
    : exact(0);
  return combine(wattsPerK * over, [...parts.map((p) => [over, p] as const), [-wattsPerK, around]]);
}

function smoothed(values: Float64Array, width: number): Float64Array {
  const half = width >> 1;
  const out = new Float64Array(values.length).fill(NaN);
  let [sum, known] = [0, 0];
  const add = (i: number, sign: 1 | -1) => {
    if (i < 0 || i >= values.length || Number.isNaN(values[i])) return;
    sum += sign * values[i];
    known += sign;
  };
  for (let i = 0; i < half; i++) add(i, 1);
  for (let i = 0; i < values.length; i++) {
    add(i + half, 1);
    add(i - half - 1, -1);
    // At an edge the mean would lean to one side.
    if (known === 2 * half + 1) out[i] = sum / known;
  }
  return out;
}

interface Cooling {
  setup: RunSetup;
  massKg: number;
  startMs: number;
  stepMs: number;
  water: Float64Array;
  ambient: Float64Array | null;
}

/** The tank's loss by its nights, each from its first to its last dark minute: what the water lost over what it was warmer than outside. */
function ownLoss({ setup, massKg, startMs, stepMs, water, ambient }: Cooling): TankLoss {
  const size = (massKg / USUAL.litres) ** (2 / 3);
  const usual = { wattsPerK: USUAL.wattsPerK * size, standard: fromLimit(USUAL.limit * size), nights: 0 };
  if (!ambient) return usual;
  const ten = Math.max(1, Math.round(TEN_MINUTES / stepMs));
  const nights: { lost: number; degreeS: number }[] = [];
  let open: { from: number; over: number } | null = null;
  const close = (to: number) => {
    if (open && (to - open.from) * stepMs >= LEAST_NIGHT_MS) {
      const fell = water[open.from] - water[to];
      const degreeS = (open.over * stepMs) / 1000;
      if (degreeS > 5 * 3600) nights.push({ lost: massKg * waterCp(water[to]) * fell, degreeS });
    }
    open = null;
  };
  let dark = false;
  for (let i = 0; i < water.length; i++) {
    if (i % ten === 0) dark = sunPosition(startMs + (i + 0.5) * stepMs, setup.place).altitude < DARK_DEG;
    const over = water[i] - ambient[i];
    const fell = i >= ten ? water[i - ten] - water[i] : 0;
    if (!dark || Number.isNaN(over) || fell > DRAWN_K) {
      if (open) close(i - 1);
      continue;
    }
    open ??= { from: i, over: 0 };
    open.over += over;
  }
  if (open) close(water.length - 1);
  const hours = nights.reduce((s, x) => s + x.degreeS, 0);
  if (!nights.length || !(hours > 0)) return usual;
  const wattsPerK = nights.reduce((s, x) => s + x.lost, 0) / hours;
  if (!(wattsPerK > 0)) return usual;
  const own = nights.map((x) => x.lost / x.degreeS);
  const spread =
    nights.length > 1
      ? Math.sqrt(own.reduce((s, v) => s + (v - wattsPerK) ** 2, 0) / (nights.length - 1) / nights.length)
      : 0;
  // A day's wind and a warm loop are not a night's: a tenth besides.
  return { wattsPerK, standard: Math.max(0.1 * wattsPerK, spread), nights: nights.length };
}
