import { LiveRig, type RigFrame } from "../../src/core/rig/liveRig";
import { seededRandom } from "../../src/core/random/seededRandom";
import type { RigFaultKind, RigSettings } from "../../src/core/experiment/schema/rig";

interface Orders {
  running: boolean;
  version: number;
  epoch: number;
  settings: RigSettings | null;
  newestMs: number | null;
}

export interface DriveOptions {
  address: string;
  token: string;
  signal: AbortSignal;
  /** Every frame with what nobody at the bench knows, before any fault of the logger. */
  onTruth?: (frame: RigFrame) => void;
  say?: (text: string) => void;
}

const TICK_MS = 500;
/** Most steps in one tick: a slow machine falls behind instead of standing still. */
const MOST_STEPS = 400;
const BATCH = 500;
/** A clock set wrong by this much, ms. */
const LATE_MS = 90_000;

/** Another driver has taken the rig over, or its device was revoked. */
export class RigLetGo extends Error {}

/** Drives the simulated bench: lives through its time, and sends what its logger sees as a real one would, faults and all. */
export class RigDriver {
  private rig: LiveRig | null = null;
  private orders: Orders | null = null;
  private owed = 0;
  private waiting: RigFrame[] = [];
  private readonly dice = seededRandom(7);

  constructor(private readonly options: DriveOptions) {}

  async run(): Promise<void> {
    let before = Date.now();
    while (!this.options.signal.aborted) {
      await this.look();
      const now = Date.now();
      this.live((now - before) / 1000);
      before = now;
      await this.send();
      await new Promise((r) => setTimeout(r, TICK_MS));
    }
  }

  private headers(type?: string): Record<string, string> {
    return {
      authorization: `Bearer ${this.options.token}`,
      ...(type ? { "content-type": type } : {}),
    };
  }

  /** Orders, while Bravel answers; otherwise the bench goes on as it was: the sun does not wait. */
  private async look(): Promise<void> {
    const response = await fetch(`${this.options.address}/api/rig`, { headers: this.headers() }).catch(() => null);
    if (response?.status === 401) throw new RigLetGo("another rig has taken over, or this one was revoked");
    if (!response?.ok) return;
    const orders = (await response.json()) as Orders;
    const { settings } = orders;
    if (!settings) this.rig = null;
    else if (!this.rig || this.orders?.epoch !== orders.epoch) {
      // A driver that begins goes on where the last one ended; a bench set up anew begins at its start.
      const resume = this.orders === null && orders.newestMs !== null && orders.newestMs > settings.startMs;
      this.rig = new LiveRig(settings, resume ? orders.newestMs! : settings.startMs);
      this.waiting = [];
      this.owed = 0;
    } else if (this.orders.version !== orders.version) this.rig.change(settings);
    this.orders = orders;
  }

  private live(wallS: number): void {
    const settings = this.orders?.settings;
    if (!this.rig || !settings || !this.orders!.running) return;
    this.owed = Math.min(MOST_STEPS, this.owed + (wallS * settings.speed) / settings.stepS);
    for (; this.owed >= 1; this.owed--) {
      const frame = this.rig.step();
      this.options.onTruth?.(frame);
      this.waiting.push(frame);
    }
  }

  private fault(kind: RigFaultKind): number {
    return this.orders?.settings?.faults.find((f) => f.kind === kind)?.share ?? 0;
  }

  /** What waits goes out in order; what was not acknowledged stays. */
  private async send(): Promise<void> {
    if (this.fault("loggerOff")) return;
    while (this.waiting.length && !this.options.signal.aborted) {
      const batch = this.waiting.slice(0, BATCH);
      if (this.dice.uniform() < this.fault("lostMessages")) {
        this.waiting.splice(0, batch.length);
        continue;
      }
      if (!(await this.post(batch))) return;
      if (this.dice.uniform() < this.fault("resends")) await this.post(batch);
      this.waiting.splice(0, batch.length);
    }
  }

  private async post(batch: readonly RigFrame[]): Promise<boolean> {
    const late = this.fault("lateClock") ? LATE_MS : 0;
    const frames = batch.map(({ atMs, values }) => ({ time: atMs - late, values: Object.fromEntries(values) }));
    const response = await fetch(`${this.options.address}/api/readings`, {
      method: "POST",
      headers: this.headers("application/json"),
      body: JSON.stringify({ frames }),
    }).catch(() => null);
    if (response?.status === 401) throw new RigLetGo("another rig has taken over, or this one was revoked");
    if (response && response.status >= 400 && response.status < 500 && response.status !== 429)
      this.options.say?.(`the rig's readings were refused: ${await response.text()}`);
    return response !== null && (response.ok || response.status === 422);
  }
}
