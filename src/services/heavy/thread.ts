import type { Worker as Thread } from "node:worker_threads";
import { proxy, wrap, type Remote } from "comlink";
import nodeEndpoint from "comlink/dist/umd/node-adapter";
import { log } from "../web/log";
import type { Actor } from "../../data/actor";
import type { ImportRequest } from "../import/importRequest";
import type { Worker } from "./pool";
import type { ImportEnd, OnTheWay } from "./tasks";
import { ThreadEnded } from "./threadEnded";
import type { ThreadApi } from "./worker";

export interface Heap {
  maxOldGenerationSizeMb: number;
  maxYoungGenerationSizeMb: number;
}

/** A thread and who waits for it. */
export class Running implements Worker {
  readonly api: Remote<ThreadApi>;
  /** How to tell each that the thread ended; a settled question leaves nothing behind. */
  private readonly waiting = new Set<(ended: ThreadEnded) => void>();
  private readonly worker: Thread;
  /** Nobody was kept waiting by its end: it was idle. */
  private ending = false;

  constructor(file: string, name: string, heap: Heap, onEnd: () => void) {
    // Taken this way because a bundler would try to follow it: the file is built apart, see scripts/launcher/heavy.ts.
    const { Worker: NodeWorker } = process.getBuiltinModule("node:worker_threads");
    this.worker = new NodeWorker(file, {
      workerData: { databaseUrl: process.env.BRAVEL_DATABASE_URL },
      resourceLimits: heap,
    });
    this.api = wrap<ThreadApi>(nodeEndpoint(this.worker));
    let gone = false;
    const over = (cause: unknown) => {
      if (gone) return;
      gone = true;
      if (this.waiting.size || !this.ending) log.error({ err: cause, thread: name }, "a computing thread ended");
      onEnd();
      const ended = new ThreadEnded(cause);
      for (const tell of this.waiting) tell(ended);
      this.waiting.clear();
    };
    this.worker.once("error", over);
    this.worker.once("exit", (code) => over(new Error(`exit ${code}`)));
    this.worker.setMaxListeners(0);
    this.worker.unref();
  }

  /** A question's answer, or the thread's end. */
  answer<T>(question: Promise<T>): Promise<T> {
    return new Promise((resolve, reject) => {
      this.waiting.add(reject);
      question.then(resolve, reject).finally(() => this.waiting.delete(reject));
    });
  }

  /**
   * Imports, telling the steps. Here and not where it is asked for: parts of the application are bundled apart and share the pools, and a
   * callback is known only to the library that made the thread's side.
   */
  importRun(by: Actor, id: number, request: ImportRequest, onProgress: (p: OnTheWay) => void): Promise<ImportEnd> {
    return this.answer<ImportEnd>(this.api.importRun(by, id, request, proxy(onProgress)));
  }

  end(): void {
    this.ending = true;
    void this.worker.terminate();
  }
}
