import type { Fluid } from "../fluids/fluid";
import type { Climate } from "../site/climate";
import { parseEpw, type EpwProblem } from "../site/epw";
import type { SiteWorld } from "../site/site";
import {
  needOf,
  panelsCandidate,
  seasonOf,
  withoutBoxes,
  type Candidate,
  type Scenario,
  type Season,
  systemOf,
} from "./season";
import { simulateYear, type HourlyYear } from "./simulate";
import { epwProblems, epwYear, monthlyYear, monthsOf, type WeatherProblem, type WeatherYear } from "./weather";
import type { ApplySettings } from "./schema";
import {
  lightsOf,
  NO_PATH,
  pathOf,
  plantOf,
  scenarioOf,
  usedStore,
  withoutObstacles,
  type Lights,
  type Mirrored,
  type Plant,
} from "./scenario";

/** All a year is worked out from, as plain data that crosses into a worker. */
export interface SeasonJob {
  settings: ApplySettings;
  site: SiteWorld;
  fluid: Fluid;
  climate: Climate | null;
  /** Text of a typical-weather file; null: by monthly means. */
  hours: string | null;
  candidates: Candidate[];
  /** By key of the candidate. */
  mirrored: Record<string, Mirrored>;
  /** Area of photovoltaic panels to be held beside, by name; empty for none. */
  panels: { key: string; name: string; areaM2: number }[];
}

export type SeasonProblem =
  | WeatherProblem
  | { kind: "noClimate" }
  | { kind: "file"; problem: EpwProblem }
  /** No fan or pump brings the stream through. */
  | { kind: "tight"; where: "duct" | "bin"; name: string; pressurePa: number; mostPa: number };

export interface WhatIf {
  key: string;
  /** What is changed: an obstacle gone, all rows upright, mirrors down, no store. */
  change: { kind: "obstacleGone"; name: string } | { kind: "upright" | "noMirrors" | "noStore" };
  useful: number;
  share: number;
}

export interface SeasonAnswer {
  seasons: Season[];
  /** By candidate's key: what its stream passes, and the watts its year and its money count. */
  plants: Partial<Record<string, Plant>>;
  /** Panels with what they feed. */
  panels: Season[];
  /** Heat the use lacks without boxes, kWh by month. */
  need: number[];
  /** Of a room that nothing else heats: the year as it really runs, by candidate, and without boxes. */
  free: { key: string | null; coldHours: number; lowestC: number }[];
  weather: { source: WeatherYear["source"]; months: { globalKwhM2: number; meanC: number }[]; lowestC: number };
  whatIfs: WhatIf[];
  /** Said of the weather though the year stands. */
  notes: Extract<SeasonProblem, { kind: "far" }>[];
}

/** The answer without the hours of its years: they are two megabytes, the rest some kilobytes. */
export function withoutHours(result: SeasonResult): SeasonResult {
  if (!result.ok) return result;
  const brief = (s: Season): Season => ({ ...s, year: { ...s.year, trace: null } });
  const { answer } = result;
  return { ok: true, answer: { ...answer, seasons: answer.seasons.map(brief), panels: answer.panels.map(brief) } };
}

export type SeasonResult = { ok: true; answer: SeasonAnswer } | { ok: false; problems: SeasonProblem[] };

/** Faults after which a file's hours are no year of this place. */
const FATAL: ReadonlySet<SeasonProblem["kind"]> = new Set(["records", "missing", "hemisphere", "file", "noClimate"]);

export function weatherOf(job: Pick<SeasonJob, "settings" | "site" | "climate" | "hours">): {
  weather: WeatherYear | null;
  problems: SeasonProblem[];
} {
  if (job.settings.weather.kind === "hours") {
    const read = parseEpw(job.hours ?? "");
    if (!read.ok) return { weather: null, problems: [{ kind: "file", problem: read.problem }] };
    const problems: SeasonProblem[] = epwProblems(read.file, job.site);
    return { weather: problems.some((p) => FATAL.has(p.kind)) ? null : epwYear(read.file, job.site), problems };
  }
  if (!job.climate) return { weather: null, problems: [{ kind: "noClimate" }] };
  return { weather: monthlyYear(job.site, job.climate, job.settings.seed), problems: [] };
}

/**
 * Every candidate's year, the use without boxes, panels beside them, and what a few changes would do to the first candidate.
 * @param progress called with the share done; true stops @returns null when stopped
 */
export function runSeason(job: SeasonJob, progress: (done: number) => boolean = () => false): SeasonResult | null {
  const { weather, problems } = weatherOf(job);
  if (!weather) return { ok: false, problems };
  const { settings } = job;
  const tight = job.candidates.flatMap((c) => tightPath(job, c));
  if (tight.length) return { ok: false, problems: tight };
  const ready = prepared(job, weather);
  const years = job.candidates.length + job.panels.length;
  const seasons: Season[] = [];
  const panels: Season[] = [];
  let done = 0;
  const share = (d: number) => progress((0.8 * (done + d)) / Math.max(1, years));
  for (const c of job.candidates) {
    const season = seasonOf(c, ready.scenario(c), weather, ready.base, share);
    if (!season) return null;
    seasons.push(season);
    done++;
  }
  for (const p of job.panels) {
    const season = panelSeason(job, p, ready, weather);
    if (!season) return null;
    panels.push(season);
    done++;
  }
  const whatIfs = job.candidates.length ? changesOf(job, weather, ready, seasons[0]) : [];
  if (progress(0.95)) return null;
  return {
    ok: true,
    answer: {
      seasons,
      plants: Object.fromEntries(job.candidates.map((c) => [c.key, plantOf(settings, job.site, job.fluid, c)])),
      panels,
      need: needOf(ready.use, ready.base),
      free: freeYears(job, ready, weather),
      weather: { source: weather.source, months: monthsOf(weather), lowestC: Math.min(...weather.ambientC) },
      whatIfs,
      notes: problems.filter((p) => p.kind === "far"),
    },
  };
}

/** Beyond it no fan of a workshop blows, and no circulating pump presses, Pa (typical values). */
const MOST_PA = { air: 2000, liquid: 300_000 };

function tightPath({ settings, site, fluid }: SeasonJob, c: Candidate): Extract<SeasonProblem, { kind: "tight" }>[] {
  const path = pathOf(settings, site, fluid, c);
  const mostPa = MOST_PA[fluid.kind === "air" ? "air" : "liquid"];
  const at = (where: "duct" | "bin", pressurePa: number) =>
    pressurePa > mostPa ? [{ kind: "tight" as const, where, name: c.name, pressurePa, mostPa }] : [];
  return [...at("duct", path.ductPa), ...at("bin", path.bedPa)];
}

interface Prepared {
  lights: Lights;
  use: Scenario["use"];
  base: HourlyYear;
  scenario(c: Candidate): Scenario;
}

/**
 * Lights once for all; heating counted as if something held the set point, so that what is saved has a meaning.
 * @param known what stays of another job's
 */
function prepared(
  job: SeasonJob,
  weather: WeatherYear,
  known: Partial<Pick<Prepared, "lights" | "base">> = {},
): Prepared {
  const { settings, site, candidates } = job;
  const lights = known.lights ?? lightsOf(settings, site, weather, candidates, new Map(Object.entries(job.mirrored)));
  const scenario = (c: Candidate): Scenario => {
    const s = scenarioOf(settings, site, c, lights, job.fluid);
    return s.use.kind === "room" ? { ...s, use: { ...s.use, heated: true } } : s;
  };
  const first = candidates[0] ?? panelsCandidate(1, 0.1, 1, 1);
  const own = scenario(first);
  return { lights, use: own.use, scenario, base: known.base ?? withoutBoxes(own, weather) };
}

/** Panels beside the boxes: on their planes, straight into the same use, with no run of ducts and no control but the need. */
function panelSeason(
  job: SeasonJob,
  { key, name, areaM2 }: SeasonJob["panels"][number],
  ready: Prepared,
  weather: WeatherYear,
): Season | null {
  const { panels, rows } = job.settings;
  if (!panels || job.candidates.length === 0) return null;
  const c = {
    ...panelsCandidate(
      areaM2 / rows.reduce((n, r) => n + r.sideBySide * r.inSeries, 0),
      panels.efficiency,
      panels.performance,
      panels.cop,
    ),
    key,
    name,
    // The same air or water as the boxes': what dries or is warmed must not be more than passes.
    flowWK: job.candidates[0].flowWK,
  };
  const scenario = ready.scenario({ ...c, key: "" });
  return seasonOf(
    c,
    {
      ...scenario,
      secondStage: null,
      panel: null,
      exchanger: null,
      pumpW: 0,
      path: [NO_PATH],
      control: { kind: "difference", onK: 0.5, offK: 0.1 },
      run: { supplyWK: 0, returnWK: 0, leakShare: 0 },
    },
    weather,
    ready.base,
  );
}

function freeYears(job: SeasonJob, ready: Prepared, weather: WeatherYear): SeasonAnswer["free"] {
  const { use } = job.settings;
  if (use?.kind !== "room" || use.heated) return [];
  const unheated = (s: Scenario): Scenario => ({ ...s, use: { ...s.use, heated: false } as Scenario["use"] });
  const lines = job.candidates.map((c) => {
    const y = simulateYear(systemOf(c, unheated(ready.scenario(c))), weather)!;
    return { key: c.key, coldHours: y.coldHours, lowestC: y.lowestC };
  });
  const bare = withoutBoxes(unheated(ready.scenario(job.candidates[0])), weather);
  return [{ key: null, coldHours: bare.coldHours, lowestC: bare.lowestC }, ...lines];
}

function changesOf(job: SeasonJob, weather: WeatherYear, { lights, base }: Prepared, first: Season): WhatIf[] {
  const c = first.candidate;
  const out: WhatIf[] = [];
  const add = (change: WhatIf["change"], changed: Partial<SeasonJob>) => {
    const other = { ...job, ...changed, candidates: [c] };
    // Without boxes nothing but the store matters; a store changes no light.
    const year = prepared(other, weather, change.kind === "noStore" ? { lights } : { base });
    const s = seasonOf({ ...c, covariance: null }, year.scenario(c), weather, year.base);
    if (s) out.push({ key: c.key, change, useful: s.useful, share: s.share });
  };
  const { settings } = job;
  for (const o of withoutObstacles(job.site, settings.without).detail.obstacles)
    add({ kind: "obstacleGone", name: o.name }, { settings: { ...settings, without: [...settings.without, o.id] } });
  if (settings.rows.some((r) => r.tilt < 85))
    add({ kind: "upright" }, { settings: { ...settings, rows: settings.rows.map((r) => ({ ...r, tilt: 90 })) } });
  if (job.mirrored[c.key]?.mirrors.length) add({ kind: "noMirrors" }, { mirrored: {} });
  if (usedStore(settings).kind !== "none" && settings.use?.kind !== "hotWater")
    add({ kind: "noStore" }, { settings: { ...settings, store: { kind: "none" } } });
  return out;
}
