import { localDay } from "../log/zone";
import type { SteadyRules } from "../log/windows";
import { incidenceModifier } from "../sun/clearSky";
import { sunDay, type SunDay } from "../sun/sunDay";
import { planeLight, surroundingsOf, type SiteWorld } from "../site/site";
import { shadedBy } from "../site/shade";
import { benchBlockers, type Station } from "./bench";
import { OFF_NORMAL } from "../method/offNormal";
import { methodOf, type MethodName } from "../method/list";
import type { Method, Span } from "../method/method";

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
