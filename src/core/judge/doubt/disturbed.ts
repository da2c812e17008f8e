import type { DoubtFinder } from "./doubt";

export interface Disturbed {
  kind: "disturbed";
  what: "door" | "cloud";
  spans: number;
  of: number;
  effect: null;
}

/** How long a door or a draught is felt, ms. */
const FELT_MS = 15 * 60_000;

/** Somebody marked a door or a draught, and spans that saw it are in the answer. */
export const disturbed: DoubtFinder<Disturbed> = {
  find({ events, heats }) {
    const doors = events.filter((e) => e.kind === "door");
    const spans = [...new Map(heats.map((h) => [`${h.run}/${h.window}`, h])).values()];
    const hit = spans.filter((h) =>
      doors.some((e) => e.run === h.run && e.atMs > h.startMs - FELT_MS && e.atMs < h.endMs),
    );
    return hit.length ? [{ kind: "disturbed", what: "door", spans: hit.length, of: spans.length, effect: null }] : [];
  },
};
