import type { Knex } from "knex";
import { inspectBath, keepBath, runBath } from "../prove/calibrations";
import { chooseEpw } from "../site/climates";
import { importRun, inspectFile } from "../import/imports";
import {
  ImportCancelled,
  ImportRefused,
  ImportUnsure,
  type ImportFailure,
  type ImportProgress,
  type ImportRequest,
} from "../import/importRequest";
import { failureWords } from "../web/failure";
import { log } from "../web/log";
import { benchPage, stepPage } from "../page/pages";
import { followPlan } from "../live/byPlan";
import { liveView, noteBench } from "../live/view";
import { looser } from "../read/looser";
import { methodsView } from "../page/methodsView";
import { openPackage } from "../package/openPackage";
import { experimentResults } from "../judge/results";
import { planView } from "../plan/plan";
import { runTraces } from "../read/traces";
import { takeMessage } from "../ingest/take";
import { openWorking } from "../working/working";

/** Asked for often, short when its parts are kept: what pages show of an experiment. */
export const READING = {
  benchPage,
  stepPage,
  planView,
  runTraces,
  openWorking,
  looser,
  methodsView,
  experimentResults,
};
/** Asked for every few seconds while a bench runs. */
export const LIVE = { liveView, noteBench, followPlan };
/** Messages of devices that are too large to be read where requests are answered. */
export const TAKING = { takeMessage };
/** Reads whole files. */
export const FILING = { inspectFile, inspectBath, runBath, keepBath, chooseEpw, openPackage };

type Done = Extract<ImportProgress, { phase: "done" }>;
export type OnTheWay = Exclude<ImportProgress, Done>;

/** How an import ended, as plain data: errors lose all but their words on the way from one thread to another. */
export type ImportEnd =
  | { kind: "done"; done: Done }
  | { kind: "refused"; failure: ImportFailure }
  | { kind: "cancelled" }
  | { kind: "unsure"; run: number }
  | { kind: "failed"; words: string };

/** Imports, and says how it ended. What went wrong inside is logged here, where it is still known whole. */
export async function endOfImport(
  knex: Knex,
  request: ImportRequest,
  onProgress: (p: OnTheWay) => void,
  signal: AbortSignal,
): Promise<ImportEnd> {
  let done: Done | undefined;
  try {
    // Steps on the way may come late from another thread, or not at all; the end is the answer.
    const step = (p: ImportProgress) => (p.phase === "done" ? (done = p) : onProgress(p));
    const made = await importRun(knex, request, step, signal);
    return { kind: "done", done: done ?? { phase: "done", ...made, streams: [] } };
  } catch (error) {
    if (error instanceof ImportCancelled) return { kind: "cancelled" };
    if (error instanceof ImportRefused) return { kind: "refused", failure: error.failure };
    log.error({ err: error }, "an import failed");
    if (error instanceof ImportUnsure) return { kind: "unsure", run: error.run };
    return { kind: "failed", words: failureWords(error, "The import failed inside Bravel; nothing was kept.") };
  }
}

type Task = (knex: Knex, ...args: never[]) => Promise<unknown>;
type Bound<T extends Record<string, Task>> = {
  [K in keyof T]: T[K] extends (knex: Knex, ...args: infer A) => infer R ? (...args: A) => R : never;
};

export type Heavy = Bound<typeof READING & typeof LIVE & typeof TAKING & typeof FILING> & {
  importRun(request: ImportRequest, onProgress: (p: OnTheWay) => void, signal: AbortSignal): Promise<ImportEnd>;
};

/** Tasks of one database. */
export const bind = <T extends Record<string, Task>>(knex: Knex, tasks: T): Bound<T> =>
  Object.fromEntries(
    Object.entries(tasks).map(([name, task]) => [name, (...args: never[]) => task(knex, ...args)]),
  ) as Bound<T>;
