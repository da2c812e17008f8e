import { atMinute, localDay } from "../log/zone";
import type { SteadyRules, TestTimes } from "../log/windows";
import { incidenceModifier } from "../sun/clearSky";
import { nextDay, sunDay, type SunDay } from "../sun/sunDay";
import { planeLight, surroundingsOf, type SiteWorld } from "../site/site";
import { shadedBy } from "../site/shade";
import { benchBlockers, type Station } from "./bench";
import { OFF_NORMAL } from "../method/offNormal";
import { methodOf, type MethodName } from "../method/list";
import { hour, type EntryKind, type Hour, type Method, type Span } from "../method/method";

const MINUTE = 60000;
const STEP = 5 * MINUTE;

export interface DaySample {
  ms: number;
  altitude: number;
  azimuth: number;
  /** Clear sky in the plane at the best-lit station, W/m². */
  irradiance: number;
  /** The same without skyline and obstacles. */
  open: number;
  incidence: number;
  /** Share of the beam that reaches the worst-lit and the best-lit station. */
  worstShare: number;
  bestShare: number;
}

export interface DaySky {
  date: string;
  sun: SunDay;
  samples: DaySample[];
  /** Spans in which the protocol can be run on a clear day, and what cut them, in words' keys. */
  spans: Span[];
  /** What shades a station while the sun stands before the glass, by owner. */
  shade: { owner: string; minutes: number; spans: Span[] }[];
  /** Why there is no span, when there is none. */
  none: "polarNight" | "neverDark" | "lowSun" | "shade" | "incidence" | null;
}

export interface DayNeeds {
  protocol: MethodName;
  rules: Pick<SteadyRules, "minIrradiance" | "minModifier">;
  b0: number;
}

/** A station that is hardly shaded may still be compared: this much of the beam may be missing, as much as the flow's own limit. */
const NEARLY_ALL = 0.98;
/** Dusk is over: the sun this far below the horizon, degrees (civil twilight). */
const DARK_DEG = -6;
/** Light that makes a day's heat, W/m² in the plane. */
const DAYLIGHT = 100;

/** The clear sky over the bench on the calendar day of an instant, in steps of 5 minutes, and the spans in which the protocol can be run. */
export function daySky(atMs: number, site: SiteWorld, stations: readonly Station[], needs: DayNeeds): DaySky {
  const sun = sunDay(atMs, site, site.zone);
  const around = stations.map((s) => surroundingsOf(site, sun.startMs + 12 * 3600000, benchBlockers(stations, s)));
  const lights = stations.map((s, i) => planeLight(site, s.receiver, around[i]));
  const free = planeLight({ ...site, detail: { ...site.detail, horizon: [], obstacles: [] } }, stations[0].receiver, {
    horizon: [],
    blockers: [],
  });
  const samples: DaySample[] = [];
  const shade = new Map<string, { minutes: number; spans: Span[] }>();
  for (let ms = sun.startMs; ms <= sun.endMs; ms += STEP) {
    const open = free(ms);
    if (open.sun.altitude <= -1) {
      samples.push({
        ms,
        altitude: open.sun.altitude,
        azimuth: open.sun.azimuth,
        irradiance: 0,
        open: 0,
        incidence: open.incidence,
        worstShare: 0,
        bestShare: 0,
      });
      continue;
    }
    const all = lights.map((l) => l(ms));
    const shares = all.map((l) => l.beamShare);
    const sample: DaySample = {
      ms,
      altitude: open.sun.altitude,
      azimuth: open.sun.azimuth,
      irradiance: Math.max(...all.map((l) => l.total)),
      open: open.total,
      incidence: open.incidence,
      worstShare: Math.min(...shares),
      bestShare: Math.max(...shares),
    };
    samples.push(sample);
    if (sample.worstShare < NEARLY_ALL && open.sun.altitude > 0 && open.incidence < 90) {
      const worst = shares.indexOf(sample.worstShare);
      const owner = shadedBy(open.sun, stations[worst].receiver, around[worst]) ?? "skyline";
      const found = shade.get(owner) ?? { minutes: 0, spans: [] };
      found.minutes += STEP / MINUTE;
      const last = found.spans[found.spans.length - 1];
      if (last?.toMs === ms) last.toMs = ms + STEP;
      else found.spans.push({ fromMs: ms, toMs: ms + STEP });
      shade.set(owner, found);
    }
  }
  const { sky } = methodOf(needs.protocol);
  const spans = skySpans(sky, { sun, samples }, needs);
  const whyNone = () => {
    if (sky === "dark") return "neverDark";
    if (sun.kind === "polarNight") return "polarNight";
    if (samples.some((s) => suits(sky, s, needs, "open"))) return "shade";
    return samples.some((s) => s.open >= needs.rules.minIrradiance) ? "incidence" : "lowSun";
  };
  return {
    date: localDay(sun.startMs + 12 * 3600000, site.zone),
    sun,
    samples,
    spans,
    shade: [...shade].map(([owner, v]) => ({ owner, ...v })),
    none: spans.length ? null : whyNone(),
  };
}

/** The spans of a day that a method can be run in. @testing */
export const skySpans = (
  sky: Method["sky"],
  { sun, samples }: Pick<DaySky, "sun" | "samples">,
  needs: Pick<DayNeeds, "rules" | "b0">,
): Span[] =>
  sky === "none"
    ? [{ fromMs: sun.startMs + 8 * 3600000, toMs: sun.startMs + 20 * 3600000 }]
    : spansOf(samples, (s) => suits(sky, s, needs, "shaded"));

/** Whether a method that wants such a sky can be run at an instant, as the bench stands or if nothing shaded it. */
function suits(
  sky: Method["sky"],
  s: DaySample,
  { rules, b0 }: Pick<DayNeeds, "rules" | "b0">,
  seen: "open" | "shaded",
): boolean {
  if (sky === "none") return true;
  if (sky === "dark") return s.altitude < DARK_DEG;
  if (seen === "shaded" && s.worstShare < NEARLY_ALL) return false;
  const light = seen === "open" ? s.open : s.irradiance;
  switch (sky) {
    case "steadyNormal":
      return light >= rules.minIrradiance && incidenceModifier(s.incidence, b0) >= rules.minModifier;
    case "sideways":
      return light >= 0.4 * rules.minIrradiance && s.incidence >= OFF_NORMAL[0] && s.incidence <= OFF_NORMAL[1];
    case "daylight":
      return light >= DAYLIGHT;
  }
}

/** Longest first cut: unbroken runs of good samples, at least two long. */
function spansOf(samples: readonly DaySample[], good: (s: DaySample) => boolean): Span[] {
  const spans: Span[] = [];
  let from: DaySample | null = null;
  let last: DaySample | null = null;
  for (const s of samples) {
    if (good(s)) {
      from ??= s;
      last = s;
      continue;
    }
    if (from && last && last.ms > from.ms) spans.push({ fromMs: from.ms, toMs: last.ms });
    from = last = null;
  }
  if (from && last && last.ms > from.ms) spans.push({ fromMs: from.ms, toMs: last.ms });
  return spans;
}

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
