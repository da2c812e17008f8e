import type { CleaningNote } from "../../analysis/reduce";
import type { DoubtFinder } from "./doubt";

export interface Cleaned {
  kind: "cleaned";
  note: CleaningNote;
  effect: null;
}

/** Faults of an instrument that cleaning took out of a channel the answer rests on. */
export const cleaned: DoubtFinder<Cleaned> = {
  find: ({ cleaning }) => cleaning.map((note): Cleaned => ({ kind: "cleaned", note, effect: null })),
};
