import type { Worker as Thread } from "node:worker_threads";
import type { Knex } from "knex";
import { proxy, wrap, type Remote } from "comlink";
import nodeEndpoint from "comlink/dist/umd/node-adapter";
import { log } from "../web/log";
import { ThreadEnded } from "./threadEnded";
import { bind, endOfImport, FILING, READING, type Heavy, type ImportEnd } from "./tasks";
import type { ThreadApi } from "./worker";

/** No page is worth a longer wait: a thread that computes longer has run into a fault, and holds up all others. */
const LONGEST_MS = 120_000;

type ThreadName = "reading" | "filing";
/**
 * Heap of each thread, MB, without its arrays of readings: a thread that may have gigabytes lets its refuse pile up that far before it
 * clears it away. Reading a file needs little at a time; experiments of weeks hold many points.
 */
const HEAP: Record<ThreadName, { maxOldGenerationSizeMb: number; maxYoungGenerationSizeMb: number }> = {
  reading: { maxOldGenerationSizeMb: 2048, maxYoungGenerationSizeMb: 48 },
  filing: { maxOldGenerationSizeMb: 384, maxYoungGenerationSizeMb: 24 },
};
const holder = globalThis as { bravelThreads?: Partial<Record<ThreadName, Running>> };

/** A thread and who waits for it. */
class Running {
  readonly api: Remote<ThreadApi>;
  /** How to tell each that the thread ended; a settled question leaves nothing behind. */
  private readonly waiting = new Set<(ended: ThreadEnded) => void>();

  constructor(
    private readonly worker: Thread,
    name: ThreadName,
    onEnd: (over: Running) => void,
  ) {
    this.api = wrap<ThreadApi>(nodeEndpoint(worker));
    let gone = false;
    const over = (cause: unknown) => {
      if (gone) return;
      gone = true;
      log.error({ err: cause, thread: name }, "a computing thread ended");
      onEnd(this);
      const ended = new ThreadEnded(cause);
      for (const tell of this.waiting) tell(ended);
      this.waiting.clear();
    };
    worker.once("error", over);
    worker.once("exit", (code) => over(new Error(`exit ${code}`)));
    // One listener a question under way, however many there are.
    worker.setMaxListeners(0);
    worker.unref();
  }

  /** A question's answer, or the thread's end. */
  answer<T>(question: Promise<T>): Promise<T> {
    return new Promise((resolve, reject) => {
      this.waiting.add(reject);
      question.then(resolve, reject).finally(() => this.waiting.delete(reject));
    });
  }

  end(): void {
    void this.worker.terminate();
  }
}

function thread(name: ThreadName, file: string): Running {
  const threads = (holder.bravelThreads ??= {});
  const known = threads[name];
  if (known) return known;
  // Taken this way because a bundler would try to follow it: the file is built apart, see scripts/launcher/heavy.ts.
  const { Worker } = process.getBuiltinModule("node:worker_threads");
  const worker: Thread = new Worker(file, {
    workerData: { databaseUrl: process.env.BRAVEL_DATABASE_URL },
    resourceLimits: HEAP[name],
  });
  return (threads[name] = new Running(worker, name, (over) => {
    if (threads[name] === over) delete threads[name];
  }));
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
        const running = thread(name, file);
        const ask = running.api[task as keyof Remote<ThreadApi>] as unknown as (...a: unknown[]) => Promise<unknown>;
        const timer = longestMs === null ? undefined : setTimeout(() => running.end(), longestMs);
        return running.answer(ask(...args)).finally(() => clearTimeout(timer));
      },
    ]),
  ) as { [K in keyof T]: unknown };
}

let imports = 0;

const remoteImport =
  (file: string): Heavy["importRun"] =>
  async (request, onProgress, signal) => {
    const running = thread("filing", file);
    const id = ++imports;
    const cancel = () => void running.api.cancelImport(id);
    signal.addEventListener("abort", cancel);
    try {
      return await running.answer<ImportEnd>(running.api.importRun(id, request, proxy(onProgress)));
    } finally {
      signal.removeEventListener("abort", cancel);
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
