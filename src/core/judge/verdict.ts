import type { EventKind } from "../log/eventKind";
import type { SourceKind } from "../uncertainty/source";
import type { SpanUnit } from "./tested";
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
  /** What the readings alone say. */
  without: "winner" | "tie";
  low: number;
  high: number;
}

/** What a sure difference means beside the smallest that matters, by its whole interval. */
export type Meaning = "exceeds" | "open" | "below";

/** By its whole interval, and by the 90 % one where a difference is to be called too small (two one-sided tests at 5 %). */
export function meaningOf(
  value: number,
  { expanded, expanded90 }: { expanded: number; expanded90: number },
  smallest: number,
): Meaning {
  if (value - expanded >= smallest) return "exceeds";
  return value + expanded90 < smallest ? "below" : "open";
}

/** A thing turned by turns (a mirror up and down) is its own comparison: one lane with it turned, against the same lane with it turned back. */
export interface Turned {
  kind: "turned";
  lane: string;
  what: EventKind;
  /** Of the lane turned, against turned back. */
  decision: "more" | "less" | "equal" | "cannotTell";
  difference: Uncertain;
  /** Half-width at 95 %. */
  expanded: number;
  meaning: Meaning;
  /** Heat turned over heat turned back, with its ends at 95 %. */
  ratio: { value: number; low: number; high: number };
  chanceWrong: number;
  turns: number;
  windows: { turned: number; back: number };
  days: number;
}

/** Where turning shows an effect. */
export type TurnedVerdict = Turned & { decision: "more" | "less" };

export const tells = (turned: Turned | null): turned is TurnedVerdict =>
  turned?.decision === "more" || turned?.decision === "less";

/** Steady windows leave the question open, and all daylight, cloudy hours too, answers it. */
export interface DaylightVerdict {
  kind: "daylight";
  best: string[];
  /** The second by all daylight; of a tie the one furthest from the best. */
  next: string[];
  decision: "winner" | "tie";
  difference: Uncertain;
  /** Half-width at 95 %. */
  expanded: number;
  /** Of a winner; `below` for a tie. */
  meaning: Meaning;
  chanceWrong: number;
  rivals: number;
  hours: number;
  days: number;
  /** What the windows, or the hours as tested, say of the same two, W/m², with its half-width; null where they say nothing. */
  windows: { value: number; expanded: number; unit: SpanUnit } | null;
}

export type Verdict =
  | TurnedVerdict
  | DaylightVerdict
  | { kind: "none"; reason: "oneLane" | "noHeat" | "tooShort" | "noCommonSpans" }
  /** Figures that cannot be right: no order is told until their cause is found among the doubts. */
  | { kind: "stopped" }
  /** Better than every other variant; the difference is that to the second of the ranking. */
  | {
      kind: "winner";
      best: string[];
      next: string[];
      difference: Uncertain;
      expanded: number;
      /** Half-width at 90 %. */
      expanded90: number;
      meaning: Meaning;
      /** Chance that one of the others is the better one: of the rival hardest to tell from the best. */
      chanceWrong: number;
      /** How many other variants it was compared with. */
      rivals: number;
      remedy: Remedy;
    }
  /** No difference that matters between the best and each of the others named; the others were not compared with one another. */
  | {
      kind: "tie";
      lanes: string[];
      best: string[];
      others: string[][];
      within: number;
      /** The largest of these differences, with its half-width at 95 %. */
      difference: Uncertain;
      expanded: number;
    }
  | {
      kind: "cannotTell";
      best: string[];
      /** The rival hardest to tell from the best, and the others that are not told from it either. */
      next: string[];
      open: string[][];
      difference: Uncertain;
      expanded: number;
      chanceWrong: number;
      rivals: number;
      remedy: Remedy;
      /** Set where the figures alone would tell, but a doubt reaches over the decision. */
      gate: Gate | null;
    };
