import type { PathStep } from "@/ui/Path";

export const STEPS = ["ask", "build", "prove", "plan", "run", "read", "judge", "apply"] as const;
export type StepName = (typeof STEPS)[number];

/** The step to go on with: the first after this one that is not done, else the first before it. null when all others are. */
export function nextOf(steps: readonly PathStep[], current: string): (PathStep & { step: StepName }) | null {
  const at = STEPS.findIndex((s) => s === current);
  const order = [...STEPS.keys()].slice(at + 1).concat([...STEPS.keys()].slice(0, Math.max(at, 0)));
  const next = order.find((i) => steps[i].state !== "done");
  return next === undefined ? null : { ...steps[next], step: STEPS[next] };
}
