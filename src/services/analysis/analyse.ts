import type { Knex } from "knex";
import { assembleRun, type AssembledRun, type LoggedChannel } from "../../core/analysis/assemble";
import type { Implausible } from "../../core/analysis/slip";
import {
  combineRuns,
  groundOf,
  implausibleOf,
  reduceRun,
  type RunGround,
  type ArrangedSetup,
  type Reduction,
  type RunReduction,
} from "../../core/analysis/reduce";
import { arrangedSetups, assemblyPlan, type AssemblyPlan } from "../../core/experiment/arrange";
import type { RunEvent } from "../../core/experiment/schema/event";
import type { BrokenPart } from "../../core/experiment/records";
import type { Experiment, StoredRun, StoredStream } from "../../core/experiment/types";
import type { Expected } from "../../core/judge/expected";
import type { CompareSettings, Facts } from "../../core/judge/evidence";
import type { Judgement } from "../../core/judge/judge";
import { judgeReduction, testedReduction } from "../../core/judge/judgeReduction";
import { findEvents } from "../../data/run/events";
import { findExperiment } from "../../data/experiment/experiments";
import { Column } from "../../core/log/column";
import { columnUnit } from "../../core/log/logData";
import { toSi } from "../../core/quantity/quantities";
import { readChannels, type StreamSpan } from "../../data/reading/readings";
import { log } from "../web/log";
import { withDaylight } from "./daylight";
import { store } from "./store";
import { expectedLanes } from "./expected";
import { fingerprint } from "./fingerprint";

/** Change when a method changes its results or a view its shape, so that stored summaries are made anew. */
const METHOD = "2026-12-02.1";
const SEED = 1120;

export interface Analysis {
  /** Without the runs that could not be computed. */
  experiment: Experiment;
  /** Runs left out because computing with them failed. */
  failed: BrokenPart[];
  assembled: Map<number, AssembledRun>;
  reduction: Reduction;
  judgement: Judgement;
  /** What the lanes' drawings say of the tested condition. */
  expected: ReadonlyMap<string, Expected>;
}

/** How often each stage was really computed, for tests and bench. */
export const stageCounts = { readings: 0, assembled: 0, reduced: 0, combined: 0, judged: 0 };

/** Reads, cleans, reduces and judges an experiment. null when there is no such experiment. */
export async function analyse(knex: Knex, experimentId: number): Promise<Analysis | null> {
  const experiment = await findExperiment(knex, experimentId);
  return experiment && analyseLoaded(knex, experiment);
}

/** A stream's raw readings by more than their number: a database put back from a copy gives numbers anew. */
const named = ({ id, frames, startMs, endMs, live, channels }: StoredStream) =>
  // Live readings are kept as sent: what they are is the run's to say.
  live ? [id, live, channels.map((c) => [c.channelNo, c.kind, c.unit, c.factor])] : [id, frames, startMs, endMs];

interface Stage {
  run: StoredRun;
  plan: AssemblyPlan;
  arrangements: ArrangedSetup[];
  assembly: string;
  ground: string;
  reduced: string;
}

/** A run's stages, each under the fingerprint of what it used and nothing else. */
function stageOf(experiment: Experiment, run: StoredRun): Stage {
  const { rules, basis } = experiment.settings;
  const plan = assemblyPlan(run);
  const arrangements = arrangedSetups(experiment, run);
  const assembly = fingerprint([
    METHOD,
    "assembled",
    run.streams.map(named),
    plan.channels,
    plan.exclusions,
    [...plan.keep],
  ]);
  return {
    run,
    plan,
    arrangements,
    assembly,
    ground: fingerprint([METHOD, "ground", assembly, arrangements]),
    reduced: fingerprint([METHOD, "reduced", assembly, arrangements, rules, basis]),
  };
}

/** The stages of an experiment's runs, and the runs for which there are none. */
function stagesOf(experiment: Experiment) {
  const runs: Stage[] = [];
  const failed: BrokenPart[] = [];
  for (const run of experiment.runs) {
    try {
      runs.push(stageOf(experiment, run));
    } catch (error) {
      failed.push(failedRun(experiment, run, error));
    }
  }
  const combined = fingerprint([METHOD, "combined", runs.map((r) => r.reduced), failed.map((f) => f.id)]);
  return { runs, failed, combined };
}

function failedRun(experiment: Experiment, run: StoredRun, error: unknown): BrokenPart {
  log.error({ err: error, run: run.id }, "a run could not be computed");
  const why = error instanceof Error ? error.message : String(error);
  return { kind: "run", id: run.id, experimentId: experiment.id, name: `Run ${run.number}`, why, computed: true };
}

/** Everything the verdict depends on. @param marked what was marked at the bench, by run */
export const verdictKey = (e: Experiment, marked: ReadonlyMap<number, readonly RunEvent[]>): string =>
  fingerprint([
    stagesOf(e).combined,
    markedIn(e, marked),
    e.lanes.map((l) => [l.letter, l.variantId, l.specimenId, l.design, l.asBuilt]),
    // What the winner is used for decides nothing about who wins.
    { ...e.settings, apply: null },
    [e.plannedDays, e.plannedFrom],
  ]);

export async function analyseLoaded(knex: Knex, experiment: Experiment): Promise<Analysis> {
  const stages = stagesOf(experiment);
  const assembled = new Map<number, AssembledRun>();
  const reductions: RunReduction[] = [];
  const failed = [...stages.failed];
  for (const stage of stages.runs) {
    try {
      await computeRun(stage);
    } catch (error) {
      if (isOutside(error)) throw error;
      failed.push(failedRun(experiment, stage.run, error));
    }
  }
  const left = new Set(failed.map((f) => f.id));
  const shown = left.size ? { ...experiment, runs: experiment.runs.filter((r) => !left.has(r.id)) } : experiment;
  const combined = left.size ? fingerprint([stages.combined, [...left]]) : stages.combined;

  async function computeRun(stage: Stage): Promise<void> {
    const series = await store.get(
      stage.assembly,
      async () => {
        stageCounts.assembled++;
        return assembleRun(await loggedChannels(knex, stage.run, stage.plan), stage.plan.exclusions, stage.plan.keep);
      },
      assembledBytes,
    );
    const reduction = await store.get(
      stage.reduced,
      async () => {
        stageCounts.reduced++;
        const input = { arrangements: stage.arrangements, assembled: series };
        const ground = await store.get(stage.ground, async () => groundOf(input), groundBytes);
        return reduceRun(input, experiment.settings, ground);
      },
      reducedBytes,
    );
    assembled.set(stage.run.id, series);
    reductions.push(reduction);
  }
  const reduction = await store.get(
    combined,
    async () => {
      stageCounts.combined++;
      return combineRuns(reductions, { curvature: "auto" });
    },
    (r) => 4000 * r.points.length,
  );
  const expected = await expectedLanes(experiment, reduction);
  const marked = await findEvents(
    knex,
    experiment.runs.map((r) => r.id),
  );
  const key = left.size ? fingerprint([verdictKey(experiment, marked), combined]) : verdictKey(experiment, marked);
  const byWindows = await judged({ key, combined }, experiment, reduction, { expected, marked });
  const judgement = await withDaylight(byWindows, combined, { experiment: shown, reduction, assembled, expected });
  return { experiment: shown, failed, assembled, reduction, judgement, expected };
}

/** What a person marked, by the run's name. */
const markedIn = ({ runs }: Experiment, marked: ReadonlyMap<number, readonly RunEvent[]>): Facts["events"] =>
  runs.flatMap((r) =>
    (marked.get(r.id) ?? []).map(({ kind, lane, atMs }) => ({ run: String(r.number), kind, lane, atMs })),
  );

interface Beside {
  expected: ReadonlyMap<string, Expected>;
  marked: ReadonlyMap<number, readonly RunEvent[]>;
}

/** What an experiment is judged by, beside its points. */
export const judgedBy = (
  experiment: Experiment,
  { expected, marked }: Beside,
): CompareSettings & { seed: number } & Facts => {
  const { settings, plannedDays, plannedFrom, lanes } = experiment;
  return {
    ...settings,
    seed: SEED,
    plannedDays,
    plannedFrom,
    expected,
    events: markedIn(experiment, marked),
    mirrored: lanes.filter((l) => l.design.mirrors.length > 0).map((l) => l.letter),
    sketchedTimeConstants: lanes
      .filter(({ letter, design }) => {
        const stated = (run: StoredRun) => run.specimens.find((s) => s.letter === letter)?.setup.timeConstantS ?? null;
        return design.sketch && experiment.runs.some((r) => stated(r) === null);
      })
      .map((l) => l.letter),
  };
};

const judged = (
  { key, combined }: { key: string; combined: string },
  experiment: Experiment,
  reduction: Reduction,
  beside: Beside,
): Promise<Judgement> =>
  store.get(
    key,
    async () => {
      stageCounts.judged++;
      const by = judgedBy(experiment, beside);
      const { smallestDifference, stationShare, seed, plannedDays, plannedFrom } = by;
      const tested = await store.get(
        fingerprint([combined, "tested", { smallestDifference, stationShare, seed, plannedDays, plannedFrom }]),
        async () => ({ tested: testedReduction(reduction, by) }),
        () => 300_000,
      );
      return judgeReduction(reduction, by, tested);
    },
    () => 500_000,
  );

/** A fault of database or memory is no run's fault, and is not to be taken for one. */
export const isOutside = (error: unknown): boolean => (error as { code?: string }).code !== undefined;

const NONE = new Float64Array();
const arrayBytes = (a: Float64Array | null) => a?.byteLength ?? 0;

function assembledBytes({ cleaning, places, shared }: AssembledRun): number {
  const series = [...places.values()].flatMap((p) => Object.values(p) as (Float64Array | null)[]);
  const common = [shared.irradiance, shared.ambient, shared.wind, shared.humidity, shared.pressure];
  // Raw values are held here too, and by the readings' own entry: counted twice, so that what goes really frees memory.
  return (
    [...series, ...common].reduce((s, a) => s + arrayBytes(a), 0) +
    cleaning.reduce((s, c) => s + c.codes.byteLength + c.channel.times.byteLength, 0)
  );
}

/** A point holds some thirty figures with their sources. */
const reducedBytes = (r: RunReduction) => 20_000 * r.points.length + 2_000 * r.windows.length;

/** An hour of a lane holds some dozen figures with their sources; what windows are looked for in three channels a lane and three more. */
const groundBytes = ({ parts }: RunGround) =>
  parts.reduce((s, { heat, searched, series }) => {
    // Values and their sums are doubles, gaps half as long.
    const minutes = searched ? 20 * searched.irradiance.values.length * (3 * searched.lanes.length + 3) : 0;
    return s + 8_000 * heat.hours.length + 50_000 + minutes + arrayBytes(series.irradiance);
  }, 0);

/** A stream's readings, by the number of their channel. */
export interface StreamReadings {
  times: Float64Array;
  values: ReadonlyMap<number, Float64Array | Column>;
}

/** A run's used channels with their readings. Raw readings never change, so a stream is read once whatever is laid over it. */
async function loggedChannels(knex: Knex, run: StoredRun, plan: AssemblyPlan): Promise<LoggedChannel[]> {
  const streams = new Map<number, StreamReadings>();
  for (const stream of run.streams) {
    const used = stream.channels.filter((c) => c.kind !== null).map((c) => c.channelNo);
    const key = fingerprint([METHOD, "readings", named(stream), used]);
    streams.set(
      stream.id,
      await store.get(
        key,
        async () => {
          stageCounts.readings++;
          return streamReadings(knex, stream, used, stream.live);
        },
        (s) => [...s.values.values()].reduce((sum, v) => sum + v.byteLength, 0),
      ),
    );
  }
  return withReadings(plan, streams);
}

/** A stream's readings in SI, whether they were imported or came live. */
export async function streamReadings(
  knex: Knex,
  stream: StoredStream,
  channelNos: readonly number[],
  span: StreamSpan | undefined,
): Promise<StreamReadings> {
  const values = await readChannels(knex, stream.id, [0, ...channelNos], span);
  if (stream.live)
    for (const c of stream.channels) {
      const unit = c.kind && columnUnit(c.kind, c);
      const sent = values.get(c.channelNo);
      if (unit && sent)
        values.set(
          c.channelNo,
          sent.map((v) => toSi(v, unit)),
        );
    }
  return { times: values.get(0) ?? new Float64Array(), values };
}

export const withReadings = (plan: AssemblyPlan, streams: ReadonlyMap<number, StreamReadings>): LoggedChannel[] =>
  plan.channels.map(({ streamId, channelNo, ...channel }) => {
    const { times, values } = streams.get(streamId)!;
    const found = values.get(channelNo) ?? new Float64Array(times.length).fill(NaN);
    // A file's columns are opened one at a time: all of a million rows would not fit beside each other.
    if (found instanceof Column)
      return Object.defineProperty({ ...channel, times, values: NONE }, "values", { get: () => found.slice() });
    return { ...channel, times, values: found };
  });

const MINUTE = 60_000;

/** What physics does not allow in a run whose readings are at hand: minutes tell it, and a million rows in finer steps would not fit. */
export function implausibleInRun(
  experiment: Experiment,
  run: StoredRun,
  readings: ReadonlyMap<number, StreamReadings>,
): Implausible[] {
  const plan = assemblyPlan(run);
  const assembled = assembleRun(withReadings(plan, readings), plan.exclusions, plan.keep, MINUTE);
  return implausibleOf(groundOf({ arrangements: arrangedSetups(experiment, run), assembled }));
}
