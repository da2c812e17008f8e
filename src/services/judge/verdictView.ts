import { stopsVerdict } from "../../core/judge/doubt/dismissed";
import type { Doubt } from "../../core/judge/doubt/list";
import type { Judgement } from "../../core/judge/judge";
import { ratioOf } from "../../core/judge/tested";
import type { Look } from "../../core/uncertainty/sequential";
import type { DaylightVerdict, Gate, Meaning, Remedy, TurnedVerdict, Verdict } from "../../core/judge/verdict";
import type { FigureView } from "../page/figureView";

/** Where an answer holds when it is not at the operating point: the mean of what was tested. */
export interface TestedAt {
  inletC: number;
  /** null where nobody measured it. */
  ambientC: number | null;
  /** The two ran one after another, each brought to this condition. */
  inTurn: boolean;
  /** Best over next, per area, with its ends at 95 %. */
  ratio: { value: number; low: number; high: number } | null;
}

export type VerdictView =
  | { kind: "none"; reason: Extract<Verdict, { kind: "none" }>["reason"] | "noRuns" }
  | { kind: "stopped"; by: Doubt | null }
  | (Pick<
      TurnedVerdict,
      "kind" | "lane" | "what" | "decision" | "ratio" | "chanceWrong" | "turns" | "windows" | "days"
    > & {
      /** What it adds, or takes where it gives less. */
      difference: FigureView;
      /** As of a winner; null where no smallest difference was named. */
      meaning: Meaning | null;
    })
  | (Pick<
      DaylightVerdict,
      "kind" | "best" | "next" | "decision" | "chanceWrong" | "rivals" | "hours" | "days" | "windows"
    > & {
      difference: FigureView;
      /** Of a winner; null where no smallest difference was named. */
      meaning: Meaning | null;
    })
  | (Claim & {
      kind: "winner";
      /** Against the smallest difference that matters; null where none was named. */
      meaning: Meaning | null;
      /** Where the 95 % interval reaches over what matters and the 90 % one, which the claim rests on, does not: its half-width. */
      expanded90: number | null;
    })
  | (Claim & {
      kind: "cannotTell";
      /** Others that are not told from the best either. */
      open: string[][];
      /** What takes an answer of the readings away, and the doubt itself. */
      gate: (Gate & { by: Doubt | null }) | null;
      /** Zero lies outside the ±, and the limit for several comparisons or an early look is not passed. */
      missesLimit: boolean;
    })
  | {
      kind: "tie";
      lanes: string[];
      best: string[];
      others: string[][];
      within: number;
      difference: FigureView;
      tested: TestedAt | null;
    };

/** What is claimed, or left open, of the best and one rival. */
interface Claim {
  best: string[];
  next: string[];
  difference: FigureView;
  /** How many other variants the best was compared with. */
  rivals: number;
  chanceWrong: number;
  remedy: Remedy;
  tested: TestedAt | null;
  /** Before the planned end: what this look may cost. */
  look: Look | null;
}

/** The answer as pages show it. @param runs how many there are; @param smallest difference that matters, W/m² */
export function verdictView(judgement: Judgement, runs: number, smallest: number): VerdictView {
  const { verdict } = judgement;
  if (runs === 0) return { kind: "none", reason: "noRuns" };
  if (verdict.kind === "none") return verdict;
  if (verdict.kind === "stopped") return { kind: "stopped", by: judgement.doubts.find(stopsVerdict) ?? null };
  const { difference: d, expanded } = verdict;
  const difference: FigureView = { si: d.value, expanded, quantity: "heatFlux" };
  if (verdict.kind === "turned") return { ...verdict, difference, meaning: smallest > 0 ? verdict.meaning : null };
  if (verdict.kind === "daylight")
    return { ...verdict, difference, meaning: smallest > 0 && verdict.decision === "winner" ? verdict.meaning : null };
  const { best } = verdict;
  if (verdict.kind === "tie") {
    const { lanes, others, within } = verdict;
    return {
      kind: "tie",
      lanes,
      best,
      others,
      within,
      difference,
      tested: testedAt(judgement, [best[0], others[0][0]]),
    };
  }
  const { next, rivals, chanceWrong, remedy } = verdict;
  const look = judgement.look && judgement.look.taken < judgement.look.planned ? judgement.look : null;
  const tested = testedAt(judgement, [best[0], next[0]]);
  const claim: Claim = { best, next, difference, rivals, chanceWrong, remedy, tested, look };
  if (verdict.kind === "winner") {
    const { meaning, expanded90 } = verdict;
    const by90 = meaning === "below" && d.value + expanded >= smallest;
    return { kind: "winner", ...claim, meaning: smallest > 0 ? meaning : null, expanded90: by90 ? expanded90 : null };
  }
  const { gate, open } = verdict;
  return {
    kind: "cannotTell",
    ...claim,
    open,
    gate: gate && { ...gate, by: judgement.doubts.find((f) => f.kind === gate.kind && f.effect) ?? null },
    missesLimit: !gate && Math.abs(d.value) > expanded && (rivals > 1 || look !== null),
  };
}

function testedAt({ way, tested, pairs }: Judgement, [a, b]: readonly string[]): TestedAt | null {
  if (way !== "tested" || !tested) return null;
  const pair = pairs.find((p) => [p.a, p.b].includes(a) && [p.a, p.b].includes(b));
  const found = pair && ratioOf(pair);
  const { inletC, ambientC } = tested.condition;
  const own = found && { value: found.ratio, low: found.low, high: found.high };
  const turned = found && { value: 1 / found.ratio, low: 1 / found.high, high: 1 / found.low };
  return {
    inletC,
    ambientC: orNull(ambientC),
    inTurn: pair?.inTurn ?? false,
    ratio: (found?.a === a ? own : turned) ?? null,
  };
}

export const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value);
