import { HOURS } from "./weather";

/** Flows that a year is made of; each is kept by month in kWh. */
export const FLOWS = [
  /** On the boxes, after the incidence modifier. */
  "light",
  /** What the curve takes up before its losses: η0 of the light. */
  "absorbed",
  "collectorLoss",
  /** Into the stream. */
  "collected",
  "runLoss",
  /** Brought to the use straight from the boxes, and to the store. */
  "toUse",
  "toStore",
  /** Given by the store to the use, its warm skin in the room included. */
  "fromStore",
  "storeLoss",
  /** From what else heats. */
  "missing",
  /** Let out above the cap. */
  "vented",
  /** Sun through windows, people, lamps. */
  "gains",
  /** Through walls and with drawn water or air: what the use itself takes. */
  "used",
  "fan",
] as const;
export type Flow = (typeof FLOWS)[number];

/** kWh by month, January first. */
export type Account = Record<Flow, Float64Array>;

const byFlow = (of: (flow: Flow) => Float64Array): Account =>
  Object.fromEntries(FLOWS.map((f) => [f, of(f)])) as Account;

export const emptySums = (): Account => byFlow(() => new Float64Array(12));

/** @param sums J */
export const accountOf = (sums: Account): Account => byFlow((f) => sums[f].map((j) => j / 3.6e6));

/** Hour by hour for the trace of a day: means over the hour. */
export interface Trace {
  /** W */
  collected: Float32Array;
  toUse: Float32Array;
  toStore: Float32Array;
  missing: Float32Array;
  vented: Float32Array;
  /** °C; NaN where there is none. */
  boxC: Float32Array;
  useC: Float32Array;
  storeC: Float32Array;
  /** Share of the hour the fan ran. */
  running: Float32Array;
}

export const emptyTrace = (): Trace => {
  const row = () => new Float32Array(HOURS);
  return {
    collected: row(),
    toUse: row(),
    toStore: row(),
    missing: row(),
    vented: row(),
    boxC: row(),
    useC: row().fill(NaN),
    storeC: row().fill(NaN),
    running: row(),
  };
};

export const yearOf = (flow: Float64Array): number => flow.reduce((s, x) => s + x, 0);
