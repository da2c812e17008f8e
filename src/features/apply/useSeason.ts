"use client";

import { proxy } from "comlink";
import type { SeasonJob, SeasonResult } from "@/core/season/job";
import { jobKey } from "@/core/season/jobKey";
import { useWorkerAnswer, type Desk, type WorkerAnswer } from "@/ui/useWorkerAnswer";
import { computationFailed } from "@/words/failure";
import { seasonWorker, stopSeason, type SeasonDesk } from "@/workers/season";

const desk = (name: SeasonDesk): Desk => ({ name: `season ${name}`, stop: () => stopSeason(name) });
/** What Apply asks off the page's thread: one running is no reason to end another. */
export const DESKS = { year: desk("year"), mirror: desk("mirror"), study: desk("study"), pair: desk("pair") };

/** Typing settles before a year is run, ms. */
export const RESTS = 250;

/** Runs the year whenever what it is made of changes; the last answer stays until the next one is there. @param job null: something is asked for first */
export const useSeason = (job: SeasonJob | null): WorkerAnswer<SeasonJob, SeasonResult> =>
  useWorkerAnswer({
    desk: DESKS.year,
    asked: job,
    key: job ? jobKey(job) : "",
    answer: async (asked, progress) => seasonWorker("year").run(asked, proxy(progress)),
    failure: computationFailed("The year"),
    restMs: RESTS,
  });
