import { combineRuns, type Reduction } from "../analysis/reduce";
import type { Uncertain } from "../uncertainty/uncertain";
import { judgeReduction, type JudgeSettings } from "./judgeReduction";
import type { Judgement } from "./judge";

export interface WithoutDay {
  day: string;
  kind: Judgement["verdict"]["kind"];
  /** Who leads then; of a tie, all of it. */
  best: string[];
  difference: Uncertain | null;
  /** Another one leads than with all days. */
  turned: boolean;
}

/** The same experiment as if a day had never been measured. */
function without({ runs }: Reduction, day: string): Reduction {
  const left = runs.map((r) => ({
    ...r,
    points: r.points.filter((p) => p.day !== day),
    heat: {
      ...r.heat,
      hours: r.heat.hours.filter((h) => h.day !== day),
      days: r.heat.days.filter((d) => d.day !== day),
      rounds: r.heat.rounds.filter((h) => h.day !== day),
    },
  }));
  return combineRuns(left, { curvature: "auto" });
}

const leaders = ({ verdict }: Judgement): string[] => {
  if (verdict.kind === "tie") return verdict.lanes;
  return "best" in verdict ? verdict.best : [];
};

/**
 * Judges anew with each day left out: an answer that one day alone makes is no answer. Empty for fewer than two days.
 * @returns by day, in order
 */
export function withoutEachDay(reduction: Reduction, settings: JudgeSettings, whole: Judgement): WithoutDay[] {
  const days = [
    ...new Set([...reduction.points, ...reduction.heat.hours, ...reduction.heat.rounds].map((p) => p.day)),
  ].sort();
  if (days.length < 2) return [];
  const first = leaders(whole);
  return days.map((day) => {
    const judgement = judgeReduction(without(reduction, day), settings);
    const { verdict } = judgement;
    const best = leaders(judgement);
    return {
      day,
      kind: verdict.kind,
      best,
      difference: "difference" in verdict ? verdict.difference : null,
      turned: first.length > 0 && best.length > 0 && !best.some((l) => first.includes(l)),
    };
  });
}
