import type { Knex } from "knex";
import { assembleRun, type AssembledRun } from "../../core/analysis/assemble";
import { arrangedSeries } from "../../core/analysis/reduce";
import type { RunSeries, RunSetup } from "../../core/analysis/setup";
import { arrangedSetups, assemblyPlan } from "../../core/experiment/arrange";
import type { Experiment, StoredRun } from "../../core/experiment/types";
import { AHEAD_MS } from "../../core/live/alarms";
import { lanesNow, type LaneNow, type SharedNow } from "../../core/live/lanesNow";
import { streamReadings, withReadings, type StreamReadings } from "../analysis/analyse";

export interface Newest {
  /** Time of the newest reading that is not ahead of now, by the clock its layers put right. */
  newestMs: number;
  /** Whether that is recent enough for its figures to be what is so now. */
  fresh: boolean;
  setup: RunSetup;
  series: RunSeries;
  assembled: AssembledRun;
  lanes: LaneNow[];
  shared: SharedNow;
}

/** How much of the past is looked at: settling and averaging of slow boxes, and the stretch a fan is watched over, ms. */
const LOOK_MS = 2 * 3600_000;
/** Figures stand for now while the newest reading is no older than this, ms, or than some intervals of a slow logger. */
const FRESH_MS = 3 * 60_000;
const FRESH_INTERVALS = 6;

/**
 * The newest stretch of a run, read and reduced; null while nothing has come. What is stamped ahead of now is held apart: it stays
 * in the stream as sent, and no figure and no alarm of now rests on it.
 */
export async function newest(
  knex: Knex,
  experiment: Experiment,
  run: StoredRun,
  nowMs: number,
): Promise<Newest | null> {
  const plan = assemblyPlan(run);
  const readings = new Map<number, StreamReadings>();
  let newestMs = -Infinity;
  for (const stream of run.streams) {
    const used = stream.channels.filter((c) => c.kind !== null).map((c) => c.channelNo);
    // Times are as logged; now is by the clock that the run's layers put right.
    const slowMs = plan.channels.find((c) => c.streamId === stream.id)?.clockOffsetMs ?? 0;
    const until = Math.min(stream.live?.untilMs ?? Infinity, nowMs - slowMs + AHEAD_MS);
    // An imported file of a run that went on live is old by then: nothing of it is "now".
    const span = stream.live && { fromMs: Math.max(stream.live.fromMs, nowMs - slowMs - LOOK_MS), untilMs: until };
    const found =
      span && span.fromMs < span.untilMs
        ? await streamReadings(knex, stream, used, span)
        : { times: new Float64Array(), values: new Map<number, Float64Array>() };
    newestMs = Math.max(newestMs, (found.times.at(-1) ?? -Infinity) + slowMs);
    readings.set(stream.id, found);
  }
  if (![...readings.values()].some((r) => r.times.length > 1)) return null;
  const assembled = assembleRun(withReadings(plan, readings), plan.exclusions, plan.keep);
  const arranged = arrangedSetups(experiment, run).findLast((a) => (a.fromMs ?? -Infinity) <= nowMs)!;
  const { setup, series } = arrangedSeries(arranged, assembled);
  const { rules, basis } = experiment.settings;
  const fresh = nowMs - newestMs <= Math.max(FRESH_MS, FRESH_INTERVALS * series.stepMs);
  return { newestMs, fresh, setup, series, assembled, ...lanesNow(setup, series, { rules, basis }) };
}
