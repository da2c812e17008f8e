import type { Knex } from "knex";
import { compareInput } from "../../core/judge/evidence";
import { stackDepth, type Design } from "../../core/collector/design";
import { predict } from "../../core/collector/predict";
import { designProblems } from "../../core/collector/validate";
import { atMinute, localDay, startOfDay } from "../../core/log/zone";
import { benchProblems, benchStations, type BenchBox, type BenchProblem, type Station } from "../../core/plan/bench";
import { calendarDays, chanceOfClearDays } from "../../core/plan/chances";
import {
  datedPlan,
  type PlanInput,
  dayEntries,
  type Passed,
  type PlanDay,
  type PlanTimes,
  type Unavailable,
} from "../../core/plan/dayPlan";
import { daySky, type DayNeeds } from "../../core/plan/daySky";
import { duration, sizeAfter, type Duration } from "../../core/plan/howLong";
import { differenceUncertainty, LONGEST } from "../../core/plan/power";
import { pastPrecision } from "../../core/plan/past";
import { statedPrecision, type Precision } from "../../core/plan/precision";
import { methodOf } from "../../core/method/list";
import { testTimes } from "../../core/log/windows";
import { swapSchedule, type Balance } from "../../core/plan/schedule";
import { adviceAfter, type DatedAdvice } from "../../core/judge/standing";
import { clearShareOf, type Climate } from "../../core/site/climate";
import { CLIMATES } from "../../core/site/climates";
import { monthDays } from "../../core/site/typical";
import { fromLimit } from "../../core/uncertainty/uncertain";
import { findPlans } from "../../data/plan/plans";
import { planSettingsSchema, type PlanSettings } from "../../core/experiment/schema/plan";
import { listClimates, listUnavailable } from "../../data/site/sites";
import type { OwnClimate } from "../../core/experiment/records";
import type { Site } from "../../core/experiment/types";
import { analyse, type Analysis } from "../analysis/analyse";
import { remembered } from "./remembered";
import { operatingOf } from "../../core/experiment/operating";

export interface PlanSpecimen {
  letter: string;
  name: string;
  variantId: number;
  box: BenchBox;
  timeConstantS: number | null;
  /** False while it is only drawn. */
  built: boolean;
  design: Design;
}

export interface MonthChance {
  month: number;
  /** Chance that a day is clear; null without a climate. */
  clearShare: number | null;
  /** Windows of a clear day in mid-month, and its hours. */
  windows: number;
  hours: number;
  /** Days on the calendar for the wanted clear days with 80 % chance; null: not in a year. */
  calendarDays: number | null;
  /** Chance to have them within 14 days. */
  within14: number | null;
}

export interface PlanView {
  experimentId: number;
  name: string;
  /** Nothing was kept yet: shown are the defaults. */
  saved: boolean;
  today: string;
  settings: PlanSettings;
  site: Site;
  specimens: PlanSpecimen[];
  stations: Station[];
  problems: BenchProblem[];
  times: PlanTimes;
  /** Slowest lane, s, and whether it is predicted or was measured. */
  timeConstant: { seconds: number; from: "predicted" | "runs" | "assumed"; lane: string | null };
  order: number[][];
  balance: Balance | null;
  days: PlanDay[];
  passed: Passed[];
  /** Baths on the evenings before the first and after the last day; empty unless wanted. */
  baths: { when: "before" | "after"; fromMs: number; toMs: number }[];
  unavailable: Unavailable[];
  precision: Precision;
  precisionFrom: "runs" | "stated";
  pair: [string, string] | null;
  comparisons: number;
  smallest: number;
  flowPerArea: number;
  heatWm2: number;
  perDay: number;
  duration: Duration | null;
  months: MonthChance[];
  climate: string | null;
  advice: DatedAdvice | null;
  rules: { name: "standard" | "backyard"; minIrradiance: number; minModifier: number; flowBand: number };
}

/** The climate a site is planned with. */
export function siteClimate(own: readonly OwnClimate[], site: Site): Climate | null {
  const { climate } = site.detail;
  if (!climate) return null;
  if (climate.kind === "shipped") return CLIMATES.find((c) => c.name === climate.name) ?? null;
  const found = own.find((c) => c.id === climate.id);
  return found ? { name: found.name, months: found.months, source: found.source } : null;
}

/** What a plan is before anybody changed it: the bench of the last run, daily swaps, a seed of its own. */
function firstSettings({ experiment }: Analysis): PlanSettings {
  const last = experiment.runs.at(-1);
  const azimuth = experiment.site.latitude < 0 ? 0 : 180;
  return planSettingsSchema.parse({
    seed: 1000 + experiment.id * 37,
    bench: {
      tilt: last?.setup.plane.tilt ?? experiment.settings.ask.use.tilt,
      azimuth: last?.setup.plane.azimuth ?? azimuth,
    },
  });
}

const boxOf = (d: Design): BenchBox => ({
  widthM: d.grossWidthM,
  lengthM: d.grossLengthM,
  depthM: stackDepth(d),
  mirrors: d.mirrors,
});

function specimensOf({ experiment }: Analysis): PlanSpecimen[] {
  const operating = operatingOf(experiment);
  const tau = (design: Design): number | null =>
    designProblems(design).length
      ? null
      : remembered(["tau", design, operating], () => predict(design, operating).figures.timeConstant?.value ?? null);
  const last = experiment.runs.at(-1);
  const lanes = experiment.lanes.map((l): PlanSpecimen => {
    const logged = last?.specimens.find((r) => r.letter === l.letter)?.setup.timeConstantS ?? null;
    return {
      letter: l.letter,
      name: l.variant,
      variantId: l.variantId,
      box: boxOf(l.design),
      timeConstantS: l.design.sketch ? logged : (tau(l.design) ?? logged),
      built: true,
      design: l.design,
    };
  });
  if (lanes.length) return lanes;
  return experiment.drawn.slice(0, 8).map((d) => ({
    letter: d.letter,
    name: d.variant,
    variantId: d.variantId,
    box: boxOf(d.design),
    timeConstantS: tau(d.design),
    built: false,
    design: d.design,
  }));
}

const TYPICAL_TAU = 240;

/** Everything Plan shows, derived from settings, site, designs and past runs. null when the experiment is not there. @param nowMs today */
export async function planView(knex: Knex, experimentId: number, nowMs: number): Promise<PlanView | null> {
  const analysis = await analyse(knex, experimentId);
  return analysis && planOf(knex, analysis, nowMs);
}

/** What all plans share, loaded once for however many. */
export interface PlanningWorld {
  stored: ReadonlyMap<number, PlanSettings>;
  unavailable: Unavailable[];
  climates: readonly OwnClimate[];
}

export async function planningWorld(knex: Knex, experimentIds: readonly number[]): Promise<PlanningWorld> {
  const [stored, unavailable, climates] = await Promise.all([
    findPlans(knex, experimentIds),
    listUnavailable(knex),
    listClimates(knex),
  ]);
  return { stored, unavailable, climates };
}

/** The same of an experiment already reduced and judged. */
export async function planOf(knex: Knex, analysis: Analysis, nowMs: number): Promise<PlanView> {
  return planIn(await planningWorld(knex, [analysis.experiment.id]), analysis, nowMs);
}

export function planIn(world: PlanningWorld, analysis: Analysis, nowMs: number): PlanView {
  const { experiment } = analysis;
  const { site } = experiment;
  const experimentId = experiment.id;
  const { unavailable } = world;
  const stored = world.stored.get(experimentId) ?? null;
  const climate = siteClimate(world.climates, site);
  const settings = stored ?? firstSettings(analysis);
  const specimens = specimensOf(analysis);
  const boxes = specimens.map((s) => s.box);
  const { bench } = settings;
  const layout = {
    plane: { tilt: bench.tilt, azimuth: bench.azimuth },
    rows: bench.rows,
    gapM: bench.gapM,
    rowPitchM: bench.rowPitchM,
    bottomM: bench.bottomM,
  };
  const problems = benchProblems(layout, boxes);
  const stations = boxes.length ? benchStations({ ...layout, rows: Math.min(layout.rows, boxes.length) }, boxes) : [];
  const { rules } = experiment.settings;
  const slow = [...specimens]
    .filter((s) => s.timeConstantS !== null)
    .sort((a, b) => b.timeConstantS! - a.timeConstantS!)[0];
  const seconds = slow?.timeConstantS ?? TYPICAL_TAU;
  const times: PlanTimes = {
    ...testTimes(rules, seconds),
    swapS: settings.swapMin * 60,
    checkS: settings.checkMin * 60,
  };
  const b0 = Math.max(0.1, ...(experiment.runs.at(-1)?.specimens.flatMap((l) => l.setup.b0 ?? []) ?? []));
  const needs: DayNeeds = { protocol: settings.protocol, rules, b0 };
  const protocol = methodOf(settings.protocol);
  const swaps = protocol.compares && specimens.length > 1 ? settings.swaps : "none";
  const periods = settings.days * (swaps === "noon" ? 2 : 1);
  const schedule =
    specimens.length > 1 && swaps !== "none" ? swapSchedule(specimens.length, periods, settings.seed) : null;
  const order = schedule?.order ?? Array.from({ length: periods }, () => specimens.map((_, i) => i));
  const startMs = settings.start ? Date.parse(`${settings.start}T12:00:00Z`) - (site.longitude / 15) * 3600000 : nowMs;
  // A plan without a first day begins with the next one there is still time for; one with a first day stands as it was made.
  const notBeforeMs = settings.start ? undefined : Math.floor(nowMs / 600000) * 600000;
  const input: PlanInput = {
    site,
    stations,
    needs,
    times,
    levelsK: settings.levelsK,
    startMs,
    days: settings.days,
    order,
    swapAtNoon: swaps === "noon",
    unavailable,
    skipped: settings.skipped,
    moved: settings.moved,
    notBeforeMs,
  };
  const dated =
    stations.length === 0 || problems.length
      ? { days: [], passed: [] }
      : remembered(["plan", { ...input, stations: [layout, boxes], startMs: localDay(startMs, site.zone) }], () =>
          datedPlan(input),
        );
  const typical = dated.days.filter((d) => d.windows > 0);
  const windowsADay = typical.length ? typical.reduce((s, d) => s + d.windows, 0) / typical.length : 6;
  const perDay = protocol.figures === "windows" ? windowsADay : 1;

  const { precision, from, pair, probeK } = precisionOf(analysis, settings, specimens);
  const comparisons = Math.max(
    1,
    specimens.flatMap((a, i) => specimens.slice(i + 1).filter((b) => b.variantId !== a.variantId)).length,
  );
  const smallest = experiment.settings.smallestDifference;
  const asked = {
    precision,
    probeK,
    smallest,
    specimens: specimens.length,
    comparisons,
    perDay,
    swaps,
    seed: settings.seed,
  };
  const howLong =
    specimens.length < 2 || !protocol.compares
      ? null
      : remembered(["long", asked, settings.power], () => duration(asked, settings.power));
  const wanted = howLong ? ((settings.power === 0.8 ? howLong.days80 : howLong.days95) ?? LONGEST) : protocol.leastDays;
  const months =
    stations.length && !problems.length
      ? monthChances(site, stations, needs, times, settings.levelsK, climate, wanted, new Date(nowMs).getUTCFullYear())
      : [];
  return {
    experimentId,
    name: experiment.name,
    saved: stored !== null,
    today: localDay(nowMs, site.zone),
    settings,
    site,
    specimens,
    stations,
    problems,
    times,
    timeConstant: {
      seconds,
      from: slow ? timeFrom(slow.design) : "assumed",
      lane: slow?.letter ?? null,
    },
    order,
    balance: schedule?.balance ?? null,
    days: dated.days,
    passed: dated.passed,
    baths: settings.calibrate && settings.protocol !== "calibration" ? bathEvenings(dated.days, site.zone) : [],
    unavailable,
    precision,
    precisionFrom: from,
    pair,
    comparisons,
    smallest,
    flowPerArea: experiment.settings.operatingPoint.flowPerArea,
    heatWm2: settings.stated.heatWm2,
    perDay,
    duration: howLong,
    months,
    climate: climate?.name ?? null,
    advice: howLong
      ? adviceOf(
          analysis,
          smallest,
          wanted,
          (days) =>
            differenceUncertainty(
              precision,
              sizeAfter({ specimens: specimens.length, comparisons, perDay, swaps, seed: settings.seed }, days),
            ).total,
        )
      : null,
    rules: {
      name: rules.name,
      minIrradiance: rules.minIrradiance,
      minModifier: rules.minModifier,
      flowBand: rules.flowBand,
    },
  };
}

const BATH_START = 18 * 60;
const BATH_MINUTES = 120;

function bathEvenings(days: readonly PlanDay[], zone: string): PlanView["baths"] {
  if (!days.length) return [];
  const evening = (dayStartMs: number, when: "before" | "after") => ({
    when,
    fromMs: atMinute(dayStartMs, BATH_START, zone),
    toMs: atMinute(dayStartMs, BATH_START + BATH_MINUTES, zone),
  });
  return [
    evening(startOfDay(days[0].sky.sun.startMs - 12 * 3600000, zone), "before"),
    evening(days[days.length - 1].sky.sun.startMs, "after"),
  ];
}

const timeFrom = (design: Design) => (design.sketch ? ("runs" as const) : ("predicted" as const));

/** From past windows of the pair that is hardest to tell apart, else from stated limits. */
function precisionOf(
  { experiment, reduction, judgement }: Analysis,
  settings: PlanSettings,
  specimens: readonly PlanSpecimen[],
): { precision: Precision; from: PlanView["precisionFrom"]; pair: PlanView["pair"]; probeK: number } {
  const { verdict } = judgement;
  const others = specimens.find((s) => s.variantId !== specimens[0]?.variantId);
  const drawn: PlanView["pair"] = specimens[0] && others ? [specimens[0].letter, others.letter] : null;
  const pair: PlanView["pair"] =
    verdict.kind === "winner" || verdict.kind === "cannotTell" || verdict.kind === "daylight"
      ? [verdict.best[0], verdict.next[0]]
      : drawn;
  const past =
    pair && reduction.points.length
      ? pastPrecision(compareInput(reduction, experiment.settings), pair[0], pair[1], judgement.repeatability)
      : null;
  if (past) {
    const heat = reduction.points.reduce((s, p) => s + p.heat.value, 0) / reduction.points.length;
    const rise = reduction.points.reduce((s, p) => s + p.rise.value, 0) / reduction.points.length;
    const area = reduction.lanes[0]?.areaM2 ?? 1;
    // Two probes a lane, two lanes: from their part of the difference back to one probe.
    return { precision: past, from: "runs", pair, probeK: (past.place.probe / (2 * (heat / area))) * rise };
  }
  return {
    precision: statedPrecision(settings.stated, 0.03, experiment.settings.smallestDifference),
    from: "stated",
    pair,
    probeK: fromLimit(settings.stated.probeLimitK),
  };
}

/** What the verdict means for the days to come. @param atEnd standard uncertainty after so many days of this plan, W/m² */
function adviceOf(
  { reduction, judgement }: Analysis,
  smallest: number,
  wantedDays: number,
  atEnd: (days: number) => number,
): PlanView["advice"] {
  const daysSoFar = new Set(reduction.points.map((p) => p.day)).size;
  // Days of a plan that was saved before the data; else as many as are needed.
  const daysPlanned = judgement.look?.planned ?? wantedDays;
  const advice = daysSoFar ? adviceAfter(judgement, { atEnd: atEnd(daysPlanned), smallest }) : null;
  return advice && { ...advice, daysSoFar, daysPlanned, interim: judgement.look !== null };
}

function monthChances(
  site: Site,
  stations: readonly Station[],
  needs: DayNeeds,
  times: PlanTimes,
  levelsK: readonly number[],
  climate: Climate | null,
  wanted: number,
  year: number,
): MonthChance[] {
  const skies = remembered(["months", site, stations, needs, times, levelsK, year], () =>
    monthDays(site, year).map((dayMs) => {
      const sky = daySky(dayMs + 12 * 3600000, site, stations, needs);
      const entries = dayEntries(sky.date, sky.spans, {
        protocol: needs.protocol,
        times,
        levelsK,
        swapBefore: false,
        swapAtNoon: false,
      });
      return {
        windows: entries.reduce((s, e) => s + (e.kind === "measure" || e.kind === "step" ? e.windows : 0), 0),
        hours: sky.spans.reduce((s, p) => s + (p.toMs - p.fromMs) / 3600000, 0),
      };
    }),
  );
  return skies.map(({ windows, hours }, month): MonthChance => {
    const clearShare = climate ? clearShareOf(climate, month, site, site.detail.turbidity[month]) : null;
    const known = { month, clearShare, windows, hours };
    if (clearShare === null) return { ...known, calendarDays: null, within14: null };
    if (windows <= 0) return { ...known, calendarDays: null, within14: 0 };
    return {
      ...known,
      calendarDays: calendarDays(wanted, clearShare, 0.8),
      within14: chanceOfClearDays(wanted, 14, clearShare),
    };
  });
}
