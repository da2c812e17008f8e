import type { CleaningNote } from "../../analysis/reduce";
import type { DoubtFinder } from "./doubt";

export interface Cleaned {
  kind: "cleaned";
  note: CleaningNote;
  effect: null;
}

/** Faults of an instrument that cleaning took out of a channel the answer rests on; what came again is one doubt with its count. */
export const cleaned: DoubtFinder<Cleaned> = {
  find({ cleaning }) {
    const joined = new Map<string, CleaningNote>();
    for (const note of cleaning) {
      const key = `${note.channel} ${note.lane} ${note.reason}`;
      const before = joined.get(key);
      joined.set(
        key,
        before
          ? {
              ...before,
              count: before.count + note.count,
              firstMs: Math.min(before.firstMs, note.firstMs),
              lastMs: Math.max(before.lastMs, note.lastMs),
            }
          : note,
      );
    }
    return [...joined.values()].map((note): Cleaned => ({ kind: "cleaned", note, effect: null }));
  },
};
