import { localDay, startOfDay } from "../log/zone";
import { sunPosition } from "../sun/position";
import { combine, exact, scale, subtract, withSource, fromLimit, type Uncertain } from "../uncertainty/uncertain";
import {
  airOf,
  areaOf,
  countsVolume,
  densityAtMeter,
  meanSpecificHeat,
  meterFactor,
  meterReading,
  probeReading,
} from "./figures";
import type { AssembledRun } from "./assemble";
import { minutesOf, type LaneMinutes, type Minutes } from "./laneMinutes";
import { compareRounds, handReadings, handRows, type HandReading } from "./handReading";
import type { HeatPoint } from "./points";
import { TANK_WATER, tankLost } from "./tankMinutes";
import type { ProbeSetup, RunSeries, RunSetup } from "./setup";
import type { ClockedSeries } from "./sunClock";

/** What one lane gave on one day while all lanes of that day were known, between sunrise and sunset. */
export interface DayHeat {
  run: string;
  day: string;
  lane: string;
  /** Time in which every lane of the day was known, h. */
  hours: number;
  /** J */
  energy: Uncertain;
  /** J/m², energy over the area of the chosen basis. */
  perArea: Uncertain;
  /** Highest ten-minute mean, W. */
  peakW: number;
  /** Sun in the collector plane over the same time, J/m²; null where none was measured. */
  irradiation: Uncertain | null;
  /** Means over the same time, °C; outside NaN where nobody measured it. */
  inletC: number;
  outletC: number;
  ambientC: number;
  /** Minutes without flow while another lane's ran. */
  stoppedMinutes: number;
}

/** Heat by the hour and by the day: needs inlet, outlet and flow of each lane, and no sun. */
export interface HeatRecord {
  /** Hours in which all lanes present were known and warming: one span, one entry a lane. */
  hours: HeatPoint[];
  days: DayHeat[];
  /** What a person read, row by row; empty where a logger did. */
  readings: HandReading[];
  /** Rows read by hand, put together as rounds: one span, one entry a lane. */
  rounds: HeatPoint[];
  /** Hours, or rows read by hand, not compared, by reason. */
  setAside: Partial<Record<HourReason, number>>;
  /** Heat of all lanes together by the minute, W: where no sun was logged it tells the time of day. null without a lane. */
  minutes: ClockedSeries | null;
}
export type HourReason = "gap" | "stopped" | "weak" | "alone";

export const emptyRecord = (): HeatRecord => ({
  hours: [],
  days: [],
  readings: [],
  rounds: [],
  setAside: {},
  minutes: null,
});

const HOUR = 3600000;
/** An hour needs this share of its minutes known in every lane. */
const KNOWN = 0.75;
/** Below this share of the day's best hour the difference of two boxes is mostly what they store and what the probes are off. */
const WEAK = 0.25;
/** Flow below this share of the lane's usual stands still. */
const STILL = 0.05;
const PEAK_MINUTES = 10;

/**
 * Heat of every lane by the hour and by the day, from minute means: Q = Σ ṁ·cp·(Tout − Tin)·Δt − share·fan, as ISO 9806:2017 for
 * one instant, summed so that a flow that follows the sun is counted with the rise it had.
 */
export function heatRecord(setup: RunSetup, series: RunSeries): HeatRecord {
  const minutes = minutesOf(setup, series);
  const out = emptyRecord();
  if (minutes.lanes.length === 0) return out;
  const { startMs, stepMs, count } = minutes;
  const values = Float64Array.from({ length: count }, (_, i) => minutes.lanes.reduce((s, l) => s + l.heat[i], 0));
  out.minutes = { startMs, stepMs, values };
  for (const [day, cells] of daylightByDay(setup, minutes)) {
    const present = minutes.lanes.filter(
      (l) => cells.filter((i) => !Number.isNaN(l.heat[i])).length > cells.length / 4,
    );
    if (present.length === 0) continue;
    out.days.push(...dayHeats(setup, minutes, day, present, cells));
    hoursOf(setup, minutes, day, present, cells, out);
  }
  return out;
}

/** Heat of a run read by hand: its rows as points, and the rounds they make. Hours and days are a logger's. */
export function handRecord(setup: RunSetup, assembled: AssembledRun): HeatRecord {
  const readings = handReadings(setup, handRows(setup, assembled));
  const { rounds, alone } = compareRounds(setup, readings);
  return { ...emptyRecord(), readings, rounds, setAside: alone ? { alone } : {} };
}

const isStill = (l: LaneMinutes, i: number): boolean => Math.abs(l.flow[i]) <= STILL * l.usualFlow;

/** Minutes with the sun above the horizon, by the site's calendar day. */
function daylightByDay(setup: RunSetup, { startMs, stepMs, count }: Minutes): Map<string, number[]> {
  const days = new Map<string, number[]>();
  // The sun's place every tenth minute is exact enough to find the day.
  const stride = Math.max(1, Math.round(600000 / stepMs));
  for (let from = 0; from < count; from += stride) {
    const middle = startMs + (from + stride / 2) * stepMs;
    if (sunPosition(middle, setup.place).altitude <= 0) continue;
    const day = localDay(middle, setup.zone);
    const own = days.get(day) ?? [];
    for (let i = from; i < Math.min(count, from + stride); i++) own.push(i);
    days.set(day, own);
  }
  return days;
}

/** Sums over some minutes of one lane. */
interface Sums {
  minutes: number;
  inlet: number;
  outlet: number;
  flow: number;
  mass: number;
  capacity: number;
  stream: number;
  heat: number;
}

function sumsOver(l: LaneMinutes, cells: readonly number[]): Sums {
  const s: Sums = { minutes: cells.length, inlet: 0, outlet: 0, flow: 0, mass: 0, capacity: 0, stream: 0, heat: 0 };
  for (const i of cells) {
    s.inlet += l.inlet[i];
    s.outlet += l.outlet[i];
    s.flow += l.flow[i];
    s.mass += l.mass[i];
    s.capacity += l.capacity[i];
    s.stream += l.stream[i];
    s.heat += l.heat[i];
  }
  return s;
}

const meanOf = (a: Float64Array | null, cells: readonly number[]): number => {
  const good = a ? cells.map((i) => a[i]).filter((v) => !Number.isNaN(v)) : [];
  return good.length ? good.reduce((s, v) => s + v, 0) / good.length : NaN;
};

/** A lane's means over some minutes, each with what is not known of its instruments. */
function figures(setup: RunSetup, minutes: Minutes, l: LaneMinutes, cells: readonly number[]) {
  const { lane } = l;
  const s = sumsOver(l, cells);
  const n = s.minutes;
  // The corrected mean keeps its value; what is uncertain about it is asked at that mean.
  const probe = (meanC: number, p: ProbeSetup): Uncertain => ({ ...probeReading(meanC, p, lane.lane), value: meanC });
  const inlet = probe(s.inlet / n, lane.inletProbe);
  // A tank has one probe: what it reads wrong by is no part of a rise.
  const outlet = probe(s.outlet / n, l.tankLoss ? lane.inletProbe : lane.outletProbe);
  const outside = meanOf(minutes.ambient, cells);
  const air = {
    ambient: Number.isNaN(outside) ? inlet : exact(outside),
    ...airOf(setup, meanOf(minutes.pressure, cells), meanOf(minutes.humidity, cells)),
  };
  const rho = densityAtMeter(lane.fluid, lane.flow.meter.at === "inlet" ? inlet : outlet, air);
  const cp = meanSpecificHeat(l.tankLoss ? TANK_WATER : lane.fluid, (inlet.value + outlet.value) / 2, air);
  const meter = meterReading(lane, s.flow / n);
  const factor = meterFactor(lane);
  /** Something proportional to the flow, with the flow's sources. */
  const withFlow = (value: number, more: readonly (readonly [number, Uncertain])[] = []) =>
    combine(value, [
      [meter.value === 0 ? 0 : value / meter.value, meter],
      [value / factor.value, factor],
      ...(countsVolume(lane) ? [[value / rho.value, rho] as const] : []),
      ...more,
    ]);
  const massFlow = withFlow(s.mass / n);
  const heat = withFlow(s.stream / n, [
    [s.stream / n / cp.value, cp],
    [s.capacity / n, outlet],
    [-s.capacity / n, inlet],
  ]);
  const lost = l.tankLoss && tankLost(l.tankLoss, lane.lane, inlet.value, outside);
  return {
    inlet,
    outlet,
    // What a tank warmed by is told of the whole span, not of its minutes.
    rise: scale(subtract(outlet, inlet), l.tankLoss ? n : 1),
    massFlow: scale(massFlow, l.tankLoss ? 1 / n : 1),
    specificHeat: cp,
    heat: { value: s.heat / n, parts: lost ? add(heat, lost).parts : heat.parts },
    ...(l.tankLoss ? { byTank: true } : {}),
    area: areaOf(lane),
    grossAreaM2: lane.grossAreaM2,
  };
}

const bothKnown = (lanes: readonly LaneMinutes[], cells: readonly number[]): number[] =>
  cells.filter((i) => lanes.every((l) => !Number.isNaN(l.heat[i])));

function hoursOf(
  setup: RunSetup,
  minutes: Minutes,
  day: string,
  lanes: readonly LaneMinutes[],
  cells: readonly number[],
  out: HeatRecord,
): void {
  const dayStart = startOfDay(minutes.startMs + cells[0] * minutes.stepMs, setup.zone);
  const byHour = new Map<number, number[]>();
  for (const i of cells) {
    const hour = Math.floor((minutes.startMs + (i + 0.5) * minutes.stepMs - dayStart) / HOUR);
    byHour.set(hour, [...(byHour.get(hour) ?? []), i]);
  }
  const perHour = HOUR / minutes.stepMs;
  const aside = (reason: HourReason) => (out.setAside[reason] = (out.setAside[reason] ?? 0) + 1);
  const whole = [...byHour].flatMap(([hour, own]) => {
    const good = bothKnown(lanes, own);
    if (good.length < KNOWN * perHour) {
      aside("gap");
      return [];
    }
    const stopped = lanes.map((l) => good.filter((i) => isStill(l, i)).length / good.length);
    // Where all stand still together, a thermostat or the night did it; where one does, the hour compares fans.
    if (Math.max(...stopped) > 0.25 && Math.min(...stopped) < 0.25) {
      aside("stopped");
      return [];
    }
    const mean = lanes.reduce((s, l) => s + sumsOver(l, good).heat / good.length, 0) / lanes.length;
    return [{ hour, good, mean }];
  });
  const best = Math.max(0, ...whole.map((h) => h.mean));
  for (const { hour, good, mean } of whole) {
    if (!(mean > WEAK * best)) {
      aside("weak");
      continue;
    }
    const startMs = dayStart + hour * HOUR;
    for (const l of lanes)
      out.hours.push({
        run: setup.run,
        window: Math.floor(startMs / HOUR),
        day,
        lane: l.lane.lane,
        station: l.lane.station,
        startMs,
        endMs: startMs + HOUR,
        ...figures(setup, minutes, l, good),
      });
  }
}

function dayHeats(
  setup: RunSetup,
  minutes: Minutes,
  day: string,
  lanes: readonly LaneMinutes[],
  cells: readonly number[],
): DayHeat[] {
  const good = bothKnown(lanes, cells);
  if (good.length === 0) return [];
  const seconds = (good.length * minutes.stepMs) / 1000;
  const lit = minutes.irradiance ? good.filter((i) => !Number.isNaN(minutes.irradiance![i])) : [];
  // A modelled sun knows no clouds: nothing is counted by it.
  const irradiation =
    setup.sunSensor.mounting !== "modelled" && lit.length > KNOWN * good.length
      ? withSunError(setup, meanOf(minutes.irradiance, lit) * seconds)
      : null;
  return lanes.map((l) => {
    const { heat, area, inlet, outlet } = figures(setup, minutes, l, good);
    const energy = scale(heat, seconds);
    return {
      run: setup.run,
      day,
      lane: l.lane.lane,
      hours: seconds / 3600,
      energy,
      perArea: combine(energy.value / area.value, [
        [1 / area.value, energy],
        [-energy.value / area.value ** 2, area],
      ]),
      peakW: peak(l.heat, good, Math.max(1, Math.round((PEAK_MINUTES * 60000) / minutes.stepMs))),
      irradiation,
      inletC: inlet.value,
      outletC: outlet.value,
      ambientC: meanOf(minutes.ambient, good),
      stoppedMinutes:
        (good.filter((i) => isStill(l, i) && lanes.some((o) => o !== l && !isStill(o, i))).length * minutes.stepMs) /
        60000,
    };
  });
}

const withSunError = (setup: RunSetup, value: number): Uncertain =>
  withSource(value, fromLimit(setup.sunSensor.limitShare * value), {
    kind: "sunSensor",
    sensor: setup.sunSensor.key,
    owner: "",
    dof: Infinity,
  });

/** Highest mean of so many minutes in a row. */
function peak(heat: Float64Array, cells: readonly number[], length: number): number {
  let most = -Infinity;
  let sum = 0;
  cells.forEach((i, k) => {
    sum += heat[i];
    if (k >= length) sum -= heat[cells[k - length]];
    if (k >= length - 1 && i - cells[k - length + 1] === length - 1) most = Math.max(most, sum / length);
  });
  return Number.isFinite(most) ? most : cells.reduce((s, i) => s + heat[i], 0) / cells.length;
}

/** Records of one run's arrangements, or of several runs, as one. A day on which specimens swapped is one day. */
export function joinHeat(records: readonly HeatRecord[]): HeatRecord {
  const setAside: HeatRecord["setAside"] = {};
  for (const r of records)
    for (const [reason, n] of Object.entries(r.setAside) as [HourReason, number][])
      setAside[reason] = (setAside[reason] ?? 0) + n;
  const days = new Map<string, DayHeat>();
  for (const d of records.flatMap((r) => r.days)) {
    const key = `${d.run}/${d.day}/${d.lane}`;
    const before = days.get(key);
    days.set(key, before ? bothParts(before, d) : d);
  }
  return {
    hours: records.flatMap((r) => r.hours),
    days: [...days.values()],
    readings: records.flatMap((r) => r.readings),
    rounds: records.flatMap((r) => r.rounds),
    setAside,
    minutes: null,
  };
}

function bothParts(a: DayHeat, b: DayHeat): DayHeat {
  const hours = a.hours + b.hours;
  const mean = (of: (d: DayHeat) => number) => (of(a) * a.hours + of(b) * b.hours) / hours;
  return {
    ...a,
    hours,
    energy: add(a.energy, b.energy),
    perArea: add(a.perArea, b.perArea),
    peakW: Math.max(a.peakW, b.peakW),
    irradiation: a.irradiation && b.irradiation && add(a.irradiation, b.irradiation),
    inletC: mean((d) => d.inletC),
    outletC: mean((d) => d.outletC),
    ambientC: mean((d) => d.ambientC),
    stoppedMinutes: a.stoppedMinutes + b.stoppedMinutes,
  };
}

const add = (a: Uncertain, b: Uncertain): Uncertain =>
  combine(a.value + b.value, [
    [1, a],
    [1, b],
  ]);
