/** What works in a pool: one task at a time, ended alone. */
export interface Worker {
  end(): void;
}

interface Task<W> {
  key: string;
  since: number;
  /** @returns how to tell the answer, once the worker is free again */
  run(worker: W): Promise<() => void>;
  /** Answers that there was no room, or no worker. */
  fail(error: Error): void;
}

interface Slot<W> {
  worker: W | null;
  busy: boolean;
  /** What it has worked on: it holds what it computed of it. */
  warm: Set<string>;
  idle?: ReturnType<typeof setTimeout>;
}

export interface PoolLimits {
  /** Workers at most; the first stays, further ones come when there is more to do and go when idle. */
  most: number;
  /** A task that takes longer has run into a fault: its worker is ended, and it alone fails, ms. */
  longestMs: number;
  /** How long a task waits for the worker that knows its subject before another takes it, ms. */
  patienceMs: number;
  idleMs: number;
  /** Tasks that may wait; more are refused. */
  waiting: number;
}

/** More was asked than can wait. */
export class PoolFull extends Error {
  constructor() {
    super("Bravel has more to compute than it can. Nothing was changed; try again in a minute.");
  }
}

/**
 * Workers that share what there is to do, fairly between subjects: each subject has a queue, and they take turns. A worker has one task at a
 * time, so that ending one ends one.
 */
export class Pool<W extends Worker> {
  private readonly slots: Slot<W>[];
  private readonly queues = new Map<string, Task<W>[]>();

  constructor(
    private readonly make: (onEnd: () => void) => W,
    private readonly limits: PoolLimits,
  ) {
    this.slots = Array.from({ length: limits.most }, () => ({ worker: null, busy: false, warm: new Set<string>() }));
  }

  /** @param key the subject: an experiment, or whatever shares what was computed */
  ask<T>(key: string, work: (worker: W) => Promise<T>): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      if ([...this.queues.values()].reduce((n, q) => n + q.length, 0) >= this.limits.waiting)
        return reject(new PoolFull());
      const task: Task<W> = {
        key,
        since: Date.now(),
        run: (worker) =>
          work(worker).then(
            (answer) => () => resolve(answer),
            (error: Error) => () => reject(error),
          ),
        fail: reject,
      };
      this.queues.set(key, [...(this.queues.get(key) ?? []), task]);
      this.dispatch();
    });
  }

  private dispatch(): void {
    for (let found = this.next(); found; found = this.next()) void this.work(found.slot, found.task);
  }

  /** The next task in turn for which a worker is free. */
  private next(): { slot: Slot<W>; task: Task<W> } | null {
    for (const [key, queue] of this.queues) {
      const slot = this.slotFor(key, queue[0]);
      if (!slot) continue;
      const task = queue.shift()!;
      // Its turn comes again after the others'.
      this.queues.delete(key);
      if (queue.length) this.queues.set(key, queue);
      return { slot, task };
    }
    return null;
  }

  private slotFor(key: string, task: Task<W>): Slot<W> | undefined {
    const warm = this.slots.filter((s) => s.warm.has(key));
    const free = warm.find((s) => !s.busy);
    if (free) return free;
    const waitMs = warm.length ? task.since + this.limits.patienceMs - Date.now() : 0;
    if (waitMs > 0) {
      setTimeout(() => this.dispatch(), waitMs + 1).unref();
      return undefined;
    }
    const idle = this.slots.filter((s) => !s.busy);
    return idle.find((s) => s.worker) ?? idle[0];
  }

  private async work(slot: Slot<W>, task: Task<W>): Promise<void> {
    slot.busy = true;
    clearTimeout(slot.idle);
    let tell: () => void;
    try {
      const worker = (slot.worker ??= this.begin(slot));
      slot.warm.add(task.key);
      const timer = setTimeout(() => worker.end(), this.limits.longestMs);
      tell = await task.run(worker).finally(() => clearTimeout(timer));
    } catch (error) {
      tell = () => task.fail(error as Error);
    }
    slot.busy = false;
    if (slot !== this.slots[0]) slot.idle = setTimeout(() => slot.worker?.end(), this.limits.idleMs).unref();
    tell();
    this.dispatch();
  }

  private begin(slot: Slot<W>): W {
    const worker = this.make(() => {
      if (slot.worker !== worker) return;
      slot.worker = null;
      slot.warm.clear();
    });
    return worker;
  }
}
