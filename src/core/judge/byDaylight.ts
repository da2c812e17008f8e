import type { Finding } from "../method/find/finding";
import { decideVerdict } from "./decide";
import { isDismissed } from "./doubt/dismissed";
import type { Facts } from "./evidence";
import type { Judgement } from "./judge";
import { LEVEL } from "./laneHeat";
import { decidedPairs } from "./pairs";
import type { RankedLane } from "./ranking";
import type { DaylightVerdict, Verdict } from "./verdict";

/** What all daylight found of the lanes' heat at the operating point and of its differences. */
export type DaylightFindings = readonly Finding[];

/** Whether steady windows leave open what all daylight may answer: not where a doubt took their answer, or figures cannot be right. */
export function leavesOpen({ verdict }: Pick<Judgement, "verdict">): boolean {
  if (verdict.kind === "cannotTell") return verdict.gate === null;
  return verdict.kind === "none" && (verdict.reason === "tooShort" || verdict.reason === "noCommonSpans");
}

/** Lanes are side by side where they shared so much of the shorter one's daylight; a stretch begins anew after each gap. */
const TOGETHER = 0.4;

/**
 * The answer of all daylight where steady windows have none. It leads only where it tells (a winner, or no difference that matters), where no
 * doubt reaches over it, and where windows do not say the opposite: else the windows' answer stays as it is.
 *
 * @param lanes every lane that was measured; a bare one is not compared so, because the sky's cold is not in its light
 * @param daylight findings at the same operating point, at the flow that was tested
 */
export function byDaylight(
  judgement: Judgement,
  lanes: readonly { lane: string; variant: string; bareShare?: number | null }[],
  daylight: DaylightFindings,
  { smallestDifference, dismissed }: { smallestDifference: number; dismissed: Facts["dismissed"] },
): DaylightVerdict | null {
  if (!leavesOpen(judgement)) return null;
  const heatOf = (lane: string) => daylight.find((f) => f.name === "heatAtPoint" && f.lane === lane)?.figure;
  if (lanes.some((l) => l.bareShare != null || !heatOf(l.lane))) return null;
  const hoursOf = (lane: string) => daylight.find((f) => f.name === "heatAtPoint" && f.lane === lane)!.hours;
  const level = judgement.look?.level ?? LEVEL;
  const variantOf = (lane: string) => lanes.find((l) => l.lane === lane)!.variant;
  const raw = daylight.flatMap(({ name, lane, other, figure, hours, days }) => {
    if (name !== "difference" || other === undefined) return [];
    const shown = judgement.pairs.find((p) => [p.a, p.b].includes(lane) && [p.a, p.b].includes(other));
    return [
      {
        a: { lane },
        b: { lane: other },
        difference: figure,
        level: (heatOf(lane)!.value + heatOf(other)!.value) / 2,
        windows: Math.round(hours),
        hours,
        days,
        swapped: shown?.swapped ?? false,
        identical: variantOf(lane) === variantOf(other),
        weather: null,
      },
    ];
  });
  // Lanes that ran one after another had each its own sky: how far that may go is not in these differences.
  if (raw.some((r) => r.hours < TOGETHER * Math.min(hoursOf(r.a.lane), hoursOf(r.b.lane)))) return null;
  const { pairs } = decidedPairs(raw, { smallestDifference, level });
  const ranking = [...lanes]
    .map(({ lane }): RankedLane => ({ lane, heat: heatOf(lane)!, rank: [1, lanes.length], chanceBest: 0, chances: [] }))
    .sort((a, b) => b.heat.value - a.heat.value);
  const told = decideVerdict({ smallestDifference, level }, lanes, ranking, pairs, variantOf);
  if (told.kind !== "winner" && told.kind !== "tie") return null;
  const next = told.kind === "winner" ? told.next : told.others[0];
  const windows = ofWindows(judgement.verdict, told.best, next);
  if (isUndone(judgement, told, next, { smallestDifference, dismissed })) return null;
  // Where windows lie apart from it by more than both ± one of the two is wrong.
  const { value } = told.difference;
  if (windows !== null && Math.abs(windows.value - value) > windows.expanded + told.expanded) return null;
  const own = pairs.find((p) => [p.a, p.b].includes(told.best[0]) && [p.a, p.b].includes(next[0]));
  return {
    kind: "daylight",
    best: told.best,
    next,
    decision: told.kind,
    difference: told.difference,
    expanded: told.expanded,
    meaning: told.kind === "winner" ? told.meaning : "below",
    chanceWrong: told.kind === "winner" ? told.chanceWrong : 0.5,
    rivals: told.kind === "winner" ? told.rivals : told.others.length,
    hours: own?.windows ?? 0,
    days: own?.days ?? 0,
    windows,
  };
}

/** A doubt reaches over what all daylight tells. What doubts may do is told of the windows' own best. */
function isUndone(
  { verdict, doubts }: Judgement,
  told: Extract<Verdict, { kind: "winner" | "tie" }>,
  next: readonly string[],
  { smallestDifference, dismissed }: { smallestDifference: number; dismissed: Facts["dismissed"] },
): boolean {
  const reversed = verdict.kind === "cannotTell" && verdict.best.some((l) => next.includes(l));
  const { value } = told.difference;
  return doubts.some((d) => {
    if (!d.effect || isDismissed(d, dismissed)) return false;
    const { low: least, high: most } = d.effect;
    const [low, high] = reversed ? [value - most, value - least] : [value + least, value + most];
    return told.kind === "winner" ? low <= 0 : Math.max(Math.abs(low), Math.abs(high)) > smallestDifference;
  });
}

/** What the windows' open answer says of the two that all daylight names; null where it names others. */
function ofWindows(verdict: Verdict, best: readonly string[], next: readonly string[]): DaylightVerdict["windows"] {
  if (verdict.kind !== "cannotTell") return null;
  const has = (a: readonly string[], b: readonly string[]) => a.some((l) => b.includes(l));
  const { difference, expanded } = verdict;
  if (has(verdict.best, best) && has(verdict.next, next)) return { value: difference.value, expanded };
  if (has(verdict.best, next) && has(verdict.next, best)) return { value: -difference.value, expanded };
  return null;
}

/** The judgement with all daylight's answer at its head; ranking and pairs stay those of the windows. */
export const ledByDaylight = (judgement: Judgement, verdict: DaylightVerdict | null): Judgement =>
  verdict ? { ...judgement, verdict } : judgement;
