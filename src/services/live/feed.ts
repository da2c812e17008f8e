import type { Knex } from "knex";
import { liveVersion } from "../../data/run/live";
import type { LiveView } from "./view";

/** How often the database is asked for news, ms: well under a second from reading to screen. */
const LOOK_EVERY_MS = 400;
/** Without news a view is made anew so often, ms: silence is news too, and so is time. */
const ANYWAY_MS = 5000;
const BEAT_MS = 15_000;
/** How often it is asked whether a reader still may, ms. */
const ASKED_EVERY_MS = 2000;
/** Readers of one instance. More are told, and come again. */
const MOST_READERS = 200;
const COME_AGAIN_MS = 15_000;
/** Messages that a reader may be behind with. One that reads no further is let go, and gets the newest when it comes back. */
const MOST_BEHIND = 20;
const TOLD_AT_ONCE = 10;
const encoder = new TextEncoder();

type Make = () => Promise<LiveView | null>;

interface Reader {
  send(bytes: Uint8Array): void;
  /** Whether who reads may still: a revoked link or an ended session ends the stream. */
  mayStill(): Promise<boolean>;
  askedAt: number;
  end(): void;
}

const holder = globalThis as { bravelFeeds?: Map<number, Feed> };
const feedsHere = (): Map<number, Feed> => (holder.bravelFeeds ??= new Map<number, Feed>());

/** One look at the database and one view for all who watch one experiment: a hundred of them cost little more than one. */
class Feed {
  readonly readers = new Set<Reader>();
  /** Who came since the last look: they get the whole view, whether or not something changed. */
  private readonly fresh = new Set<Reader>();
  private newest: string | null = null;
  private watching = false;
  private wake = () => {};

  constructor(
    private readonly knex: Knex,
    private readonly experimentId: number,
    private readonly make: Make,
  ) {}

  join(reader: Reader): void {
    this.readers.add(reader);
    this.fresh.add(reader);
    if (this.watching) this.wake();
    else void this.watch();
  }

  leave(reader: Reader): void {
    this.readers.delete(reader);
    this.fresh.delete(reader);
  }

  /** A few readers at a time: between them everybody else is served. */
  private async tell(text: string, readers: Iterable<Reader> = this.readers): Promise<void> {
    const bytes = encoder.encode(text);
    let told = 0;
    for (const reader of [...readers]) {
      reader.send(bytes);
      if (++told % TOLD_AT_ONCE === 0) await new Promise(setImmediate);
    }
  }

  private async pause(ms: number): Promise<void> {
    await new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, ms);
      this.wake = () => (clearTimeout(timer), resolve());
    });
    this.wake = () => {};
  }

  private async watch(): Promise<void> {
    let last = "";
    let sentAt = 0;
    this.watching = true;
    while (this.readers.size) {
      try {
        await this.letGo();
        const came = [...this.fresh];
        this.fresh.clear();
        const key = await liveVersion(this.knex, this.experimentId);
        const now = Date.now();
        if (key !== last || now - sentAt > ANYWAY_MS) {
          const view = await this.make();
          this.newest = view ? `id: ${key}\ndata: ${JSON.stringify(view)}\n\n` : "event: none\ndata: {}\n\n";
          await this.tell(this.newest);
          last = key;
          sentAt = now;
        } else if (came.length && this.newest !== null) await this.tell(this.newest, came);
        else if (now - sentAt > BEAT_MS) await this.tell(": still here\n\n");
      } catch {
        // The database is away: readers are told, keep what they have, and are served again when it is back.
        this.newest = null;
        last = "";
        await this.tell("event: away\ndata: {}\n\n");
        await this.pause(3 * LOOK_EVERY_MS);
      }
      // Whoever came meanwhile is served at once.
      if (!this.fresh.size) await this.pause(LOOK_EVERY_MS);
    }
    this.watching = false;
    this.newest = null;
    if (feedsHere().get(this.experimentId) === this && !this.readers.size) feedsHere().delete(this.experimentId);
  }

  askAll(): void {
    for (const reader of this.readers) reader.askedAt = 0;
    this.wake();
  }

  private async letGo(): Promise<void> {
    const now = Date.now();
    const due = [...this.readers].filter((r) => now - r.askedAt > ASKED_EVERY_MS);
    await Promise.all(
      due.map(async (reader) => {
        reader.askedAt = now;
        if (!(await reader.mayStill())) reader.end();
      }),
    );
  }
}

function feedOf(knex: Knex, experimentId: number, make: Make): Feed {
  const known = feedsHere().get(experimentId);
  if (known) return known;
  const feed = new Feed(knex, experimentId, make);
  feedsHere().set(experimentId, feed);
  return feed;
}

/** Asks everybody who reads on this instance at once whether they still may; other instances ask within two seconds. */
function askWhoReads(): void {
  for (const feed of feedsHere().values()) feed.askAll();
}

/** Something that takes a right away: whoever reads by it is let go at once. */
export async function endingAtOnce<T>(taken: Promise<T>): Promise<T> {
  const answer = await taken;
  askWhoReads();
  return answer;
}

const readersHere = (): number => [...feedsHere().values()].reduce((n, feed) => n + feed.readers.size, 0);

/**
 * Server-sent events: the whole live view whenever something changed. A reader that comes back gets the newest whole view first, so a
 * lost connection leaves no gap; any instance can serve it, because all is asked of the database.
 */
export function liveFeed(
  knex: Knex,
  experimentId: number,
  make: Make,
  signal: AbortSignal,
  mayStill: () => Promise<boolean>,
): ReadableStream<Uint8Array> {
  let leave = () => {};
  return new ReadableStream<Uint8Array>({
    start(controller) {
      const write = (text: string) => controller.enqueue(encoder.encode(text));
      if (readersHere() >= MOST_READERS) {
        write(`retry: ${COME_AGAIN_MS}\n\nevent: full\ndata: ${JSON.stringify({ most: MOST_READERS })}\n\n`);
        controller.close();
        return;
      }
      const feed = feedOf(knex, experimentId, make);
      let gone = false;
      const reader: Reader = {
        askedAt: Date.now(),
        mayStill,
        send(bytes) {
          if (gone) return;
          if ((controller.desiredSize ?? 0) < -MOST_BEHIND) reader.end();
          else controller.enqueue(bytes);
        },
        end() {
          leave();
          try {
            controller.close();
          } catch {
            // The reader was faster.
          }
        },
      };
      leave = () => {
        gone = true;
        feed.leave(reader);
      };
      signal.addEventListener("abort", () => reader.end(), { once: true });
      write("retry: 1500\n\n");
      feed.join(reader);
    },
    cancel: () => leave(),
  });
}
