import type { EventInput } from "@/core/experiment/schema/event";

/** An event that was pressed and has not been answered yet. */
export interface Waiting {
  experimentId: number;
  runId: number;
  event: EventInput;
  /** Why it was refused for good; it stays until somebody takes it away. */
  refused?: string;
}

const STORE = "bravel-outbox";

export function waiting(): Waiting[] {
  try {
    return JSON.parse(localStorage.getItem(STORE) ?? "[]") as Waiting[];
  } catch {
    return [];
  }
}

const CHANGED = "bravel-outbox-changed";

function keep(list: readonly Waiting[]): void {
  localStorage.setItem(STORE, JSON.stringify(list));
  window.dispatchEvent(new Event(CHANGED));
}

/** Calls back whenever something is put in or gone, here or in another tab. */
export function onOutbox(listen: () => void): () => void {
  window.addEventListener(CHANGED, listen);
  window.addEventListener("storage", listen);
  return () => {
    window.removeEventListener(CHANGED, listen);
    window.removeEventListener("storage", listen);
  };
}

/** Puts an event down before it is sent: pressed without a link, or with a page closed at once, it is not lost. */
export function put(entry: Waiting): void {
  keep([...waiting(), entry]);
}

export function takeAway(key: string): void {
  keep(waiting().filter((w) => w.event.key !== key));
}

let sending = false;

/** Sends what waits, in the order in which it was pressed; stops at the first that no answer comes to. */
export async function sendWaiting(): Promise<void> {
  if (sending) return;
  sending = true;
  try {
    for (const entry of waiting().filter((w) => !w.refused)) {
      const response = await fetch(`/api/experiments/${entry.experimentId}/runs/${entry.runId}/events`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(entry.event),
      }).catch(() => null);
      // No answer, or an answer that may be another one later: it waits.
      if (!response || response.status >= 500 || response.status === 429) return;
      if (response.ok) takeAway(entry.event.key);
      else {
        const { error } = (await response.json().catch(() => ({}))) as { error?: string };
        keep(
          waiting().map((w) =>
            w.event.key === entry.event.key ? { ...w, refused: error ?? `refused (${response.status})` } : w,
          ),
        );
      }
    }
  } finally {
    sending = false;
  }
}
