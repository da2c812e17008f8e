import type { Knex } from "knex";
import { actor } from "../../data/actor";
import { Pool, type PoolLimits } from "./pool";
import { bind, endOfImport, FILING, LIVE, READING, TAKING, type Heavy } from "./tasks";
import { Running, type Heap } from "./thread";

type PoolName = "reading" | "live" | "taking" | "filing";
const MINUTE = 60_000;

/**
 * Heap of each thread, MB, without its arrays of readings: a thread that may have gigabytes lets its refuse pile up that far before it
 * clears it away. Reading a file needs little at a time; experiments of weeks hold many points.
 */
const HEAP: Record<PoolName, Heap> = {
  reading: { maxOldGenerationSizeMb: 2048, maxYoungGenerationSizeMb: 48 },
  live: { maxOldGenerationSizeMb: 1024, maxYoungGenerationSizeMb: 24 },
  taking: { maxOldGenerationSizeMb: 512, maxYoungGenerationSizeMb: 24 },
  filing: { maxOldGenerationSizeMb: 384, maxYoungGenerationSizeMb: 24 },
};
const COMMON = { patienceMs: 1000, idleMs: MINUTE, waiting: 300 };
/** What is live has a thread of its own: a bench that sends at six hundred times the clock keeps no page waiting, nor a page the bench. */
const LIMITS: Record<PoolName, PoolLimits> = {
  reading: { ...COMMON, most: 3, longestMs: 2 * MINUTE },
  live: { ...COMMON, most: 1, longestMs: 2 * MINUTE },
  taking: { ...COMMON, most: 1, longestMs: MINUTE },
  // A month at one second is minutes of reading.
  filing: { ...COMMON, most: 2, longestMs: 20 * MINUTE },
};

const holder = globalThis as { bravelPools?: Partial<Record<PoolName, Pool<Running>>> };

function pool(name: PoolName, file: string): Pool<Running> {
  const pools = (holder.bravelPools ??= {});
  return (pools[name] ??= new Pool((onEnd) => new Running(file, name, HEAP[name], onEnd), LIMITS[name]));
}

/** Of all experiments; every other task names its experiment, file or device first. */
const OF_ALL = new Set(["benchPage"]);
const numberOf = (named: unknown): unknown =>
  typeof named === "object" && named && "id" in named ? named.id : String(named);
/** What shares the results a thread keeps: an experiment or a file by its number, all of them by the task. */
const subject = (task: string, [first]: unknown[]): string => (OF_ALL.has(task) ? task : String(numberOf(first)));

/** Each task asked of a pool's threads, under the name of who asks. */
function remote<T extends object>(asked: Pool<Running>, tasks: T): { [K in keyof T]: unknown } {
  return Object.fromEntries(
    Object.keys(tasks).map((task) => [
      task,
      (...args: unknown[]) => {
        const by = actor();
        return asked.ask(subject(task, args), (thread) =>
          thread.answer(thread.api.run(by, task, args) as Promise<unknown>),
        );
      },
    ]),
  ) as { [K in keyof T]: unknown };
}

let imports = 0;

const remoteImport =
  (filing: Pool<Running>): Heavy["importRun"] =>
  (request, onProgress, signal) => {
    const id = ++imports;
    const by = actor();
    return filing.ask(`import ${id}`, async (thread) => {
      if (signal.aborted) return { kind: "cancelled" };
      const cancel = () => void thread.api.cancelImport(id);
      signal.addEventListener("abort", cancel);
      try {
        return await thread.importRun(by, id, request, onProgress);
      } finally {
        signal.removeEventListener("abort", cancel);
      }
    });
  };

/**
 * What computes long, off the thread that answers requests: pages of experiments, what is live, and files, each on threads of their own.
 * Where no thread file was built (tests, tools) the tasks run here, on the database given.
 * @param reading in place of the pool that pages are read with
 */
export function heavy(knex: Knex, reading?: Pool<Running>): Heavy {
  const file = process.env.BRAVEL_HEAVY;
  if (!file)
    return {
      ...bind(knex, READING),
      ...bind(knex, LIVE),
      ...bind(knex, TAKING),
      ...bind(knex, FILING),
      importRun: (request, onProgress, signal) => endOfImport(knex, request, onProgress, signal),
    };
  const filing = pool("filing", file);
  return {
    ...remote(reading ?? pool("reading", file), READING),
    ...remote(pool("live", file), LIVE),
    ...remote(pool("taking", file), TAKING),
    ...remote(filing, FILING),
    importRun: remoteImport(filing),
  } as Heavy;
}
