import type { TemperatureBasis } from "../../analysis/heat";
import type { OperatingPoint } from "../../analysis/setup";
import type { QuantityId } from "../../quantity/quantities";
import type { Uncertain } from "../../uncertainty/uncertain";
import type { MethodSpan } from "./span";

/** What a method can say of a lane, or of one lane against another. */
export type FindingName =
  | "eta0"
  | "a1"
  | "a2"
  | "a3"
  | "a5"
  | "tau"
  | "heatAtPoint"
  | "difference"
  | "b0"
  | "b0Across"
  | "stagnationC"
  | "warmUp"
  | "tankLoss"
  | "eventRatio"
  | "flowExponent"
  | "flowAtSun"
  | "startSun"
  | "onShare"
  | "startsPerHour"
  | "dayEfficiency"
  | "slope"
  | "dailyLoss"
  | "perMetre"
  | "leakShare"
  | "laterShare"
  | "meltHeat"
  | "meltEfficiency";

export interface Finding {
  name: FindingName;
  lane: string;
  /** The lane it is held against. */
  other?: string;
  figure: Uncertain;
  quantity: QuantityId;
  /** What it rests on. */
  days: number;
  hours: number;
  /** Of an event: which kind, and when it was first marked. */
  event?: { kind: string; atMs: number; times: number };
}

/** Why a method says nothing of a lane. */
export type GapReason =
  | "noSun"
  | "noAmbient"
  | "fewHours"
  | "fewDays"
  | "alike"
  | "noPlate"
  | "neverStill"
  | "noStep"
  | "noTank"
  | "noTankMass"
  | "noEvent"
  | "flowSteady"
  | "angleNarrow"
  | "oneDay"
  | "oneMeter"
  | "notFed"
  | "notMelted";

export interface Gap {
  lane: string | null;
  why: GapReason;
}

export interface Found {
  findings: Finding[];
  gaps: Gap[];
}

/** What lanes are, as far as a method asks. */
export interface MethodLane {
  lane: string;
  variant: string;
  /** Water in the tank its loop heats, with its ± share; null where nobody said. */
  tank: { massKg: number; limitShare: number; iceKg?: number } | null;
  /** Length of pipe or hose that is the absorber, m; null where it is none. */
  pipeM: number | null;
  /** What its drawing says its loss is, W/(m²·K) with its ± and W/(m²·K²), on the area of its heat; null or left out where it is not drawn. */
  drawn?: DrawnLoss | null;
}

/** q falls by a1·θ + a2·θ². */
export interface DrawnLoss {
  a1: Uncertain;
  a2?: number;
}

export interface FinderInput {
  spans: readonly MethodSpan[];
  lanes: readonly MethodLane[];
  basis: TemperatureBasis;
  operatingPoint: OperatingPoint;
  /** Standard share by which places of the bench may differ. */
  stationShare: number;
}

/** Pure: what a method finds in all runs of an experiment together. */
export type Finder = (input: FinderInput) => Found;

/** What each lane has, method by method: a finding or the reason why there is none. */
export function eachLane(input: FinderInput, of: (lane: MethodLane) => Finding[] | GapReason): Found {
  const out: Found = { findings: [], gaps: [] };
  for (const lane of input.lanes) {
    const found = of(lane);
    if (typeof found === "string") out.gaps.push({ lane: lane.lane, why: found });
    else out.findings.push(...found);
  }
  const same = out.gaps.length === input.lanes.length && new Set(out.gaps.map((g) => g.why)).size === 1;
  return same && out.gaps.length > 1 ? { ...out, gaps: [{ lane: null, why: out.gaps[0].why }] } : out;
}

/** Things by a key, in the order in which keys first come. */
export function grouped<T, K>(things: Iterable<T>, key: (thing: T) => K): Map<K, T[]> {
  const out = new Map<K, T[]>();
  for (const thing of things) {
    const k = key(thing);
    const own = out.get(k);
    if (own) own.push(thing);
    else out.set(k, [thing]);
  }
  return out;
}
