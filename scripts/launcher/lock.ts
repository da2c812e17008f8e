import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { describe, end, isAlive, type Owned } from "./owned";
import { LaunchError } from "./progress";

/** What a home's Bravel is, and what it started. */
interface Running {
  self: Owned;
  address?: string;
  /** Its application, or the build of it. */
  started: Owned[];
}

/** One Bravel a home. What a killed one left running is ended before anything begins; a number that another process has by now is never touched. */
export class HomeLock {
  private readonly running: Running;

  private constructor(
    private readonly file: string,
    self: Owned,
  ) {
    this.running = { self, started: [] };
  }

  static async take(home: string): Promise<HomeLock> {
    const self = describe(process.pid) ?? { pid: process.pid, began: "", command: "" };
    const file = join(home, "running.json");
    try {
      mkdirSync(home, { recursive: true, mode: 0o700 });
      const other = existsSync(file) ? readRunning(file) : null;
      if (other && other.self.pid !== process.pid && isAlive(other.self))
        throw new LaunchError(
          `Bravel already runs from this folder${other.address ? ` at ${other.address}` : ""} (process ${other.self.pid}). Use that one, or stop it with Ctrl-C where it was started.`,
        );
      if (existsSync(file)) console.log("The last Bravel here was killed; tidying up after it.");
      for (const left of other?.started ?? []) await end(left);
      const lock = new HomeLock(file, self);
      lock.write();
      return lock;
    } catch (error) {
      if (error instanceof LaunchError) throw error;
      throw new LaunchError(
        `cannot write in ${home} (${(error as Error).message}). Give this account the right, or set BRAVEL_HOME to a folder of yours.`,
      );
    }
  }

  /** Remembers what was started, so that it can be ended if this process is killed. */
  started(pid: number | undefined, address?: string): void {
    const owned = pid === undefined ? null : describe(pid);
    if (owned) this.running.started = [...this.running.started.filter(isAlive), owned];
    if (address) this.running.address = address;
    this.write();
  }

  release(): void {
    rmSync(this.file, { force: true });
  }

  private write(): void {
    const whole = `${this.file}.new`;
    try {
      writeFileSync(whole, JSON.stringify({ ...this.running, pid: this.running.self.pid }));
      renameSync(whole, this.file);
    } catch (error) {
      // A full disk must not stop what runs: only the tidying after a kill will know less.
      if ((error as NodeJS.ErrnoException).code !== "ENOSPC") throw error;
    }
  }
}

/** Where the Bravel of a home answers; null when none runs. */
export function runningAddress(home: string): string | null {
  const file = join(home, "running.json");
  const running = existsSync(file) ? readRunning(file) : null;
  return running && isAlive(running.self) ? (running.address ?? null) : null;
}

/** Null for what cannot be read, and for what an older Bravel wrote: its numbers alone say nothing. */
function readRunning(file: string): Running | null {
  try {
    const kept = JSON.parse(readFileSync(file, "utf8")) as Partial<Running>;
    return kept.self && Array.isArray(kept.started) ? (kept as Running) : null;
  } catch {
    return null;
  }
}
