import { Bucket, Buckets } from "../ingest/rate";

/** Who guesses from one address, at one name, or from a device that was signed in before: ten at once, then one every ten seconds. */
const EACH = { perSecond: 0.1, burst: 10 };
/** Everybody else together, wide enough for a class that signs in at once. */
const ALL = { perSecond: 1, burst: 60 };

/**
 * How long a try must wait. A device that was signed in before waits for nothing but its own tries, so that nobody's guessing keeps its
 * owner out.
 */
export class Guessing {
  private readonly byAddress = new Buckets(EACH.perSecond, EACH.burst);
  private readonly byName = new Buckets(EACH.perSecond, EACH.burst);
  private readonly byDevice = new Buckets(EACH.perSecond, EACH.burst);
  private readonly all: Bucket;

  constructor(nowMs: number) {
    this.all = new Bucket(ALL.perSecond, ALL.burst, nowMs);
  }

  /** @returns 0 when the try may be made, else how long to wait, ms */
  wait(by: { address: string; name: string; device: string | null }, nowMs: number): number {
    if (by.device !== null) return this.byDevice.take(by.device, nowMs);
    // One after the other: who is held up at one takes nothing from those that others share.
    return (
      this.byAddress.take(by.address, nowMs) || this.byName.take(by.name.toLowerCase(), nowMs) || this.all.take(nowMs)
    );
  }
}
