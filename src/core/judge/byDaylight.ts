import type { FoundByDaylight } from "../method/find/dynamic";
import { decideVerdict } from "./decide";
import { isDismissed, stopsVerdict } from "./doubt/dismissed";
import { FLOW_SENSITIVITY, FLOW_TOLERANCE } from "./doubt/tolerances";
import type { Effect } from "./doubt/doubt";
import type { Doubt } from "./doubt/list";
import type { Facts } from "./evidence";
import type { Judgement } from "./judge";
import { decidedPairs, type PairComparison } from "./pairs";
import type { RankedLane } from "./ranking";
import type { DaylightVerdict, Verdict } from "./verdict";

/** What a doubt about lanes as they were tested says is answered where each is moved to one inlet along its own fit. */
const ANSWERED: readonly Doubt["kind"][] = ["inletsDiffer"];
const isAnswered = (kind: string): boolean => ANSWERED.some((k) => k === kind);

/**
 * Whether windows or hours leave open what all daylight may answer: not where a doubt took their answer that all daylight does not answer, or
 * figures cannot be right.
 */
export function leavesOpen({ verdict }: Pick<Judgement, "verdict">): boolean {
  if (verdict.kind === "cannotTell") return verdict.gate === null || isAnswered(verdict.gate.kind);
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
  { findings, capacities }: Pick<FoundByDaylight, "findings" | "capacities">,
  { smallestDifference, dismissed }: { smallestDifference: number; dismissed: Facts["dismissed"] },
): DaylightVerdict | null {
  if (!leavesOpen(judgement)) return null;
  // Figures that cannot be right stop it, as they stop windows where there are any.
  if (judgement.doubts.some((d) => stopsVerdict(d) && !isDismissed(d, dismissed))) return null;
  const heatOf = (lane: string) => findings.find((f) => f.name === "heatAtPoint" && f.lane === lane)?.figure;
  if (lanes.some((l) => l.bareShare != null || !heatOf(l.lane))) return null;
  const hoursOf = (lane: string) => findings.find((f) => f.name === "heatAtPoint" && f.lane === lane)!.hours;
  const level = judgement.level;
  const variantOf = (lane: string) => lanes.find((l) => l.lane === lane)!.variant;
  const raw = findings.flatMap(({ name, lane, other, figure, hours, days }) => {
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
  const windows = ofWindows(judgement, told.best, next);
  if (isUndone(judgement, told, next, { smallestDifference, dismissed })) return null;
  const own = reachOfOwn(told, pairs, { level: heatOf(told.best[0])!.value, capacities });
  if (reachesOver(told, own, smallestDifference)) return null;
  // Where windows lie apart from it by more than both ± one of the two is wrong, but for what it answers.
  const { value } = told.difference;
  const answers = judgement.doubts.some((d) => isAnswered(d.kind));
  if (windows !== null && !answers && Math.abs(windows.value - value) > windows.expanded + told.expanded) return null;
  return asVerdict(told, next, { pairs, windows });
}

function asVerdict(
  told: Told,
  next: string[],
  { pairs, windows }: { pairs: readonly PairComparison[]; windows: DaylightVerdict["windows"] },
): DaylightVerdict {
  const pair = pairs.find((p) => [p.a, p.b].includes(told.best[0]) && [p.a, p.b].includes(next[0]));
  const isWinner = told.kind === "winner";
  return {
    kind: "daylight",
    best: told.best,
    next,
    decision: told.kind,
    difference: told.difference,
    expanded: told.expanded,
    meaning: isWinner ? told.meaning : "below",
    chanceWrong: isWinner ? told.chanceWrong : 0.5,
    rivals: isWinner ? told.rivals : told.others.length,
    hours: pair?.windows ?? 0,
    days: pair?.days ?? 0,
    windows,
  };
}

type Told = Extract<Verdict, { kind: "winner" | "tie" }>;

/** What could be added to the difference undoes it. */
function reachesOver({ kind, difference: { value } }: Told, { low, high }: Effect, smallest: number): boolean {
  return kind === "winner" ? value + low <= 0 : Math.max(Math.abs(value + low), Math.abs(value + high)) > smallest;
}

/**
 * What all daylight's own pairs let doubt, where windows have none to ask: a rival that was given another flow, and copies of one variant that
 * are told apart. Each counts by how much nearer to nothing a comparison already is than the leading one.
 */
function reachOfOwn(
  told: Told,
  pairs: readonly PairComparison[],
  { level, capacities }: { level: number; capacities: ReadonlyMap<string, number> },
): Effect {
  const lead = told.difference.value;
  const became = told.best.flatMap((best) =>
    pairs.flatMap((p) => {
      if (p.identical || ![p.a, p.b].includes(best)) return [];
      const rival = p.a === best ? p.b : p.a;
      const [own, others] = [capacities.get(best) ?? NaN, capacities.get(rival) ?? NaN];
      const more = (2 * (others - own)) / (own + others);
      // A tank's flow nobody knows.
      if (!(Math.abs(more) > FLOW_TOLERANCE)) return [];
      return [(p.a === best ? 1 : -1) * p.difference.value + FLOW_SENSITIVITY * more * level - lead];
    }),
  );
  const copies = pairs.flatMap((p) =>
    p.identical && p.decision !== "equal" && p.decision !== "cannotTell" ? [Math.abs(p.difference.value)] : [],
  );
  return {
    low: Math.min(0, ...became, ...copies.map((c) => -c)),
    high: Math.max(0, ...became, ...copies),
  };
}

/** A doubt reaches over what all daylight tells. What doubts may do is told of the windows' own best. */
function isUndone(
  { verdict, doubts }: Judgement,
  told: Told,
  next: readonly string[],
  { smallestDifference, dismissed }: { smallestDifference: number; dismissed: Facts["dismissed"] },
): boolean {
  const reversed = isReversed(verdict, next);
  return doubts.some((d) => {
    if (!d.effect || isAnswered(d.kind) || isDismissed(d, dismissed)) return false;
    const { low, high } = d.effect;
    return reachesOver(told, reversed ? { low: -high, high: -low } : d.effect, smallestDifference);
  });
}

/** What the windows' open answer says of the two that all daylight names; null where it names others. */
function ofWindows(
  { verdict, way, tested }: Judgement,
  best: readonly string[],
  next: readonly string[],
): DaylightVerdict["windows"] {
  if (verdict.kind !== "cannotTell") return null;
  const has = (a: readonly string[], b: readonly string[]) => a.some((l) => b.includes(l));
  const { difference, expanded } = verdict;
  const unit = way === "tested" && tested ? tested.unit : "window";
  if (has(verdict.best, best) && has(verdict.next, next)) return { value: difference.value, expanded, unit };
  if (has(verdict.best, next) && has(verdict.next, best)) return { value: -difference.value, expanded, unit };
  return null;
}

/**
 * The judgement with all daylight's answer at its head; ranking and pairs stay those of the windows. Doubts were told of the windows' best:
 * they are turned to all daylight's, and one that it answers reaches no further.
 */
export function ledByDaylight(judgement: Judgement, verdict: DaylightVerdict | null): Judgement {
  if (!verdict) return judgement;
  const reversed = isReversed(judgement.verdict, verdict.next);
  const doubts = judgement.doubts.map((d): Doubt => {
    if (d.kind === "inletsDiffer") return { ...d, effect: null };
    const { effect } = d;
    return effect && reversed ? ({ ...d, effect: { low: -effect.high, high: -effect.low } } as Doubt) : d;
  });
  return { ...judgement, verdict, doubts };
}

/** What windows call their best is among those that all daylight puts second. */
const isReversed = (verdict: Verdict, next: readonly string[]): boolean =>
  verdict.kind === "cannotTell" && verdict.best.some((l) => next.includes(l));
