import type { PathStep, StepState } from "@/ui/Path";
import { askedFor } from "@/core/season/scenario";
import type { ExperimentView } from "@/services/page/views";
import { isDismissed } from "@/core/judge/doubt/dismissed";
import { UNIT_WORDS } from "@/words/judge";
import { STEPS, type StepName } from "./nextOf";

const USES = { room: "a room", freshAir: "fresh air", drying: "drying", hotWater: "wash water" };

/** What each step shows in the path, from what is really there. */
export function pathSteps(view: ExperimentView): PathStep[] {
  const { head, runs } = view;
  const windows = runs.reduce((s, r) => s + r.windows.length, 0);
  const missing = runs.some((r) => r.missing.length > 0);
  const state: Record<StepName, [StepState, string]> = {
    ask: askState(head),
    build: buildState(head),
    prove: proveState(view),
    plan: head.plannedDays ? ["done", counted(head.plannedDays, "day")] : ["open", "not planned"],
    run: runs.length ? [missing ? "doubt" : "done", counted(runs.length, "run")] : ["open", "no run"],
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

const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;

function askState({ question, settings: { ask } }: ExperimentView["head"]): [StepState, string] {
  if (!question) return ["open", "no question"];
  return ask.factors.length ? ["done", counted(ask.factors.length, "factor")] : ["doubt", "no factor named"];
}

function buildState({ lanes, drawn }: ExperimentView["head"]): [StepState, string] {
  const also = drawn.length ? `${drawn.length} drawn` : "";
  if (!lanes.length) return ["open", also || "nothing drawn"];
  return ["done", [`${lanes.length} built`, also].filter(Boolean).join(", ")];
}

function proveState({ runs, layers }: ExperimentView): [StepState, string] {
  if (!runs.length) return ["open", "no run"];
  return layers ? ["done", counted(layers, "calibration")] : ["doubt", "stated limits only"];
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
  return doubts.length ? ["doubt", counted(doubts.length, "doubt")] : ["done", "settled"];
}
