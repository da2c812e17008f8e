/** Lets through so many a second on average, and a burst of as many as fit into the bucket. */
export class Bucket {
  private left: number;
  private at: number;

  constructor(
    private readonly perSecond: number,
    private readonly size: number,
    nowMs: number,
  ) {
    this.left = size;
    this.at = nowMs;
  }

  /** @returns 0 when it may pass, else how long to wait, ms */
  take(nowMs: number, amount = 1): number {
    // A server clock that is set back gives nothing and takes nothing.
    this.left = Math.min(this.size, this.left + (Math.max(0, nowMs - this.at) / 1000) * this.perSecond);
    this.at = nowMs;
    if (this.left >= amount) {
      this.left -= amount;
      return 0;
    }
    return Math.ceil(((amount - this.left) / this.perSecond) * 1000);
  }
}

/** Buckets by name; those least used go first, so that names made up by an attacker take no memory. */
export class Buckets {
  private readonly kept = new Map<string, Bucket>();

  constructor(
    private readonly perSecond: number,
    private readonly size: number,
    private readonly most = 1000,
  ) {}

  take(name: string, nowMs: number, amount = 1): number {
    const bucket = this.kept.get(name) ?? new Bucket(this.perSecond, this.size, nowMs);
    this.kept.delete(name);
    this.kept.set(name, bucket);
    if (this.kept.size > this.most) this.kept.delete(this.kept.keys().next().value!);
    return bucket.take(nowMs, amount);
  }
}
