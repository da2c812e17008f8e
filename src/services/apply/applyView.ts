import type { Knex } from "knex";
import type { SeasonResult } from "../../core/season/job";
import type { ApplySettings } from "../../core/season/schema";
import type { Site } from "../../core/experiment/types";
import { type Fluid, fluidOf } from "../../core/fluids/fluid";
import type { Climate } from "../../core/site/climate";
import { readFileText } from "../../data/file/files";
import { listClimates } from "../../data/site/sites";
import { findBills } from "../../data/variant/bills";
import type { Analysis } from "../analysis/analyse";
import { siteClimate } from "../plan/plan";
import { candidatesOf, type CandidateView } from "./candidates";

/** What Apply is worked out from; the year itself is run where it is shown. */
export interface ApplyView {
  experimentId: number;
  name: string;
  settings: ApplySettings;
  site: Site;
  fluid: Fluid;
  climate: Climate | null;
  /** Own climates that came with their hours. */
  hourly: { id: number; name: string; latitude: number; longitude: number }[];
  candidates: CandidateView[];
  /** Letters by rank, best first; empty without a verdict. */
  ranking: string[];
  bench: { tilt: number; azimuth: number };
  /** The year of these settings without its hours, where the page is opened; null: it is worked out on the page. */
  year: SeasonResult | null;
}

export async function applyOf(knex: Knex, analysis: Analysis): Promise<Omit<ApplyView, "year">> {
  const { experiment, judgement } = analysis;
  const [climates, bills] = await Promise.all([listClimates(knex), findBills(knex, experiment.id)]);
  const last = experiment.runs.at(-1)?.setup.plane;
  const design = experiment.lanes[0]?.design ?? experiment.drawn[0]?.design;
  return {
    experimentId: experiment.id,
    name: experiment.name,
    settings: experiment.settings.apply,
    site: experiment.site,
    fluid: design?.fluid ?? fluidOf("air"),
    climate: siteClimate(climates, experiment.site),
    hourly: climates.flatMap(({ id, name, place, rawFileId }) =>
      place && rawFileId !== null ? [{ id, name, latitude: place.latitude, longitude: place.longitude }] : [],
    ),
    candidates: candidatesOf(analysis, bills),
    ranking: judgement.ranking.map((r) => r.lane),
    bench: {
      tilt: last?.tilt ?? experiment.settings.ask.use.tilt,
      azimuth: last?.azimuth ?? (experiment.site.latitude < 0 ? 0 : 180),
    },
  };
}

/** The file of a climate that came with its hours, as it was given. null when there is none. */
export async function climateText(knex: Knex, climateId: number): Promise<string | null> {
  const climate = (await listClimates(knex)).find((c) => c.id === climateId);
  return climate?.rawFileId == null ? null : readFileText(knex, climate.rawFileId);
}
