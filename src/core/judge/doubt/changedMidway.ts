import type { EventKind } from "../../log/eventKind";
import type { DoubtFinder } from "./doubt";

export interface ChangedMidway {
  kind: "changedMidway";
  run: string;
  lane: string;
  what: EventKind;
  atMs: number;
  /** Spans compared before and after it. */
  before: number;
  after: number;
  effect: null;
}

/** What changes a lane for longer than the moment it was marked. */
const LASTING: readonly EventKind[] = ["coverCleaned", "snow", "probeMoved", "fanChanged", "mirror"];

/** Something of one lane was changed in the middle of a run, and both sides of it are in the answer as if they were one. */
export const changedMidway: DoubtFinder<ChangedMidway> = {
  find: ({ events = [], heats }) =>
    events.flatMap(({ run, kind, lane, atMs }): ChangedMidway[] => {
      if (lane === null || !LASTING.includes(kind)) return [];
      const own = heats.filter((h) => h.run === run && h.lane === lane);
      const before = own.filter((h) => h.endMs <= atMs).length;
      const after = own.filter((h) => h.startMs >= atMs).length;
      return before > 0 && after > 0
        ? [{ kind: "changedMidway", run, lane, what: kind, atMs, before, after, effect: null }]
        : [];
    }),
};
