import { emptySums, emptyTrace, type Account, type Trace } from "./account";
import type { HeatingSystem } from "./parts";
import type { RoomState } from "./room";
import { storeOf, type Store } from "./store";
import type { WeatherYear } from "./weather";

/** Seconds of one step, unless said. */
export const STEP = 600;

/** A system on its way through the year. Its parts are written in place: a year is fifty thousand steps. */
export interface Run {
  system: HeatingSystem;
  weather: WeatherYear;
  /** Seconds of a step, and how many make an hour. */
  stepS: number;
  perHour: number;
  store: Store | null;
  room: RoomState;
  /** °C of each box of each row, and where the step would bring them. */
  boxC: Float64Array[];
  nextC: Float64Array[];
  running: boolean;
  /** Stream as it last came to the use or store, °C. */
  supplyC: number;
  /** Water still to be taken away today, kg; and if the same air came unheated. */
  wetKg: number;
  wetPlainKg: number;
  /** Vapour in the outside air today where no hour's humidity is known, Pa. */
  vapourPa: number;
  /** J by flow and month. */
  sums: Account;
  trace: Trace;
  count: Counts;
  /** Of the step: what the control lets happen, and what it came to. */
  now: Now;
}

export interface Counts {
  /** Hours. */
  running: number;
  starts: number;
  /** Switched on and off by turns because neither state holds. */
  hunting: number;
  /** The sun's own fan stood still while the box was 15 K and more above what it heats. */
  stuck: number;
  overLimit: number;
  hottestBoxC: number;
  /** The room below its set point, and the coldest it came. */
  coldHours: number;
  lowestC: number;
  /** Water taken from goods, kg, by month; and what the same air would have taken unheated, in the same hours. */
  driedKg: Float64Array;
  driedPlainKg: Float64Array;
  /** Heat that the stream carried out of a store into boxes cooler than it, kWh. */
  pumpedOutKwh: number;
}

export interface Now {
  month: number;
  outsideC: number;
  toStore: boolean;
  toUse: boolean;
  sinkC: number;
  /** 0 to 1 of the step. */
  duty: number;
  /** While it runs. */
  flowWK: number;
  powerW: number;
  collected: number;
  delivered: number;
  missing: number;
  vented: number;
}

export const emptyCounts = (): Counts => ({
  running: 0,
  starts: 0,
  hunting: 0,
  stuck: 0,
  overLimit: 0,
  hottestBoxC: -Infinity,
  coldHours: 0,
  lowestC: Infinity,
  driedKg: new Float64Array(12),
  driedPlainKg: new Float64Array(12),
  pumpedOutKwh: 0,
});

const beginsAt = (use: HeatingSystem["use"]): number | null => {
  if (use.kind === "room") return use.setC;
  return use.kind === "hotWater" ? use.coldC[0] : null;
};

/** @param stepS seconds of a step: a divisor of an hour */
export function beginRun(system: HeatingSystem, weather: WeatherYear, stepS: number = STEP): Run {
  const { use } = system;
  const startC = beginsAt(use) ?? weather.ambientC[0];
  return {
    system,
    weather,
    stepS,
    perHour: Math.round(3600 / stepS),
    // A rock bin's exchange asks for the flow of air; of the others the stream's capacity is enough.
    store: storeOf(system.store, startC, system.stages[0].flowWK / 1006),
    room: { airC: startC, massC: startC, heater: 0, vented: 0, offered: 0, loss: 0 },
    boxC: system.rows.map((r) => new Float64Array(r.inSeries).fill(weather.ambientC[0])),
    nextC: system.rows.map((r) => new Float64Array(r.inSeries)),
    running: false,
    supplyC: startC,
    wetKg: 0,
    wetPlainKg: 0,
    vapourPa: 0,
    sums: emptySums(),
    trace: emptyTrace(),
    count: emptyCounts(),
    now: {
      month: 0,
      outsideC: 0,
      toStore: false,
      toUse: false,
      sinkC: 0,
      duty: 0,
      flowWK: 0,
      powerW: 0,
      collected: 0,
      delivered: 0,
      missing: 0,
      vented: 0,
    },
  };
}

/** Books power of this step under a flow of `run.sums`: handed over and not looked up by name, a year writes a million of them. */
export function book({ now, stepS }: Run, flow: Float64Array, watts: number): void {
  flow[now.month] += watts * stepS;
}
