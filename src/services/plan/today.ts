import type { Knex } from "knex";
import { benchStations } from "../../core/plan/bench";
import { daySky, type DayNeeds, type DaySky } from "../../core/plan/daySky";
import type { PlanSettings } from "../../core/experiment/schema/plan";
import type { Experiment, Site } from "../../core/experiment/types";
import { localDay, startOfDay } from "../../core/log/zone";
import { nextDay } from "../../core/sun/sunDay";
import { listSites } from "../../data/site/sites";
import { analyseLoaded } from "../analysis/analyse";
import { planIn, planningWorld } from "./plan";
import { remembered } from "./remembered";

export interface NextWindow {
  experimentId: number | null;
  name: string | null;
  protocol: PlanSettings["protocol"];
  date: string;
  /** Start of the first and end of the last measuring, and when to be there. */
  fromMs: number;
  toMs: number;
  thereMs: number;
  day: number | null;
  days: number | null;
  arrangement: { station: number; letter: string }[];
  swap: boolean;
}

export interface TodayView {
  site: Site;
  plane: { tilt: number; azimuth: number };
  next: NextWindow | null;
  /** Why no window was found in the days looked at. */
  none: DaySky["none"] | "unavailable" | null;
}

const LOOK_AHEAD = 30;

/**
 * What the bench shows of today: the site's strip and the next window, of a kept plan if there is one.
 * @param experiments all on the bench
 */
export async function todayOf(
  knex: Knex,
  experiments: readonly Experiment[],
  nowMs: number,
): Promise<TodayView | null> {
  const world = await planningWorld(
    knex,
    experiments.map((e) => e.id),
  );
  const open: (NextWindow & { site: Site; plane: TodayView["plane"] })[] = [];
  for (const experiment of experiments) {
    const { id } = experiment;
    if (!world.stored.has(id)) continue;
    const plan = planIn(world, await analyseLoaded(knex, experiment), nowMs);
    const index = plan.days.findIndex((d) =>
      d.entries.some((e) => (e.kind === "measure" || e.kind === "step") && e.toMs > nowMs),
    );
    if (index < 0) continue;
    const day = plan.days[index];
    const measuring = day.entries.filter((e) => e.kind === "measure" || e.kind === "step");
    open.push({
      site: plan.site,
      plane: plan.settings.bench,
      experimentId: id,
      name: plan.name,
      protocol: plan.settings.protocol,
      date: day.date,
      fromMs: measuring[0].fromMs,
      toMs: measuring[measuring.length - 1].toMs,
      thereMs: day.entries[0].fromMs,
      day: index + 1,
      days: plan.settings.days,
      swap: day.entries.some((e) => e.kind === "swap"),
      arrangement: (day.order[0] ?? []).map((s, i) => ({ station: i + 1, letter: plan.specimens[s].letter })),
    });
  }
  const first = open.sort((a, b) => a.fromMs - b.fromMs)[0];
  if (first) {
    const { site, plane, ...next } = first;
    return { site, plane: { tilt: plane.tilt, azimuth: plane.azimuth }, next, none: null };
  }
  const site = experiments[0]?.site ?? (await listSites(knex))[0];
  if (!site) return null;
  const plane = { tilt: 55, azimuth: site.latitude < 0 ? 0 : 180 };
  const stations = benchStations({ plane, rows: 1, gapM: 0.3, rowPitchM: 3, bottomM: 0.5 }, [
    { widthM: 1, lengthM: 2, depthM: 0.12, mirrors: [] },
  ]);
  const needs: DayNeeds = { protocol: "steady", rules: { minIrradiance: 700, minModifier: 0.98 }, b0: 0.1 };
  let none: TodayView["none"] = null;
  for (let d = 0, start = startOfDay(nowMs, site.zone); d < LOOK_AHEAD; d++, start = nextDay(start, site.zone)) {
    const sky = remembered(["today", site, localDay(start + 12 * 3600000, site.zone)], () =>
      daySky(start + 12 * 3600000, site, stations, needs),
    );
    none ??= sky.none;
    const span = sky.spans.find((s) => s.toMs > nowMs + 30 * 60000);
    if (span)
      return {
        site,
        plane,
        none: null,
        next: {
          experimentId: null,
          name: null,
          protocol: "steady",
          date: sky.date,
          fromMs: Math.max(nowMs, span.fromMs),
          toMs: span.toMs,
          thereMs: Math.max(nowMs, span.fromMs - 45 * 60000),
          day: null,
          days: null,
          arrangement: [],
          swap: false,
        },
      };
  }
  return { site, plane, next: null, none };
}
