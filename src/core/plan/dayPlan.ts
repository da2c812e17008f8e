import { atMinute, localDay } from "../log/zone";
import type { TestTimes } from "../log/windows";
import { nextDay, sunDay, type SunDay } from "../sun/sunDay";
import type { SiteWorld } from "../site/site";
import type { Station } from "./bench";
import { methodOf, type MethodName } from "../method/list";
import { hour, type EntryKind, type Hour, type Span } from "../method/method";
import { daySky, type DayNeeds, type DaySky } from "./daySky";

const MINUTE = 60000;

/** Times when nobody can be at the bench: once, or every week at the site's clock. */
export type Unavailable =
  | { id: number; kind: "once"; fromMs: number; toMs: number; reason: string }
  /** Weekday 1 (Monday) to 7; minutes of the local day. */
  | { id: number; kind: "weekly"; weekday: number; fromMinute: number; toMinute: number; reason: string };

/** Spans of the day that are taken. */
function unavailableOn(day: SunDay, zone: string, list: readonly Unavailable[]): (Span & { reason: string })[] {
  const weekday = ((new Date(`${localDay(day.startMs + 12 * 3600000, zone)}T12:00:00Z`).getUTCDay() + 6) % 7) + 1;
  return list.flatMap((u) => {
    if (u.kind === "weekly" && u.weekday !== weekday) return [];
    const span =
      u.kind === "once"
        ? u
        : { fromMs: atMinute(day.startMs, u.fromMinute, zone), toMs: atMinute(day.startMs, u.toMinute, zone) };
    if (span.toMs <= day.startMs || span.fromMs >= day.endMs) return [];
    return [{ fromMs: Math.max(span.fromMs, day.startMs), toMs: Math.min(span.toMs, day.endMs), reason: u.reason }];
  });
}

/** What is left of spans when others are taken out. */
export function without(spans: readonly Span[], taken: readonly Span[]): Span[] {
  return taken.reduce<Span[]>(
    (left, t) =>
      left.flatMap((s) =>
        [
          { fromMs: s.fromMs, toMs: Math.min(s.toMs, t.fromMs) },
          { fromMs: Math.max(s.fromMs, t.toMs), toMs: s.toMs },
        ].filter((p) => p.toMs > p.fromMs && p.toMs <= s.toMs && p.fromMs >= s.fromMs),
      ),
    [...spans],
  );
}

export interface PlanEntry extends Hour {
  /** Stable while the plan's settings are: `2026-11-30/measure/2`. */
  id: string;
  /** Moved by hand, minutes. */
  movedMin: number;
  /** At the middle: clear sky in the plane W/m², incidence degrees, and share of the beam. */
  sky: { irradiance: number; incidence: number; beamShare: number } | null;
}

export interface PlanTimes extends TestTimes {
  /** To take boxes from place to place and connect them again, s. */
  swapS: number;
  /** To clean covers, read meters against each other and look for shade, s. */
  checkS: number;
}

const WHOLE = 60000;
const roundUp = (ms: number) => Math.ceil(ms / WHOLE) * WHOLE;

/**
 * The hours of one day for a protocol: what to do when, from the spans that are clear, unshaded and free.
 * Steady spans are cut into inlet levels, each settled and then filled with averaging windows.
 *
 * @param swapBefore lanes change places before the day's first measuring; @param swapAtNoon also in the middle of the longest span
 */
export function dayEntries(
  date: string,
  spans: readonly Span[],
  options: {
    protocol: MethodName;
    times: PlanTimes;
    levelsK: readonly number[];
    swapBefore: boolean;
    swapAtNoon: boolean;
  },
): PlanEntry[] {
  const { times } = options;
  const settleMs = times.settleS * 1000;
  const averageMs = times.averageS * 1000;
  const planned = methodOf(options.protocol).hours({
    spans,
    long: spans.filter((s) => s.toMs - s.fromMs >= settleMs + averageMs),
    settleMs,
    averageMs,
    swapMs: times.swapS * 1000,
    levelsK: options.levelsK,
    swapAtNoon: options.swapAtNoon,
  });
  if (!planned.length) return [];
  const out = [...before(planned, options), ...planned]
    .filter((e) => e.toMs > e.fromMs)
    .map((e) => ({ ...e, fromMs: roundUp(e.fromMs), toMs: roundUp(e.toMs) }));
  if (planned.some((e) => e.kind === "measure" || e.kind === "step")) {
    const end = Math.max(...out.map((e) => e.toMs));
    out.push(hour("close", end, end + 15 * MINUTE));
  }
  const counts = new Map<EntryKind, number>();
  return out
    .sort((a, b) => a.fromMs - b.fromMs)
    .map((e) => {
      const n = (counts.get(e.kind) ?? 0) + 1;
      counts.set(e.kind, n);
      return { ...e, id: `${date}/${e.kind}/${n}`, movedMin: 0, sky: null };
    });
}

/** Swap and check before a day's first measuring; a day without measuring has neither. */
function before(planned: readonly Hour[], { swapBefore, times }: { swapBefore: boolean; times: PlanTimes }): Hour[] {
  if (!planned.some((e) => e.kind === "measure" || e.kind === "step")) return [];
  let start = Math.min(...planned.map((e) => e.fromMs));
  const out: Hour[] = [];
  if (swapBefore) {
    out.push(hour("swap", start - times.swapS * 1000, start));
    start -= times.swapS * 1000;
  }
  out.push(hour("check", start - times.checkS * 1000, start));
  return out;
}

export interface PlanDay {
  date: string;
  sky: DaySky;
  /** Which specimen stands at each station, one row a period (two when lanes swap at noon). */
  order: number[][];
  entries: PlanEntry[];
  windows: number;
  taken: (Span & { reason: string })[];
  conflicts: { entry: string; with: "unavailable" | "entry" | "shade"; reason: string }[];
}

export interface PlanInput {
  site: SiteWorld;
  stations: readonly Station[];
  needs: DayNeeds;
  times: PlanTimes;
  levelsK: readonly number[];
  /** Local date to begin with, `2026-11-30`. */
  startMs: number;
  days: number;
  /** Arrangements by period. */
  order: readonly (readonly number[])[];
  swapAtNoon: boolean;
  unavailable: readonly Unavailable[];
  /** Days whose first entry begins before this are gone. */
  notBeforeMs?: number;
  /** Dates left out by hand, and entries moved by minutes. */
  skipped: readonly string[];
  moved: Readonly<Record<string, number>>;
}

/** Dates the planner tries before it gives up. */
const HORIZON_DAYS = 120;

export interface Passed {
  date: string;
  reason: "skipped" | "unavailable" | "past" | NonNullable<DaySky["none"]>;
}

/** The dated plan: the next days that have a usable span nobody is away in, each with its arrangement and hours; and the days passed over, with the reason. */
export function datedPlan(input: PlanInput): { days: PlanDay[]; passed: Passed[] } {
  const { site, stations, needs } = input;
  const days: PlanDay[] = [];
  const passed: Passed[] = [];
  let period = 0;
  let start = sunDay(input.startMs, site, site.zone).startMs;
  for (let tried = 0; tried < HORIZON_DAYS && days.length < input.days; tried++, start = nextDay(start, site.zone)) {
    const date = localDay(start + 12 * 3600000, site.zone);
    if (input.skipped.includes(date)) {
      passed.push({ date, reason: "skipped" });
      continue;
    }
    const sky = daySky(start, site, stations, needs);
    const taken = unavailableOn(sky.sun, site.zone, input.unavailable);
    const swapBefore = period > 0 && changed(input.order[period - 1], input.order[period]);
    const swapAtNoon = input.swapAtNoon && changed(input.order[period], input.order[period + 1]);
    const raw = dayEntries(date, without(sky.spans, taken), {
      protocol: needs.protocol,
      times: input.times,
      levelsK: input.levelsK,
      swapBefore,
      swapAtNoon,
    });
    if (raw.length === 0) {
      passed.push({ date, reason: sky.none ?? "unavailable" });
      continue;
    }
    if (input.notBeforeMs !== undefined && raw[0].fromMs + (input.moved[raw[0].id] ?? 0) * MINUTE < input.notBeforeMs) {
      passed.push({ date, reason: "past" });
      continue;
    }
    const entries = raw.map((e) => moved(e, input.moved[e.id] ?? 0, sky));
    const periods = input.swapAtNoon ? 2 : 1;
    days.push({
      date,
      sky,
      order: input.order.slice(period, period + periods).map((r) => [...r]),
      entries,
      taken,
      windows: entries.reduce((s, e) => s + (e.kind === "measure" ? e.windows : 0), 0),
      conflicts: conflictsOf(entries, taken, sky),
    });
    period += periods;
  }
  return { days, passed };
}

const changed = (a: readonly number[] | undefined, b: readonly number[] | undefined): boolean =>
  !!a && !!b && a.some((v, i) => v !== b[i]);

function moved(e: PlanEntry, minutes: number, sky: DaySky): PlanEntry {
  const fromMs = e.fromMs + minutes * MINUTE;
  const toMs = e.toMs + minutes * MINUTE;
  const middle = sky.samples.reduce((a, b) =>
    Math.abs(b.ms - (fromMs + toMs) / 2) < Math.abs(a.ms - (fromMs + toMs) / 2) ? b : a,
  );
  return {
    ...e,
    fromMs,
    toMs,
    movedMin: minutes,
    sky: { irradiance: middle.irradiance, incidence: middle.incidence, beamShare: middle.worstShare },
  };
}

function conflictsOf(
  entries: readonly PlanEntry[],
  taken: readonly (Span & { reason: string })[],
  sky: DaySky,
): PlanDay["conflicts"] {
  return entries.flatMap((e, i) => {
    const out: PlanDay["conflicts"] = [];
    const away = taken.find((t) => t.fromMs < e.toMs && t.toMs > e.fromMs);
    if (away) out.push({ entry: e.id, with: "unavailable", reason: away.reason });
    const other = entries.find((o, j) => j !== i && o.fromMs < e.toMs && o.toMs > e.fromMs);
    if (other) out.push({ entry: e.id, with: "entry", reason: other.kind });
    const needsSun = (e.kind === "measure" || e.kind === "step") && e.state !== "cooling" && e.movedMin !== 0;
    if (needsSun && !sky.spans.some((s) => s.fromMs <= e.fromMs && s.toMs >= e.toMs))
      out.push({ entry: e.id, with: "shade", reason: "outside" });
    return out;
  });
}
