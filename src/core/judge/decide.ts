import { coverageFactor } from "../uncertainty/coverage";
import { type SourceKind } from "../uncertainty/source";
import { budget, effectiveDof, standardUncertainty, type Uncertain } from "../uncertainty/uncertain";
import { variantDifference } from "./contest";
import { stopsVerdict, type Doubt } from "./doubt/list";
import { LEVEL, type CompareInput, type ComparedLane } from "./laneHeat";
import type { PairComparison } from "./pairs";
import type { RankedLane } from "./ranking";
import type { Gate, Remedy, Verdict } from "./verdict";

/** What the doubts leave of an answer. */
export function gated(verdict: Verdict, doubts: readonly Doubt[], smallest: number): Verdict {
  if (verdict.kind === "none" || verdict.kind === "stopped") return verdict;
  if (doubts.some(stopsVerdict)) return { kind: "stopped" };
  if (verdict.kind === "cannotTell") return verdict;
  const answer = verdict.difference.value;
  for (const { kind, effect } of doubts) {
    if (!effect) continue;
    const gate: Gate = { kind, low: answer + effect.low, high: answer + effect.high };
    if (verdict.kind === "winner" && gate.low <= 0) return { ...verdict, kind: "cannotTell", gate };
    if (verdict.kind === "tie" && Math.max(Math.abs(gate.low), Math.abs(gate.high)) > smallest)
      return {
        kind: "cannotTell",
        best: verdict.lanes.slice(0, 1),
        next: verdict.lanes.slice(1),
        difference: verdict.difference,
        expanded: coverageFactor(effectiveDof(verdict.difference)) * standardUncertainty(verdict.difference),
        chanceWrong: 0.5,
        remedy: { kind: "nothing" },
        gate,
      };
  }
  return verdict;
}

export function decideVerdict(
  input: Pick<CompareInput, "smallestDifference" | "level">,
  lanes: readonly ComparedLane[],
  ranking: RankedLane[],
  pairs: PairComparison[],
  variantOf: (lane: string) => string,
): Verdict {
  if (lanes.length < 2) return { kind: "none", reason: lanes.length === 0 ? "noHeat" : "oneLane" };
  const best = variantOf(ranking[0]?.lane ?? lanes[0].lane);
  const bestLanes = ranking.filter((r) => variantOf(r.lane) === best).map((r) => r.lane);
  const rivals = [...new Set(ranking.map((r) => variantOf(r.lane)))].filter((v) => v !== best);
  const contests = rivals.flatMap((rival) => {
    const rivalLanes = ranking.filter((r) => variantOf(r.lane) === rival).map((r) => r.lane);
    const difference = variantDifference(bestLanes, rivalLanes, pairs, input.smallestDifference);
    return difference ? [{ lanes: rivalLanes, ...difference }] : [];
  });
  if (contests.length === 0) {
    const only = pairs.find((p) => p.identical);
    if (only?.decision === "equal")
      return { kind: "tie", lanes: [only.a, only.b], within: input.smallestDifference, difference: only.difference };
    return { kind: "none", reason: "noCommonSpans" };
  }
  // The rival hardest to tell from the best decides whether there is a winner.
  const hardest = contests.reduce((a, b) => (b.chanceWrong > a.chanceWrong ? b : a));
  const figure = { difference: hardest.difference, expanded: hardest.expanded, chanceWrong: hardest.chanceWrong };
  const names = { best: bestLanes, next: hardest.lanes };
  if (hardest.equal) {
    const equals = contests.filter((c) => c.equal).flatMap((c) => c.lanes);
    return {
      kind: "tie",
      lanes: [...bestLanes, ...equals],
      within: input.smallestDifference,
      difference: hardest.difference,
    };
  }
  const remedy = remedyFor(hardest, bestLanes, input);
  if (hardest.chanceWrong * 2 * rivals.length < (input.level ?? LEVEL))
    return { kind: "winner", ...names, ...figure, remedy: { kind: "nothing" } };
  return { kind: "cannotTell", ...names, ...figure, remedy, gate: null };
}

const SCATTERS: SourceKind[] = ["dayScatter", "curveFit", "repeatability"];
/** Beyond this nobody waits. */
const MOST_DAYS = 200;

function remedyFor(
  contest: { difference: Uncertain; expanded: number; swapped: boolean; days: number; lanes: string[] },
  best: string[],
  input: Pick<CompareInput, "smallestDifference">,
): Remedy {
  const lines = budget(contest.difference);
  const share = (kinds: SourceKind[]) =>
    lines.filter((l) => kinds.includes(l.source.kind)).reduce((s, l) => s + l.share, 0);
  const placeBound = share(["station", "probe", "speedMeter", "volumeMeter", "massMeter", "profile", "ductArea"]);
  if (!contest.swapped && placeBound > 0.3) return { kind: "swapStations", a: best[0], b: contest.lanes[0] };
  const scatter = share(SCATTERS);
  if (scatter >= 0.4 || lines.length === 0) {
    // The half-width falls with the root of the days; it must fall to the difference itself or to what matters.
    const target = Math.max(Math.abs(contest.difference.value), input.smallestDifference) * 0.9;
    const fixed = contest.expanded ** 2 * (1 - scatter);
    const room = target ** 2 - fixed;
    const needed = room > 0 ? contest.days * ((contest.expanded ** 2 * scatter) / room) : Infinity;
    if (Number.isFinite(needed) && needed < MOST_DAYS)
      return { kind: "moreDays", days: Math.max(1, Math.ceil(needed - contest.days)) };
  }
  // A scatter is no instrument: it is not improved, it is averaged or avoided.
  const top = lines.find((l) => !SCATTERS.includes(l.source.kind));
  if (!top || scatter >= 0.8) return { kind: "steadierDays", days: MOST_DAYS };
  return {
    kind: "betterInstrument",
    source: top.source.kind,
    expandedNow: contest.expanded,
    expandedThen: contest.expanded * Math.sqrt(1 - 0.75 * top.share),
  };
}

/**
 * Ranks that say what the sentence says. It compares variants by the mean of their copies, pairs compare lanes: a lane alone may be tied
 * where its variant is not, and the other way about.
 */
export function ranksAs(verdict: Verdict, ranking: RankedLane[]): RankedLane[] {
  if (verdict.kind === "winner") {
    const first = verdict.best.length;
    return ranking.map((r) =>
      verdict.best.includes(r.lane)
        ? { ...r, rank: [1, first] }
        : { ...r, rank: [Math.max(first + 1, r.rank[0]), Math.max(first + 1, r.rank[1])] },
    );
  }
  if (verdict.kind !== "cannotTell") return ranking;
  const tied = [...verdict.best, ...verdict.next];
  const last = Math.max(...ranking.map((r, i) => (tied.includes(r.lane) ? i + 1 : 0)));
  return ranking.map((r) => (tied.includes(r.lane) ? { ...r, rank: [1, Math.max(last, r.rank[1])] } : r));
}
