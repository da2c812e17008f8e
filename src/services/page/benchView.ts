import type { Knex } from "knex";
import { windowsUsed } from "../../core/judge/judge";
import type { Experiment, ExperimentHead } from "../../core/experiment/types";
import { findSummaries, saveSummary } from "../../data/experiment/summaries";
import { analyseLoaded, isOutside, verdictKey, type Analysis } from "../analysis/analyse";
import { log } from "../web/log";
import { isDismissed } from "../../core/judge/doubt/dismissed";
import { findEvents } from "../../data/run/events";
import { verdictView, type VerdictView } from "../judge/verdictView";

/** What the bench shows of an experiment; kept in the database under the fingerprint of all it depends on. */
export interface ExperimentSummary {
  verdict: VerdictView;
  doubts: number;
  runs: number;
  windows: number;
  lastDayWindows: { startMs: number; endMs: number }[];
  lastMs: number | null;
}

/** An experiment on the bench; without a summary, why there is none. */
export type BenchEntry =
  { head: ExperimentHead; summary: ExperimentSummary } | { head: ExperimentHead; summary: null; why: string };

/** Each experiment with its answer so far. One that cannot be computed says so and leaves the others alone. */
export async function benchView(knex: Knex, experiments: readonly Experiment[]): Promise<BenchEntry[]> {
  const marked = await findEvents(
    knex,
    experiments.flatMap((e) => e.runs.map((r) => r.id)),
  );
  const wanted = experiments.map((e) => ({ experimentId: e.id, fingerprint: verdictKey(e, marked) }));
  const kept = await findSummaries<ExperimentSummary>(knex, wanted);
  const out: BenchEntry[] = [];
  // One after the other: each may need a second of computing.
  for (const [i, experiment] of experiments.entries()) {
    const { runs: _, ...head } = experiment;
    try {
      let summary = kept.get(experiment.id);
      if (!summary) {
        summary = summarise(await analyseLoaded(knex, experiment));
        await saveSummary(knex, experiment.id, wanted[i].fingerprint, summary);
      }
      out.push({ head, summary });
    } catch (error) {
      if (isOutside(error)) throw error;
      log.error({ err: error, experiment: head.id }, "an experiment could not be computed");
      out.push({ head, summary: null, why: (error as Error).message });
    }
  }
  return out;
}

function summarise(analysis: Analysis): ExperimentSummary {
  const { experiment, reduction, judgement } = analysis;
  const windows = windowsUsed(reduction.points);
  const last = windows.at(-1);
  const ends = experiment.runs.flatMap((r) => r.streams.map((s) => s.endMs));
  return {
    verdict: verdictView(judgement, experiment.runs.length, experiment.settings.smallestDifference),
    doubts: judgement.doubts.filter((d) => !isDismissed(d, experiment.settings.dismissed)).length,
    runs: experiment.runs.length,
    windows: windows.length,
    lastDayWindows: last ? windows.filter((w) => w.startMs > last.startMs - 12 * 3600000) : [],
    lastMs: ends.length ? Math.max(...ends) : null,
  };
}
