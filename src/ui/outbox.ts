/**
 * What waits in the browser to be sent, in order, until it is answered for good: put down before it is sent, so that a page
 * closed at once or a link that is away loses nothing. Where the browser's store is full or shut, it waits in the page alone.
 */
export class Outbox<T> {
  private readonly changed: string;
  private sending = false;
  private here: T[] | null = null;

  /**
   * @param store its name in the browser
   * @param isEntry what lies there of another shape is none: it is left out, and never takes a page away
   * @param most entries kept; the oldest go
   */
  constructor(
    private readonly store: string,
    private readonly isEntry: (value: unknown) => boolean,
    private readonly most = Infinity,
  ) {
    this.changed = `${store}-changed`;
  }

  waiting(): T[] {
    if (this.here) return this.here;
    try {
      const list: unknown = JSON.parse(localStorage.getItem(this.store) ?? "[]");
      return Array.isArray(list) ? (list.filter(this.isEntry) as T[]) : [];
    } catch {
      return [];
    }
  }

  put(entry: T): void {
    this.keep([...this.waiting(), entry]);
  }

  keep(list: readonly T[]): void {
    const kept = list.slice(-Math.min(list.length, this.most));
    try {
      localStorage.setItem(this.store, JSON.stringify(kept));
      this.here = null;
    } catch {
      this.here = kept;
    }
    window.dispatchEvent(new Event(this.changed));
  }

  /** Calls back whenever something is put in or gone, here or in another tab. */
  onChange(listen: () => void): () => void {
    window.addEventListener(this.changed, listen);
    window.addEventListener("storage", listen);
    return () => {
      window.removeEventListener(this.changed, listen);
      window.removeEventListener("storage", listen);
    };
  }

  /**
   * Sends until nothing is left to send or no final answer comes; one sender at a time.
   * @param next what of the list goes now; nothing of it ends the sending
   * @param post sends it; a rejection is a link that is away
   * @param settle takes a final answer and the entries it is about out of the list; false where another answer may come later
   */
  async send(
    next: (list: readonly T[]) => readonly T[],
    post: (batch: readonly T[]) => Promise<Response>,
    settle: (batch: readonly T[], response: Response) => Promise<boolean>,
  ): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    try {
      for (;;) {
        const batch = next(this.waiting());
        if (!batch.length) return;
        const response = await post(batch).catch(() => null);
        if (!response || !(await settle(batch, response))) return;
      }
    } finally {
      this.sending = false;
    }
  }
}

/** Refusals of what was sent itself: it is malformed, too large, of a kind nobody takes, or does not fit what is there. */
const FINAL: ReadonlySet<number> = new Set([400, 404, 409, 413, 415, 422]);

/** The answer is about the link, the load, the sign-in or the server, not about what was sent. */
export const mayAnswerOtherwise = ({ status, ok }: Response): boolean => !ok && !FINAL.has(status);
