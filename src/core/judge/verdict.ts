import type { SourceKind } from "../uncertainty/source";
import type { Uncertain } from "../uncertainty/uncertain";

/** What would settle an open question, from the budget of the difference in doubt. */
export type Remedy =
  /** `days` more like those so far bring the scatter down enough. */
  | { kind: "moreDays"; days: number }
  | { kind: "swapStations"; a: string; b: string }
  | { kind: "betterInstrument"; source: SourceKind; expandedNow: number; expandedThen: number }
  /** More days like those so far would not tell in a season: their scatter is too large for so small a difference. */
  | { kind: "steadierDays"; days: number }
  /** The difference is below what matters; nothing needs settling. */
  | { kind: "nothing" };

/** Where the lanes are compared: moved along their curves to the operating point, or as they were tested. */
export type Way = "point" | "tested";

/** A doubt that alone could undo the answer: its kind, and what the answer would become. */
export interface Gate {
  kind: string;
  low: number;
  high: number;
}

export type Verdict =
  | { kind: "none"; reason: "oneLane" | "noHeat" | "tooShort" | "noCommonSpans" }
  /** Figures that cannot be right: no order is told until their cause is found among the doubts. */
  | { kind: "stopped" }
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
  | { kind: "tie"; lanes: string[]; within: number; difference: Uncertain }
  | {
      kind: "cannotTell";
      best: string[];
      next: string[];
      difference: Uncertain;
      expanded: number;
      chanceWrong: number;
      remedy: Remedy;
      /** Set where the figures alone would tell, but a doubt reaches over the decision. */
      gate: Gate | null;
    };
