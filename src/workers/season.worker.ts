import { expose } from "comlink";
import { mirrorYearOf, type MirrorCase, type MirrorYearView } from "../core/season/mirrorYear";
import { runSeason, weatherOf, type SeasonJob, type SeasonResult } from "../core/season/job";

import { studySeason, type SeasonStudy } from "../core/season/study";
import { bestPair, type PairChoice } from "../core/season/thermostat";

type WeatherJob = Pick<SeasonJob, "settings" | "site" | "climate" | "hours">;

/** A year off the page's thread. To stop it the worker is ended: a loop hears nothing while it runs. */
const api = {
  run: (job: SeasonJob, progress: (done: number) => void): SeasonResult =>
    runSeason(job, (done) => {
      progress(done);
      return false;
    })!,
  study: (job: SeasonJob, wanted: number): SeasonStudy | null => studySeason(job, wanted),
  pair: (s: Parameters<typeof bestPair>[0], lights: number[], fanW: number): PairChoice | null =>
    bestPair(s, lights, fanW),
  mirror: (job: WeatherJob, mirrored: Omit<MirrorCase, "site">): MirrorYearView | null => {
    const { weather } = weatherOf(job);
    return weather && mirrorYearOf({ ...mirrored, site: job.site }, weather);
  },
};

export type SeasonApi = typeof api;

expose(api);
