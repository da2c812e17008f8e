import type { Knex } from "knex";
import { runSeason, withoutHours, type SeasonResult } from "../../core/season/job";
import { jobKey } from "../../core/season/jobKey";
import { askedFor } from "../../core/season/scenario";
import { fingerprint } from "../analysis/fingerprint";
import { jsonBytes } from "../analysis/memo";
import { store } from "../analysis/store";
import { climateText, type ApplyView } from "./applyView";
import { jobOf } from "./seasonJob";

/** The year of the settings as they are kept, so that its figures stand in the page before any script ran. null while something is asked first. */
export async function yearOf(knex: Knex, view: Omit<ApplyView, "year">): Promise<SeasonResult | null> {
  const { settings } = view;
  if (askedFor(settings).length) return null;
  const { weather } = settings;
  const hours = weather.kind === "hours" ? await climateText(knex, weather.climateId) : null;
  if (weather.kind === "hours" && hours === null) return null;
  const job = jobOf(view, settings, hours);
  if (job.candidates.length === 0) return null;
  return store.get(fingerprint(["year", jobKey(job)]), async () => withoutHours(runSeason(job)!), jsonBytes);
}
