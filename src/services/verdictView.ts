import { stopsVerdict, type Doubt } from "../core/judge/doubt/list";
import type { Judgement } from "../core/judge/judge";
import { ratioOf } from "../core/judge/tested";
import type { Look } from "../core/uncertainty/sequential";
import type { Gate, Remedy, Verdict } from "../core/judge/verdict";
import type { FigureView } from "./figureView";

/** Where an answer holds when it is not at the operating point: the mean of what was tested. */
export interface TestedAt {
  inletC: number;
  /** null where nobody measured it. */
  ambientC: number | null;
  /** Best over next, per area, with its ends at 95 %. */
  ratio: { value: number; low: number; high: number } | null;
}

export type VerdictView =
  | { kind: "none"; reason: Extract<Verdict, { kind: "none" }>["reason"] | "noRuns" }
  | { kind: "stopped"; by: Doubt | null }
  | {
      kind: "winner" | "cannotTell";
      best: string[];
      next: string[];
      difference: FigureView;
      chanceWrong: number;
      remedy: Remedy;
      belowWhatMatters: boolean;
      gate: Gate | null;
      tested: TestedAt | null;
      /** Before the planned end: what this look may cost. */
      look: Look | null;
    }
  | { kind: "tie"; lanes: string[]; within: number; tested: TestedAt | null };

/** The answer as pages show it. @param runs how many there are; @param smallest difference that matters, W/m² */
export function verdictView(judgement: Judgement, runs: number, smallest: number): VerdictView {
  const { verdict } = judgement;
  if (runs === 0) return { kind: "none", reason: "noRuns" };
  if (verdict.kind === "none") return verdict;
  if (verdict.kind === "stopped") return { kind: "stopped", by: judgement.doubts.find(stopsVerdict) ?? null };
  if (verdict.kind === "tie")
    return { kind: "tie", lanes: verdict.lanes, within: verdict.within, tested: testedAt(judgement, verdict.lanes) };
  const { kind, best, next, difference, expanded, chanceWrong, remedy } = verdict;
  return {
    kind,
    best,
    next,
    difference: { si: difference.value, expanded, quantity: "heatFlux" },
    chanceWrong,
    remedy,
    belowWhatMatters: Math.abs(difference.value) < smallest,
    gate: verdict.kind === "cannotTell" ? verdict.gate : null,
    tested: testedAt(judgement, [best[0], next[0]]),
    look: judgement.look && judgement.look.taken < judgement.look.planned ? judgement.look : null,
  };
}

function testedAt({ way, tested, pairs }: Judgement, [a, b]: readonly string[]): TestedAt | null {
  if (way !== "tested" || !tested) return null;
  const pair = pairs.find((p) => [p.a, p.b].includes(a) && [p.a, p.b].includes(b));
  const found = pair && ratioOf(pair);
  const { inletC, ambientC } = tested.condition;
  const own = found && { value: found.ratio, low: found.low, high: found.high };
  const turned = found && { value: 1 / found.ratio, low: 1 / found.high, high: 1 / found.low };
  return { inletC, ambientC: orNull(ambientC), ratio: (found?.a === a ? own : turned) ?? null };
}

export const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value);
