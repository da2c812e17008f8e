import type { PathStep, StepState } from "@/ui/Path";
import { askedFor } from "@/core/season/scenario";
import type { ExperimentView } from "@/services/page/views";
import { isDismissed } from "@/core/judge/doubt/dismissed";
import { UNIT_WORDS } from "@/words/judge";

const USES = { room: "a room", freshAir: "fresh air", drying: "drying", hotWater: "wash water" };

export const STEPS = ["ask", "build", "prove", "plan", "run", "read", "judge", "apply"] as const;
export type StepName = (typeof STEPS)[number];

/** What each step shows in the path, from what is really there. */
export function pathSteps(view: ExperimentView): PathStep[] {
  const { head, runs } = view;
  const windows = runs.reduce((s, r) => s + r.windows.length, 0);
  const missing = runs.some((r) => r.missing.length > 0);
  const state: Record<StepName, [StepState, string]> = {
    ask: !head.question
      ? ["open", "no question"]
      : head.settings.ask.factors.length
        ? ["done", head.settings.ask.factors.length === 1 ? "1 factor" : `${head.settings.ask.factors.length} factors`]
        : ["doubt", "no factor named"],
    build: head.lanes.length
      ? ["done", `${head.lanes.length} built${head.drawn.length ? `, ${head.drawn.length} drawn` : ""}`]
      : head.drawn.length
        ? ["open", `${head.drawn.length} drawn`]
        : ["open", "nothing drawn"],
    prove: !runs.length
      ? ["open", "no run"]
      : view.layers
        ? ["done", `${view.layers} calibration${view.layers === 1 ? "" : "s"}`]
        : ["doubt", "stated limits only"],
    plan: view.head.plannedDays
      ? ["done", view.head.plannedDays === 1 ? "1 day" : `${view.head.plannedDays} days`]
      : ["open", "not planned"],
    run: runs.length
      ? [missing ? "doubt" : "done", `${runs.length} run${runs.length > 1 ? "s" : ""}`]
      : ["open", "no run"],
    read: readState(view, windows),
    judge: judgeState(view),
    apply: head.settings.apply.use
      ? [askedFor(head.settings.apply).length ? "open" : "done", USES[head.settings.apply.use.kind]]
      : ["open", "not begun"],
  };
  return STEPS.map((s) => ({
    name: s[0].toUpperCase() + s.slice(1),
    href: `/experiments/${head.id}/${s}`,
    state: state[s][0],
    status: state[s][1],
  }));
}

function readState({ points, curves, head, tested, runs }: ExperimentView, windows: number): [StepState, string] {
  if (points.length) return [curves.length < head.lanes.length ? "doubt" : "done", `${windows} windows`];
  if (tested) return ["done", `${tested.spans} ${UNIT_WORDS[tested.unit][tested.spans === 1 ? 0 : 1]}`];
  return runs.length ? ["doubt", "no window"] : ["open", "nothing to read"];
}

function judgeState({ verdict, doubts: all, head }: ExperimentView): [StepState, string] {
  const doubts = all.filter((d) => !isDismissed(d, head.settings.dismissed));
  if (verdict.kind === "none") return ["open", "no verdict"];
  if (verdict.kind === "stopped") return ["doubt", "stopped"];
  if (verdict.kind === "cannotTell") return ["doubt", "cannot tell"];
  return doubts.length ? ["doubt", `${doubts.length} doubt${doubts.length > 1 ? "s" : ""}`] : ["done", "settled"];
}
