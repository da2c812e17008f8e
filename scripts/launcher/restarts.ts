import { pause } from "./owned";

const FIRST_PAUSE_MS = 1000;
const LONGEST_PAUSE_MS = 30_000;

/** How often a part may be started again: a few times in a while, each time after a longer pause. */
export class Restarts {
  private times: number[] = [];

  constructor(
    private readonly most = 5,
    private readonly withinMs = 600_000,
    private readonly now: () => number = Date.now,
    private readonly wait: (ms: number) => Promise<void> = pause,
  ) {}

  /** Waits for the next start; false when it has been started too often. */
  async next(): Promise<boolean> {
    this.times = this.times.filter((t) => this.now() - t < this.withinMs);
    if (this.times.length >= this.most) return false;
    await this.wait(Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 2 ** this.times.length));
    this.times.push(this.now());
    return true;
  }
}
