import { type SourceKind } from "../uncertainty/source";
import { budget, type Uncertain } from "../uncertainty/uncertain";
import { variantDifference } from "./contest";
import { stopsVerdict } from "./doubt/dismissed";
import type { Doubt } from "./doubt/list";
import { LEVEL, type CompareInput, type ComparedLane } from "./laneHeat";
import type { PairComparison } from "./pairs";
import type { RankedLane } from "./ranking";
import { meaningOf, type Gate, type Remedy, type Verdict } from "./verdict";

/** What the doubts leave of an answer. */
export function gated(verdict: Verdict, doubts: readonly Doubt[], smallest: number): Verdict {
  if (verdict.kind === "none" || verdict.kind === "stopped") return verdict;
  if (doubts.some(stopsVerdict)) return { kind: "stopped" };
  // A lane against itself: what doubts say of two lanes' difference is not about it. All daylight asks the doubts itself.
  if (verdict.kind === "cannotTell" || verdict.kind === "turned" || verdict.kind === "daylight") return verdict;
  const answer = verdict.difference.value;
  for (const { kind, effect } of doubts) {
    if (!effect) continue;
    const gate: Gate = { kind, without: verdict.kind, low: answer + effect.low, high: answer + effect.high };
    if (verdict.kind === "winner" && gate.low <= 0) return { ...verdict, kind: "cannotTell", open: [], gate };
    if (verdict.kind === "tie" && Math.max(Math.abs(gate.low), Math.abs(gate.high)) > smallest)
      return {
        kind: "cannotTell",
        best: verdict.best,
        next: verdict.others[0],
        open: verdict.others.slice(1),
        difference: verdict.difference,
        expanded: verdict.expanded,
        chanceWrong: 0.5,
        rivals: verdict.others.length,
        remedy: { kind: "nothing" },
        gate,
      };
  }
  return verdict;
}

type Contest = NonNullable<ReturnType<typeof variantDifference>> & { lanes: string[] };

/**
 * One answer from the variants' differences. The claim of a winner is against the second of the ranking and holds against every other;
 * one rival that is not told from the best leaves the question open, and the hardest of them is named. No difference that matters is
 * claimed of each rival against the best alone. Two-sided at the level of this look, shared out over the rivals (Bonferroni).
 */
export function decideVerdict(
  input: Pick<CompareInput, "smallestDifference" | "level">,
  lanes: readonly Pick<ComparedLane, "lane">[],
  ranking: RankedLane[],
  pairs: PairComparison[],
  variantOf: (lane: string) => string,
): Verdict {
  if (lanes.length < 2) return { kind: "none", reason: lanes.length === 0 ? "noHeat" : "oneLane" };
  const { smallestDifference: smallest } = input;
  const best = variantOf(ranking[0]?.lane ?? lanes[0].lane);
  const bestLanes = ranking.filter((r) => variantOf(r.lane) === best).map((r) => r.lane);
  // In the order of the ranking: the first is the second of it.
  const rivals = [...new Set(ranking.map((r) => variantOf(r.lane)))].filter((v) => v !== best);
  const contests = rivals.flatMap((rival): Contest[] => {
    const rivalLanes = ranking.filter((r) => variantOf(r.lane) === rival).map((r) => r.lane);
    const difference = variantDifference(bestLanes, rivalLanes, pairs, smallest);
    return difference ? [{ lanes: rivalLanes, ...difference }] : [];
  });
  if (contests.length === 0) return identicalOnly(pairs, smallest);
  const beaten = (c: Contest) => c.chanceWrong * 2 * rivals.length < (input.level ?? LEVEL);
  const open = contests.filter((c) => !beaten(c) && !c.equal);
  if (open.length > 0) return leftOpen(open, bestLanes, rivals.length, input);
  const equal = contests.filter((c) => !beaten(c));
  if (equal.length > 0) return noneThatMatters(equal, bestLanes, smallest);
  const [second] = contests;
  return {
    kind: "winner",
    best: bestLanes,
    next: second.lanes,
    difference: second.difference,
    expanded: second.expanded,
    expanded90: second.expanded90,
    meaning: meaningOf(second.difference.value, second, smallest),
    chanceWrong: hardestOf(contests).chanceWrong,
    rivals: rivals.length,
    remedy: { kind: "nothing" },
  };
}

const hardestOf = (of: readonly Contest[]): Contest => of.reduce((a, b) => (b.chanceWrong > a.chanceWrong ? b : a));

/** The rival hardest to tell from the best is named, and who else is open. */
function leftOpen(
  open: readonly Contest[],
  best: string[],
  rivals: number,
  input: Pick<CompareInput, "smallestDifference">,
): Verdict {
  const hardest = hardestOf(open);
  const { lanes: next, difference, expanded, chanceWrong } = hardest;
  return {
    kind: "cannotTell",
    best,
    next,
    open: open.filter((c) => c !== hardest).map((c) => c.lanes),
    ...{ difference, expanded, chanceWrong, rivals },
    remedy: remedyFor(hardest, best, input),
    gate: null,
  };
}

/** Each of these rivals against the best; the largest difference stands for them. */
function noneThatMatters(equal: readonly Contest[], best: string[], within: number): Verdict {
  const largest = equal.reduce((a, b) => (Math.abs(b.difference.value) > Math.abs(a.difference.value) ? b : a));
  const others = [largest, ...equal.filter((c) => c !== largest)].map((c) => c.lanes);
  const { difference, expanded } = largest;
  return { kind: "tie", lanes: [...best, ...others.flat()], best, others, within, difference, expanded };
}

/** Two copies of one variant and nothing else: equal where they are. */
function identicalOnly(pairs: readonly PairComparison[], within: number): Verdict {
  const only = pairs.find((p) => p.identical);
  if (only?.decision !== "equal") return { kind: "none", reason: "noCommonSpans" };
  const { a, b, difference, expanded } = only;
  return { kind: "tie", lanes: [a, b], best: [a], others: [[b]], within, difference, expanded };
}

const SCATTERS: SourceKind[] = ["dayScatter", "weather", "curveFit", "repeatability"];
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
  const tied = [...verdict.best, ...verdict.next, ...verdict.open.flat()];
  const last = Math.max(...ranking.map((r, i) => (tied.includes(r.lane) ? i + 1 : 0)));
  return ranking.map((r) => (tied.includes(r.lane) ? { ...r, rank: [1, Math.max(last, r.rank[1])] } : r));
}
