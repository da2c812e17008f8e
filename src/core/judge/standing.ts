import normalQuantile from "@stdlib/stats-base-dists-normal-quantile";
import { conditionalPower, informationShare, lookAfter } from "../uncertainty/sequential";
import { standardUncertainty } from "../uncertainty/uncertain";
import type { Judgement } from "./judge";
import { LEVEL } from "./laneHeat";

/** What the next day of a test is worth. It follows from the verdict and never says anything else than that. */
export type Advice =
  | { kind: "detected" }
  | { kind: "equal" }
  /** The readings are enough; a warning takes their answer away. */
  | { kind: "warningFirst" }
  /** Chance that the whole plan detects the difference if it is `ifTrue`, and the share of its information that is there. */
  | { kind: "goOn"; chance: number; share: number; ifTrue: number }
  | { kind: "hopeless"; chance: number; ifTrue: number }
  /** All of the plan is measured, and the data cannot tell. */
  | { kind: "done" };

/** The same in the days of a test; `interim`: a plan saved before the data allows for looking early. */
export type DatedAdvice = Advice & { daysSoFar: number; daysPlanned: number; interim: boolean };

/** Below this chance of ever telling what matters, going on as planned is not worth it (typical value, ours). */
const HOPELESS = 0.1;

/**
 * Whether to stop or go on, from the verdict itself: a winner there is detected here, so that Judge, Plan, Run and Bench cannot
 * contradict each other. The bounds of interim analyses count only where a plan was saved before the data (`look`).
 *
 * @param atEnd standard uncertainty of the difference when all is measured, W/m²
 * @param smallest difference that matters, W/m²
 * @returns null where nothing is compared yet
 */
export function adviceAfter(
  { verdict, look }: Pick<Judgement, "verdict" | "look">,
  { atEnd, smallest }: { atEnd: number; smallest: number },
): Advice | null {
  switch (verdict.kind) {
    case "none":
    case "stopped":
      return null;
    case "turned":
    case "winner":
    case "daylight":
      return verdict.kind === "daylight" && verdict.decision === "tie" ? { kind: "equal" } : { kind: "detected" };
    case "tie":
      return { kind: "equal" };
    case "cannotTell": {
      if (verdict.gate) return { kind: "warningFirst" };
      const now = standardUncertainty(verdict.difference);
      const share = informationShare(now, atEnd);
      if (look ? look.taken >= look.planned : share >= 1) return { kind: "done" };
      const atLast = (look && lookAfter(look.planned, look.planned)?.level) ?? LEVEL;
      const bound = normalQuantile(1 - atLast / (2 * verdict.rivals), 0, 1);
      // If the truth is what matters, or what was seen if that is more, in the direction seen so far.
      const ifTrue = Math.max(smallest, Math.abs(verdict.difference.value));
      const z = Math.abs(verdict.difference.value) / Math.max(1e-12, now);
      const chance = conditionalPower(z, Math.min(share, 1 - 1e-9), ifTrue / Math.max(1e-12, atEnd), bound);
      return chance < HOPELESS ? { kind: "hopeless", chance, ifTrue } : { kind: "goOn", chance, share, ifTrue };
    }
  }
}
