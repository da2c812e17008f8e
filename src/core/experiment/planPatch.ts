import type { PlanPatch, PlanSettings } from "./schema/plan";

const marked = (list: readonly string[], marks: Record<string, boolean> = {}): string[] => [
  ...list.filter((v) => marks[v] === undefined),
  ...Object.keys(marks).filter((v) => marks[v]),
];

/** A plan with a change laid over it. */
export function patchedPlan(plan: PlanSettings, patch: PlanPatch): PlanSettings {
  const moved = { ...plan.moved, ...patch.moved };
  return {
    ...plan,
    ...patch.set,
    bench: { ...plan.bench, ...patch.bench },
    stated: { ...plan.stated, ...patch.stated },
    skipped: marked(plan.skipped, patch.skipped),
    ticked: marked(plan.ticked, patch.ticked),
    moved: Object.fromEntries(Object.entries(moved).filter((e): e is [string, number] => e[1] !== null)),
  };
}

/** The change that leads from one plan back to another, of what a patch named. */
export function undoing(plan: PlanSettings, patch: PlanPatch): PlanPatch {
  const keys = <T extends object>(o: T | undefined) => Object.keys(o ?? {});
  return {
    set: Object.fromEntries(keys(patch.set).map((k) => [k, plan[k as keyof PlanSettings]])),
    bench: Object.fromEntries(keys(patch.bench).map((k) => [k, plan.bench[k as keyof typeof plan.bench]])),
    stated: Object.fromEntries(keys(patch.stated).map((k) => [k, plan.stated[k as keyof typeof plan.stated]])),
    skipped: Object.fromEntries(keys(patch.skipped).map((k) => [k, plan.skipped.includes(k)])),
    ticked: Object.fromEntries(keys(patch.ticked).map((k) => [k, plan.ticked.includes(k)])),
    moved: Object.fromEntries(keys(patch.moved).map((k) => [k, plan.moved[k] ?? null])),
  };
}
