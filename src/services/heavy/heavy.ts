import type { Worker as Thread } from "node:worker_threads";
import type { Knex } from "knex";
import { proxy, releaseProxy, wrap, type Remote } from "comlink";
import nodeEndpoint from "comlink/dist/umd/node-adapter";
import { log } from "../log";
import { ThreadEnded } from "./threadEnded";
import { bind, endOfImport, FILING, READING, type Heavy } from "./tasks";
import type { ThreadApi } from "./worker";

/** No page is worth a longer wait: a thread that computes longer has run into a fault, and holds up all others. */
const LONGEST_MS = 120_000;

interface Running {
  api: Remote<ThreadApi>;
  end(): void;
  /** Rejects when the thread ends. */
  ended: Promise<never>;
}

type ThreadName = "reading" | "filing";
const holder = globalThis as { bravelThreads?: Partial<Record<ThreadName, Running>> };

function thread(name: ThreadName, file: string): Running {
  const threads = (holder.bravelThreads ??= {});
  const known = threads[name];
  if (known) return known;
  // Taken this way because a bundler would try to follow it: the file is built apart, see scripts/launcher/heavy.ts.
  const { Worker } = process.getBuiltinModule("node:worker_threads");
  const worker: Thread = new Worker(file, { workerData: { databaseUrl: process.env.BRAVEL_DATABASE_URL } });
  const api = wrap<ThreadApi>(nodeEndpoint(worker));
  const ended = new Promise<never>((_, reject) => {
    const over = (cause: unknown) => {
      if (threads[name]?.api === api) delete threads[name];
      reject(new ThreadEnded(cause));
    };
    worker.once("error", over);
    worker.once("exit", (code) => over(new Error(`exit ${code}`)));
  });
  // Nobody may be waiting just then.
  ended.catch((error: Error) => log.error({ err: error.cause, thread: name }, "a computing thread ended"));
  worker.unref();
  return (threads[name] = { api, ended, end: () => void worker.terminate() });
}

/**
 * Each task asked of a thread, answered by it or by its end.
 * @param longestMs a thread that takes longer is ended; null for one that may read for long
 */
function remote<T extends object>(
  name: ThreadName,
  file: string,
  tasks: T,
  longestMs: number | null,
): { [K in keyof T]: unknown } {
  return Object.fromEntries(
    Object.keys(tasks).map((task) => [
      task,
      (...args: unknown[]) => {
        const { api, ended, end } = thread(name, file);
        const ask = api[task as keyof Remote<ThreadApi>] as unknown as (...a: unknown[]) => Promise<unknown>;
        const timer = longestMs === null ? undefined : setTimeout(end, longestMs);
        return Promise.race([ask(...args), ended]).finally(() => clearTimeout(timer));
      },
    ]),
  ) as { [K in keyof T]: unknown };
}

let imports = 0;

const remoteImport =
  (file: string): Heavy["importRun"] =>
  async (request, onProgress, signal) => {
    const { api, ended } = thread("filing", file);
    const id = ++imports;
    const told = proxy(onProgress);
    const cancel = () => void api.cancelImport(id);
    signal.addEventListener("abort", cancel);
    try {
      return await Promise.race([api.importRun(id, request, told), ended]);
    } finally {
      signal.removeEventListener("abort", cancel);
      (told as { [releaseProxy]?: () => void })[releaseProxy]?.();
    }
  };

/**
 * What computes long, off the thread that answers requests: pages of experiments on one, files on another. Where no thread
 * file was built (tests, tools) the tasks run here, on the database given.
 */
export function heavy(knex: Knex, longestMs = LONGEST_MS): Heavy {
  const file = process.env.BRAVEL_HEAVY;
  if (!file)
    return {
      ...bind(knex, READING),
      ...bind(knex, FILING),
      importRun: (request, onProgress, signal) => endOfImport(knex, request, onProgress, signal),
    };
  return {
    ...remote("reading", file, READING, longestMs),
    ...remote("filing", file, FILING, null),
    importRun: remoteImport(file),
  } as Heavy;
}
