import type { SourceKind } from "../uncertainty/source";
import type { Uncertain } from "../uncertainty/uncertain";

/** What would settle an open question, from the budget of the difference in doubt. */
export type Remedy =
  /** `days` more like those so far bring the scatter down enough. */
  | { kind: "moreDays"; days: number }
  | { kind: "swapStations"; a: string; b: string }
  | { kind: "betterInstrument"; source: SourceKind; expandedNow: number; expandedThen: number }
  /** The difference is below what matters; nothing needs settling. */
  | { kind: "nothing" };

export type Verdict =
  | { kind: "none"; reason: "oneLane" | "noCurves" | "noCommonWindows" }
  | {
      kind: "winner";
      best: string[];
      next: string[];
      difference: Uncertain;
      expanded: number;
      chanceWrong: number;
      remedy: Remedy;
    }
  /** Told apart from nothing that matters: the leaders are equal within the smallest difference. */
  | { kind: "tie"; lanes: string[]; within: number }
  | {
      kind: "cannotTell";
      best: string[];
      next: string[];
      difference: Uncertain;
      expanded: number;
      chanceWrong: number;
      remedy: Remedy;
    };
