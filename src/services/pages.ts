import type { Knex } from "knex";
import type { OwnClimate } from "../core/experiment/records";
import type { ExperimentHead, Site, StoredRun } from "../core/experiment/types";
import type { Material } from "../core/materials/material";
import { findExperiments, listExperiments } from "../data/experiment/experiments";
import { listClimates, listSites } from "../data/site/sites";
import { listMaterials } from "../data/variant/variants";
import { analyse } from "./analysis/analyse";
import { planOf, type PlanView } from "./plan";
import { todayOf, type TodayView } from "./plan/today";
import { proveOf, type ProveView } from "./prove";
import {
  predictedCurves,
  studyOf,
  variantsOf,
  type PredictedCurve,
  type ShownStudy,
  type VariantsView,
} from "./variants";
import { benchView, viewOf, type ExperimentSummary, type ExperimentView } from "./views";

/** What each page needs, from one load of what it is about. */

export interface StepPage {
  view: ExperimentView;
  variants: VariantsView | null;
  prove: ProveView | null;
  plan: PlanView | null;
  predicted: PredictedCurve[];
  /** Build: what the shown design should do, so that its answer stands in the page before any script ran. */
  study: ShownStudy | null;
}

/**
 * A step of an experiment; only what the step shows is computed. null when the experiment is not there.
 *
 * @param shown letter of the variant on the drawing board; the first when null
 */
export async function stepPage(
  knex: Knex,
  experimentId: number,
  step: string,
  nowMs: number,
  shown: string | null = null,
): Promise<StepPage | null> {
  const analysis = await analyse(knex, experimentId);
  if (!analysis) return null;
  const plan = step === "plan" ? await planOf(knex, analysis, nowMs) : null;
  const view = viewOf(analysis);
  const variants = step === "build" || step === "ask" ? await variantsOf(knex, analysis.experiment) : null;
  return {
    view,
    plan,
    variants,
    study: step === "build" && variants ? await studyOf(variants, shown) : null,
    prove: step === "prove" ? await proveOf(knex, analysis) : null,
    predicted: step === "read" ? await predictedCurves(view) : [],
  };
}

export interface BenchPage {
  experiments: { head: ExperimentHead; summary: ExperimentSummary }[];
  today: TodayView | null;
}

export async function benchPage(knex: Knex, nowMs: number): Promise<BenchPage> {
  const experiments = await findExperiments(knex, null);
  return { experiments: await benchView(knex, experiments), today: await todayOf(knex, experiments, nowMs) };
}

export interface ImportPageData {
  heads: ExperimentHead[];
  sites: Site[];
  lastRuns: Record<number, StoredRun | undefined>;
}

export async function importPage(knex: Knex): Promise<ImportPageData> {
  const [experiments, sites] = await Promise.all([findExperiments(knex, null), listSites(knex)]);
  return {
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
