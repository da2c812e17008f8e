import type { Knex } from "knex";
import type { BrokenPart, DeletedThing, OwnClimate } from "../../core/experiment/records";
import type { Experiment, ExperimentHead, Site, StoredRun } from "../../core/experiment/types";
import type { Material } from "../../core/materials/material";
import { findBroken } from "../../data/broken";
import { unreadableSeen } from "../../data/json";
import type { LogSettings } from "../../core/log/logData";
import { rawFileOf, readAs } from "../../data/run/runs";
import { deletedThings } from "../../data/housekeeping";
import { findExperiment, findExperiments, listExperiments } from "../../data/experiment/experiments";
import { listClimates, listSites } from "../../data/site/sites";
import { listMaterials } from "../../data/variant/materials";
import { analyseLoaded, isOutside, type Analysis } from "../analysis/analyse";
import { log } from "../web/log";
import { planOf, type PlanView } from "../plan/plan";
import { todayOf, type TodayView } from "../plan/today";
import { proveOf, type ProveView } from "../prove/prove";
import {
  predictedCurves,
  studyOf,
  variantsOf,
  type PredictedCurve,
  type ShownStudy,
  type VariantsView,
} from "../variant/variants";
import { applyOf, type ApplyView } from "../apply/applyView";
import { yearOf } from "../apply/shownYear";
import { benchView, type BenchEntry } from "./benchView";
import { reportView, type ReportView } from "../judge/reportView";
import { resultsOf } from "../judge/results";
import { versionViews, type VersionView } from "../judge/verdictVersions";
import { lastReading, type Reading } from "../import/readAgain";
import { viewOf, type ExperimentView } from "./views";
import { worthOf, type WorthView } from "../judge/worthView";

/** What each page needs, from one load of what it is about. */

export interface StepPage {
  view: ExperimentView;
  variants: VariantsView | null;
  prove: ProveView | null;
  plan: PlanView | null;
  predicted: PredictedCurve[];
  report: ReportView | null;
  /** Judge and report: cost against heat, and what each change did. */
  worth: WorthView | null;
  /** Apply and report. */
  apply: ApplyView | null;
  /** Judge and report: verdicts as they once stood. */
  versions: VersionView[];
  /** The newest run that took another's place, for Judge. */
  reading: Reading | null;
  /** Build: what the shown design should do, so that its answer stands in the page before any script ran. */
  study: ShownStudy | null;
  /** What of this experiment cannot be read or computed: left out, and to be mended there. */
  broken: BrokenPart[];
  /** Why the step's own part could not be made; everything around it is there. */
  failed: string | null;
}

/** An experiment that cannot be shown as a whole: what it is, why, and what may be put away. */
export interface LostExperiment {
  lost: { id: number; name: string; why: string };
  broken: BrokenPart[];
}

/**
 * A step of an experiment; only what the step shows is computed. null when the experiment is not there.
 *
 * @param shown letter of the variant on the drawing board; the first when null
 * @param opened the page is opened, and not shown anew after a change: what it works out itself stands in it from the start
 */
export async function stepPage(
  knex: Knex,
  experimentId: number,
  step: string,
  nowMs: number,
  shown: string | null = null,
  opened = false,
): Promise<StepPage | LostExperiment | null> {
  const seen = unreadableSeen();
  const experiment = await findExperiment(knex, experimentId);
  // Asked only when something this page needed could not be read: looking through everything is for the bench.
  const broken = async () => (unreadableSeen() > seen ? brokenOf(knex, experimentId, experiment?.site.id ?? null) : []);
  if (!experiment) return unreadable(experimentId, await broken());
  let analysis: Analysis;
  let view: ExperimentView;
  try {
    analysis = await analyseLoaded(knex, experiment);
    view = viewOf(analysis);
  } catch (error) {
    if (isOutside(error)) throw error;
    log.error({ err: error, experiment: experimentId }, "an experiment could not be computed");
    const runs = experiment.runs.map((r): BrokenPart => ({
      kind: "run",
      id: r.id,
      experimentId,
      name: `Run ${r.number}`,
      why: r.note,
      computed: true,
    }));
    const lost = { id: experimentId, name: experiment.name, why: (error as Error).message };
    return { lost, broken: [...(await broken()), ...runs] };
  }
  const made: StepPage = {
    view,
    plan: null,
    variants: null,
    study: null,
    prove: null,
    predicted: [],
    report: null,
    worth: null,
    apply: null,
    versions: [],
    reading: null,
    broken: [],
    failed: null,
  };
  try {
    if (step === "plan") made.plan = await planOf(knex, analysis, nowMs);
    if (step === "build" || step === "ask") made.variants = await variantsOf(knex, analysis.experiment);
    if (step === "build" && made.variants) made.study = await studyOf(made.variants, shown);
    if (step === "prove") made.prove = await proveOf(knex, analysis);
    if (step === "judge" || step === "report")
      made.versions = await versionViews(knex, experimentId, resultsOf(analysis));
    if (step === "judge") made.reading = await lastReading(knex, analysis.experiment);
    if (step === "judge" || step === "report") made.worth = await worthOf(knex, analysis);
    if (step === "apply" || step === "report") {
      const apply = await applyOf(knex, analysis);
      made.apply = { ...apply, year: opened ? await yearOf(knex, apply) : null };
    }
    if (step === "report") made.report = reportView(analysis);
    if (step === "read") made.predicted = await predictedCurves(view);
  } catch (error) {
    if (isOutside(error)) throw error;
    log.error({ err: error, experiment: experimentId, step }, "a step could not be made");
    made.failed = (error as Error).message;
  }
  made.broken = [...(await broken()), ...analysis.failed];
  return made;
}

/** A step that could be shown as a whole. Throws for one that is not there or lost: for tools and tests. @testing */
export function shownStep(page: StepPage | LostExperiment | null): StepPage {
  if (!page || "lost" in page) throw new Error(page ? page.lost.why : "no such experiment");
  return page;
}

/** What cannot be read of one experiment, its site included. */
const brokenOf = async (knex: Knex, experimentId: number, siteId: number | null): Promise<BrokenPart[]> =>
  (await findBroken(knex)).filter((b) => b.experimentId === experimentId || (b.kind === "site" && b.id === siteId));

/** An experiment whose settings cannot be read is there all the same. */
function unreadable(id: number, stored: readonly BrokenPart[]): LostExperiment | null {
  const settings = stored.find((b) => b.kind === "settings" && b.id === id);
  return settings ? { lost: { id, name: settings.name, why: settings.why }, broken: [...stored] } : null;
}

export interface BenchPage {
  experiments: BenchEntry[];
  today: TodayView | null;
  /** What is stored and cannot be read, anywhere. */
  broken: BrokenPart[];
  /** What was deleted and can be brought back. */
  deleted: DeletedThing[];
  /** Experiments with a run that goes on. */
  running: ExperimentHead[];
}

export async function benchPage(knex: Knex, nowMs: number): Promise<BenchPage> {
  const experiments = await findExperiments(knex, null);
  const entries = await benchView(knex, experiments);
  const good = new Set(entries.filter((e) => e.summary).map((e) => e.head.id));
  const today = await todayOf(
    knex,
    experiments.filter((e) => good.has(e.id)),
    nowMs,
  ).catch((error: unknown) => {
    if (isOutside(error)) throw error;
    log.error({ err: error }, "today could not be made");
    return null;
  });
  return {
    experiments: entries,
    today,
    broken: await findBroken(knex),
    deleted: await deletedThings(knex),
    running: experiments
      .filter((e) => e.runs.some((r) => r.live?.endedAt === null))
      .map(({ runs: _, ...head }) => head),
  };
}

export interface ImportPageData {
  heads: ExperimentHead[];
  sites: Site[];
  lastRuns: Record<number, StoredRun | undefined>;
  again: ReadAgain | null;
}

/** A kept run whose files may be read again, with how each was read. */
export interface ReadAgain {
  experimentId: number;
  run: StoredRun;
  files: { fileId: number; settings: LogSettings }[];
}

async function againOf(knex: Knex, experiments: readonly Experiment[], runId: number): Promise<ReadAgain | null> {
  const experiment = experiments.find((e) => e.runs.some((r) => r.id === runId));
  const run = experiment?.runs.find((r) => r.id === runId);
  if (!experiment || !run || run.live || run.setup.byHand) return null;
  const files = [];
  for (const { id } of run.streams) {
    const fileId = await rawFileOf(knex, id);
    if (fileId !== null) files.push({ fileId, settings: (await readAs(knex, id)).settings });
  }
  return files.length ? { experimentId: experiment.id, run, files } : null;
}

/** @param runId a run that is to be read again; null: none */
export async function importPage(knex: Knex, runId: number | null): Promise<ImportPageData> {
  const [experiments, sites] = await Promise.all([findExperiments(knex, null), listSites(knex)]);
  return {
    again: runId === null ? null : await againOf(knex, experiments, runId),
    heads: experiments.map(({ runs: _, ...head }) => head),
    sites,
    lastRuns: Object.fromEntries(experiments.map((e) => [e.id, e.runs.at(-1)])),
  };
}

export interface SitePageData {
  site: Site;
  sites: { id: number; name: string }[];
  climates: OwnClimate[];
}

export async function sitePage(knex: Knex, siteId: number): Promise<SitePageData | null> {
  const [sites, climates] = await Promise.all([listSites(knex), listClimates(knex)]);
  const site = sites.find((s) => s.id === siteId);
  return site ? { site, sites: sites.map(({ id, name }) => ({ id, name })), climates } : null;
}

export const sitesPage = (knex: Knex): Promise<Site[]> => listSites(knex);
export const materialsPage = (knex: Knex): Promise<Material[]> => listMaterials(knex);

/** What the palette leads to, by name. */
export interface Places {
  experiments: { id: number; name: string; lanes: { letter: string; variant: string }[] }[];
  /** The user's own; the shipped library is part of the application. */
  materials: Material[];
}

export async function places(knex: Knex): Promise<Places> {
  const [experiments, materials] = await Promise.all([listExperiments(knex), listMaterials(knex)]);
  return {
    experiments: experiments.map(({ id, name, lanes, drawn }) => ({
      id,
      name,
      lanes: [...lanes, ...drawn].map(({ letter, variant }) => ({ letter, variant })),
    })),
    materials,
  };
}
