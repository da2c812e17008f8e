import type { Knex } from "knex";
import type { Experiment, StoredRun } from "../../core/experiment/types";
import { planSteps, type PlannedSpan } from "../../core/live/byPlan";
import { findExperiment } from "../../data/experiment/experiments";
import { setLive } from "../../data/run/runs";
import { analyseLoaded } from "../analysis/analyse";
import { fingerprint } from "../analysis/fingerprint";
import { jsonBytes } from "../analysis/memo";
import { store } from "../analysis/store";
import { planIn, planningWorld } from "../plan/plan";
import { endRun, pauseRun, resumeRun } from "./commands";
import { liveRunOf } from "./liveRun";

/**
 * When the experiment's kept plan measures, day by day, as seen when a run began: a plan without a first day begins then. null where no
 * plan was kept.
 */
export const plannedSpans = (knex: Knex, experiment: Experiment, run: StoredRun): Promise<PlannedSpan[] | null> =>
  // Reckoned from the whole experiment, and asked with every frame.
  store.get(
    fingerprint(["planned", experiment.id, run.id, experiment.changedAt]),
    () => spansOf(knex, experiment, run.live!.startedAt),
    jsonBytes,
  );

async function spansOf(knex: Knex, experiment: Experiment, beginMs: number): Promise<PlannedSpan[] | null> {
  const world = await planningWorld(knex, [experiment.id]);
  if (!world.stored.has(experiment.id)) return null;
  const plan = planIn(world, await analyseLoaded(knex, experiment), beginMs);
  return plan.days.flatMap(({ entries }) => {
    const measuring = entries.filter((e) => e.kind === "measure" || e.kind === "step");
    return measuring.length ? [{ fromMs: measuring[0].fromMs, toMs: measuring[measuring.length - 1].toMs }] : [];
  });
}

/**
 * Takes the steps a run that follows its plan has come to: rest, go on, end, each at the instant the plan names.
 * @param nowMs the bench's clock
 * @returns how many steps were taken
 */
export async function followPlan(knex: Knex, experimentId: number, nowMs: number): Promise<number> {
  const experiment = await findExperiment(knex, experimentId);
  const run = experiment && liveRunOf(experiment);
  if (!experiment || !run?.live || run.live.planSeenAt === null || run.live.endedAt !== null) return 0;
  const spans = await plannedSpans(knex, experiment, run);
  if (!spans) return 0;
  const steps = planSteps(spans, { seenMs: run.live.planSeenAt, nowMs, paused: run.live.pausedAt !== null });
  const commands = { pause: pauseRun, resume: resumeRun, end: endRun };
  for (const { kind, atMs } of steps) await commands[kind].run(knex, experimentId, run.id, atMs);
  await setLive(knex, experimentId, run.id, { planSeenAt: Math.max(nowMs, run.live.planSeenAt) });
  return steps.length;
}
