import type { SunPanel } from "./sunFan";
import type { StoreSpec } from "./store";

/** Efficiency curve on the mean-fluid basis, per area `areaM2`, K of the light already in the light. */
export interface CurveNumbers {
  eta0: number;
  /** W/(m²·K) */
  a1: number;
  /** W/(m²·K²) */
  a2: number;
}

/**
 * The same collector on the mean-fluid basis: its mean temperature lies half its own rise above the inlet (DB 6.20, written for a
 * linear curve). @param flowWK W/K of the stream per m² @returns null where the stated loss is more than the stream could carry
 */
export function onMeanBasis(c: CurveNumbers, flowWK: number): CurveNumbers | null {
  const share = c.a1 / (2 * flowWK);
  if (!(share < 1)) return null;
  const factor = 1 / (1 - share);
  return { eta0: c.eta0 * factor, a1: c.a1 * factor, a2: c.a2 * factor };
}

export interface Stage {
  /** W/K of the stream: mass flow times specific heat. */
  flowWK: number;
  /** Electric, W. */
  powerW: number;
  /** More of it while the stream passes a bin of stones, W. */
  bedW: number;
}

export type Control =
  /** Runs while the box is warmer than what it heats, by so much to begin and so much to go on. */
  | { kind: "difference"; onK: number; offK: number }
  /** A thermostat pair or snap switch on the box: on above, off below. */
  | { kind: "thermostat"; onC: number; offC: number }
  /** The fan's own panel: its speed follows the sun, and nothing stops it. */
  | { kind: "sun" };

/** Pipe or duct between collector and use. */
export interface Run {
  /** There and back, W/K. */
  supplyWK: number;
  returnWK: number;
  /** Share of the flow that leaks out on the way there and is made good by outside air. */
  leakShare: number;
}

export type Use =
  | {
      kind: "room";
      /** To outside, W/K, air changes included. */
      lossWK: number;
      /** Air, furniture and inner surfaces that follow the air, J/K; and walls and floors behind, with what joins them, W/K. */
      airJK: number;
      massJK: number;
      joinWK: number;
      /** People, lamps, sun through windows per W/m² on the horizontal. */
      gainsW: number;
      sunM2: number;
      setC: number;
      /** Above it heat is let out. */
      capC: number;
      /** False: nothing else heats it, as in a greenhouse; the heat it lacks is still counted. */
      heated: boolean;
    }
  /** Outside air that must come in anyway. */
  | { kind: "freshAir"; flowWK: number; setC: number; fromHour: number; toHour: number }
  /** Outside air blown through fleece, hay or herbs. */
  | {
      kind: "drying";
      flowKgS: number;
      /** Water to take away a day, by month, kg. */
      waterKg: readonly number[];
      /** Share of what the air could take up that it does. */
      pickUp: number;
      /** Where the climate does not say, 0 to 1. */
      humidity: number;
      pressurePa: number;
      /** Wool felts and herbs brown above it. */
      capC: number;
    }
  /** Needs a water store. */
  | {
      kind: "hotWater";
      litresADay: number;
      /** By month. */
      coldC: readonly number[];
      wantedC: number;
      /** The pump stops above it. */
      capC: number;
      /** Share of the day's draw by hour, sums to 1. */
      profile: readonly number[];
    };

export const MODES = ["heat", "heatAndCharge", "charge", "off"] as const;
export type Mode = (typeof MODES)[number];

/** A row of boxes in one stream that look one way. */
export interface Field {
  /** Of all boxes, and how many stand one behind the other in the stream. */
  areaM2: number;
  inSeries: number;
  curve: CurveNumbers;
  /** J/K of all boxes. */
  capacityJK: number;
  /** Light after incidence modifier, per m², by hour, W/m²; and as it falls, for the panel of the fan. */
  light: Float64Array;
  plainLight: Float64Array;
  /** Of the whole flow; rows side by side share it. */
  flowShare: number;
}

export interface HeatingSystem {
  rows: readonly Field[];
  /** Lowest first; at least one. */
  stages: readonly Stage[];
  /** The second stage runs above it, °C of the box; ignored with one. */
  stageC: number;
  control: Control;
  /** Panel and starting light of a fan on the sun. */
  panel: SunPanel | null;
  run: Run;
  /** Air-to-water exchanger between: ε; null for none. */
  exchanger: number | null;
  use: Use;
  store: StoreSpec;
  modes: readonly Mode[];
  /** Without flow above it something in the box is harmed, °C; null when nobody knows. */
  limitC: number | null;
}

/** Effectiveness of a counterflow exchanger (Kays & London 1984). @param ratio smaller over larger capacity rate, 0 to 1 */
export function effectiveness(ntu: number, ratio: number): number {
  if (Math.abs(1 - ratio) < 1e-9) return ntu / (1 + ntu);
  const e = Math.exp(-ntu * (1 - ratio));
  return (1 - e) / (1 - ratio * e);
}
