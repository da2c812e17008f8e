/** Requests that open a stream of the live bench; a single look (`?once`) is none. */
export const opensStream = (url: string): boolean =>
  /^\/api\/experiments\/\d+\/live(?:\?|$)/.test(url) && !/[?&]once\b/.test(url);

interface Turn {
  work: () => void;
  hasLeft: () => boolean;
}

/** Lets one after another in, `everyMs` apart, so that between two of them everybody else is served. Who has left is passed over. */
export class Turns {
  private readonly waiting: Turn[] = [];
  private timer: NodeJS.Timeout | undefined;

  /** @param most how many may wait */
  constructor(
    private readonly everyMs: number,
    private readonly most: number,
  ) {}

  /** Whether there is room to wait; the work is done in its turn, the first at once. */
  take(work: () => void, hasLeft: () => boolean): boolean {
    if (this.timer === undefined) {
      this.timer = setTimeout(() => this.next(), this.everyMs);
      work();
      return true;
    }
    if (this.waiting.length >= this.most) return false;
    this.waiting.push({ work, hasLeft });
    return true;
  }

  private next(): void {
    let turn = this.waiting.shift();
    while (turn?.hasLeft()) turn = this.waiting.shift();
    this.timer = turn && setTimeout(() => this.next(), this.everyMs);
    turn?.work();
  }
}
