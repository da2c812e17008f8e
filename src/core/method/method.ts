import type { Finder } from "./find/finding";

/** What a method needs to be measured with. */
export type Need =
  | "probes"
  | "ambientProbe"
  | "sunSensor"
  | "flowMeter"
  | "logger"
  | "inletHeater"
  | "waterTank"
  | "balance"
  | "opaqueCover"
  | "mirror"
  | "smoke"
  | "bath"
  | "wind"
  | "layerProbes";

/** What can go wrong for people or boxes at the bench. */
export type Risk =
  | "hotSurfaces"
  | "stagnation"
  | "concentratedLight"
  | "scald"
  | "mainsDamp"
  | "glassLifting"
  | "smoke"
  | "freezing"
  | "darkWork"
  | "cloudsSpoil"
  | "longDay";

export interface Span {
  fromMs: number;
  toMs: number;
}

export type EntryKind = "check" | "swap" | "settle" | "measure" | "step" | "close" | "bath";
/** What is turned for an entry: mirror on or off, flow off, cover on or off, box sideways. */
export type EntryState =
  "mirrorOn" | "mirrorOff" | "flowOff" | "coverOn" | "coverOff" | "cooling" | "normal" | "sideways";

export interface Hour extends Span {
  kind: EntryKind;
  /** Inlet above ambient, K, for a steady level; null elsewhere. */
  levelK: number | null;
  /** Averaging windows that fit. */
  windows: number;
  state: EntryState | null;
}

/** What a method plans a day with. */
export interface PlanningDay {
  /** Spans that are clear, unshaded and free, in order. */
  spans: readonly Span[];
  /** Those long enough to settle and average once. */
  long: readonly Span[];
  settleMs: number;
  averageMs: number;
  swapMs: number;
  levelsK: readonly number[];
  swapAtNoon: boolean;
}

/** One test method: what it needs, how it plans its hours, how it reduces a run, what it yields. Its words are in src/words. */
export interface Method {
  /** Which sun it wants: steady and near the normal, any daylight, clear and low or sideways, none above the horizon, or whichever. */
  sky: "steadyNormal" | "daylight" | "sideways" | "dark" | "none";
  needs: readonly Need[];
  risks: readonly Risk[];
  /** Days without which it yields nothing. */
  leastDays: number;
  /** What is compared: many windows a day, one figure a day, or one figure a run. */
  figures: "windows" | "days" | "run";
  /** Lanes can be compared by it, so that swaps and days needed make sense. */
  compares: boolean;
  /** Its figures are those of the steady curve, found another way: they stand beside it. */
  besideCurve?: true;
  /** Hours of a day, without what goes before the first (swap, check) and after the last; empty when the day is of no use. */
  hours(day: PlanningDay): Hour[];
  /** Fetch what reads its figures out of all runs of an experiment. Empty for the steady one, whose windows every run is reduced to, and for what only a person can read: a bath. */
  finders: readonly (() => Promise<Finder>)[];
}

export const MINUTE = 60000;
export const BASIC: readonly Need[] = ["probes", "ambientProbe", "sunSensor", "flowMeter", "logger"];

/** An hour of a kind; what does not apply to it is null or 0. */
export const hour = (
  kind: EntryKind,
  fromMs: number,
  toMs: number,
  more: Partial<Pick<Hour, "levelK" | "windows" | "state">> = {},
): Hour => ({ kind, fromMs, toMs, levelK: null, windows: 0, state: null, ...more });

export const longest = (spans: readonly Span[]): Span | undefined =>
  [...spans].sort((a, b) => b.toMs - b.fromMs - (a.toMs - a.fromMs))[0];
