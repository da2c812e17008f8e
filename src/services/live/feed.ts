import type { Knex } from "knex";
import { liveVersion } from "../../data/run/live";
import type { LiveView } from "./view";

/** How often the database is asked for news, ms: well under a second from reading to screen. */
const LOOK_EVERY_MS = 400;
/** Without news a view is made anew so often, ms: silence is news too, and so is time. */
const ANYWAY_MS = 5000;
const BEAT_MS = 15_000;

interface Shared {
  key: string;
  at: number;
  text: Promise<string | null>;
}
/** Viewers of one experiment get one view: ten of them cost as much as one. */
const shared = ((globalThis as { bravelLive?: Map<number, Shared> }).bravelLive ??= new Map<number, Shared>());

function viewOf(experimentId: number, key: string, make: () => Promise<LiveView | null>): Promise<string | null> {
  const known = shared.get(experimentId);
  const now = Date.now();
  if (known && known.key === key && now - known.at < ANYWAY_MS / 2) return known.text;
  const text = make().then((view) => view && JSON.stringify(view));
  shared.set(experimentId, { key, at: now, text });
  text.catch(() => shared.delete(experimentId));
  if (shared.size > 100) shared.delete(shared.keys().next().value!);
  return text;
}

/**
 * Server-sent events: the whole live view whenever something changed. A reader that comes back gets the newest whole view first, so a
 * lost connection leaves no gap; any instance can serve it, because all is asked of the database.
 */
export function liveFeed(
  knex: Knex,
  experimentId: number,
  make: () => Promise<LiveView | null>,
  signal: AbortSignal,
): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  return new ReadableStream<Uint8Array>({
    async start(controller) {
      const send = (text: string) => {
        if (!signal.aborted) controller.enqueue(encoder.encode(text));
      };
      let last = "";
      let sentAt = 0;
      send("retry: 1500\n\n");
      while (!signal.aborted) {
        try {
          const key = await liveVersion(knex, experimentId);
          const now = Date.now();
          if (key !== last || now - sentAt > ANYWAY_MS) {
            const text = await viewOf(experimentId, key, make);
            send(text === null ? "event: none\ndata: {}\n\n" : `id: ${key}\ndata: ${text}\n\n`);
            last = key;
            sentAt = now;
          } else if (now - sentAt > BEAT_MS) send(": still here\n\n");
        } catch {
          // The database is away: the reader is told, keeps what it has, and is served again when it is back.
          send("event: away\ndata: {}\n\n");
          await pause(3 * LOOK_EVERY_MS, signal);
        }
        await pause(LOOK_EVERY_MS, signal);
      }
      try {
        controller.close();
      } catch {
        // The reader was faster.
      }
    },
  });
}

const pause = (ms: number, signal: AbortSignal): Promise<void> =>
  new Promise((resolve) => {
    const timer = setTimeout(resolve, ms);
    signal.addEventListener("abort", () => (clearTimeout(timer), resolve()), { once: true });
  });
