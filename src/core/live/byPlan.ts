/** When a plan measures, ms UTC, in order and apart from each other. */
export interface PlannedSpan {
  fromMs: number;
  toMs: number;
}

export type PlanStep = { kind: "pause" | "resume" | "end"; atMs: number };

/**
 * What a run that follows its plan does between two instants: it rests outside of the planned hours and ends with the last of them.
 * Each step bears the instant the plan names, however late somebody looks. A person who pauses within the hours is not overruled before
 * the next hours begin.
 *
 * @param seenMs the plan has been followed until then; at the beginning: when it was begun to be followed
 * @param paused whether the run rests now
 */
export function planSteps(
  spans: readonly PlannedSpan[],
  { seenMs, nowMs, paused }: { seenMs: number; nowMs: number; paused: boolean },
): PlanStep[] {
  const last = spans.at(-1);
  if (!last) return [];
  const steps: PlanStep[] = [];
  let resting = paused;
  const within = (ms: number) => spans.some((s) => ms >= s.fromMs && ms < s.toMs);
  if (!within(seenMs) && !resting && seenMs < last.toMs) {
    steps.push({ kind: "pause", atMs: seenMs });
    resting = true;
  }
  for (const { fromMs, toMs } of spans) {
    if (fromMs > seenMs && fromMs <= nowMs && resting) {
      steps.push({ kind: "resume", atMs: fromMs });
      resting = false;
    }
    if (toMs <= seenMs || toMs > nowMs || toMs === last.toMs || resting) continue;
    steps.push({ kind: "pause", atMs: toMs });
    resting = true;
  }
  if (nowMs >= last.toMs) steps.push({ kind: "end", atMs: Math.max(seenMs, last.toMs) });
  return steps;
}

/** The planned hours that are on, or come next; null after the last. */
export const nextSpan = (spans: readonly PlannedSpan[], nowMs: number): PlannedSpan | null =>
  spans.find((s) => s.toMs > nowMs) ?? null;
