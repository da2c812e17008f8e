import { expose } from "comlink";
import { runSeason, type SeasonJob, type SeasonResult } from "../core/experiment/seasonJob";

/** A year off the page's thread. To stop it the worker is ended: a loop hears nothing while it runs. */
const api = {
  run: (job: SeasonJob, progress: (done: number) => void): SeasonResult =>
    runSeason(job, (done) => {
      progress(done);
      return false;
    })!,
};

export type SeasonApi = typeof api;

expose(api);
