import type { EventInput } from "@/core/experiment/schema/event";
import { EVENT_KINDS } from "@/core/log/eventKind";
import { mayAnswerOtherwise, Outbox } from "@/ui/outbox";

/** An event that was pressed and has not been answered yet. */
export interface Waiting {
  experimentId: number;
  runId: number;
  event: EventInput;
  /** Why it was refused for good; it stays until somebody takes it away. */
  refused?: string;
  /** Why it has not gone yet, where that is known. */
  waits?: "signIn" | "server";
}

/** What the page shows and sends of an entry. The event's schema is the server's to check: it would be half of this page's script. */
const isWaiting = (value: unknown): boolean => {
  const { experimentId, runId, event } = (value ?? {}) as Partial<Waiting>;
  const { key, atMs, kind, lane } = (event ?? {}) as Partial<EventInput>;
  return (
    [experimentId, runId].every(Number.isInteger) &&
    typeof key === "string" &&
    Number.isFinite(atMs) &&
    EVENT_KINDS.some((k) => k === kind) &&
    // None, or all of them: a swap names its two lanes beside.
    typeof (lane ?? "") === "string"
  );
};

const events = new Outbox<Waiting>("bravel-outbox", isWaiting);
const without = (key: string) => events.waiting().filter((w) => w.event.key !== key);

export const waiting = (): Waiting[] => events.waiting();
export const onOutbox = (listen: () => void) => events.onChange(listen);
export const put = (entry: Waiting): void => events.put(entry);
export const takeAway = (key: string): void => events.keep(without(key));

/** Sends what waits, in the order in which it was pressed; stops at the first that no answer comes to. */
export const sendWaiting = (): Promise<void> =>
  events.send(
    (list) => list.filter((w) => !w.refused).slice(0, 1),
    ([{ experimentId, runId, event }]) =>
      fetch(`/api/experiments/${experimentId}/runs/${runId}/events`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(event),
      }),
    async ([{ event }], response) => {
      if (mayAnswerOtherwise(response)) {
        const waits = response.status === 401 || response.status === 403 ? "signIn" : "server";
        events.keep(events.waiting().map((w) => (w.event.key === event.key ? { ...w, waits } : w)));
        return false;
      }
      if (response.ok) takeAway(event.key);
      else {
        const { error } = (await response.json().catch(() => ({}))) as { error?: string };
        const refused = error ?? `refused (${response.status})`;
        events.keep(events.waiting().map((w) => (w.event.key === event.key ? { ...w, refused } : w)));
      }
      return true;
    },
  );
