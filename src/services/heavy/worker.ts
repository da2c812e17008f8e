import { parentPort, workerData } from "node:worker_threads";
import { expose, releaseProxy, type ProxyMethods } from "comlink";
import nodeEndpoint from "comlink/dist/umd/node-adapter";
import { as, type Actor } from "../../data/actor";
import { createDatabase } from "../../data/database";
import type { ImportRequest } from "../import/importRequest";
import { bind, endOfImport, FILING, LIVE, READING, TAKING, type ImportEnd, type OnTheWay } from "./tasks";

/** A thread of its own for what computes long. It has its own connections and keeps its own results. */
const knex = createDatabase((workerData as { databaseUrl: string }).databaseUrl, { limited: true });
const running = new Map<number, AbortController>();
const tasks = { ...bind(knex, READING), ...bind(knex, LIVE), ...bind(knex, TAKING), ...bind(knex, FILING) } as Record<
  string,
  (...args: unknown[]) => Promise<unknown>
>;

const threadApi = {
  run: (by: Actor, task: string, args: unknown[]): Promise<unknown> => as(by, () => tasks[task](...args)),
  async importRun(
    by: Actor,
    id: number,
    request: ImportRequest,
    onProgress: (p: OnTheWay) => void,
  ): Promise<ImportEnd> {
    const abort = new AbortController();
    running.set(id, abort);
    try {
      return await as(by, () => endOfImport(knex, request, onProgress, abort.signal));
    } finally {
      running.delete(id);
      (onProgress as Partial<ProxyMethods>)[releaseProxy]?.();
    }
  },
  cancelImport(id: number): void {
    running.get(id)?.abort();
  },
};
export type ThreadApi = typeof threadApi;

expose(threadApi, nodeEndpoint(parentPort!));
