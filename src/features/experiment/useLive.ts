"use client";

import { useEffect, useState } from "react";
import type { LiveView } from "@/services/live/view";

export interface Live {
  view: LiveView | null;
  /** Opening at first; lost: this device has no link to Bravel; away: Bravel has none to its database; full: too many watch already. */
  link: "opening" | "open" | "lost" | "away" | "full";
  /** On this device's clock, when the newest view came. */
  heardAt: number;
}

/** Follows a live bench. A lost link is opened again by the browser itself, and the first thing that comes is the whole view. */
export function useLive(experimentId: number): Live {
  const [live, setLive] = useState<Live>({ view: null, link: "opening", heardAt: 0 });
  useEffect(() => {
    const source = new EventSource(`/api/experiments/${experimentId}/live`);
    const change = (part: Partial<Live>) => setLive((l) => ({ ...l, ...part }));
    source.onmessage = (e: MessageEvent<string>) =>
      change({ view: JSON.parse(e.data) as LiveView, link: "open", heardAt: Date.now() });
    source.addEventListener("none", () => change({ view: null, link: "open", heardAt: Date.now() }));
    source.addEventListener("away", () => change({ link: "away" }));
    source.addEventListener("full", () => change({ link: "full" }));
    // A stream that was ended because it was full is opened again by itself; that is no lost link.
    source.onerror = () => setLive((l) => (l.link === "full" ? l : { ...l, link: "lost" }));
    return () => source.close();
  }, [experimentId]);
  return live;
}

/** The bench's clock as it goes on between two views, for stamping what is pressed. */
export const benchNow = (view: Pick<LiveView, "simulated" | "nowMs">): number =>
  view.simulated ? view.nowMs : Date.now();
