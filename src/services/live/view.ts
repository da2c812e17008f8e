import type { Knex } from "knex";
import type { RunSeries, RunSetup } from "../../core/analysis/setup";
import { builtArea } from "../../core/experiment/arrange";
import type { DeviceRow } from "../../core/experiment/records";
import type { RunEvent } from "../../core/experiment/schema/event";
import type { Experiment, StoredRun } from "../../core/experiment/types";
import { alarmKey, byUrgency, type Alarm } from "../../core/live/alarms";
import { nextSpan, type PlannedSpan } from "../../core/live/byPlan";
import type { LaneNow, SharedNow } from "../../core/live/lanesNow";
import type { SteadyNow } from "../../core/live/steadyNow";
import { listDevices } from "../../data/device/devices";
import { findExperiment } from "../../data/experiment/experiments";
import { listAlarms, noteAlarms, type LoggedAlarm } from "../../data/run/alarms";
import { findEvents } from "../../data/run/events";
import { figure, type FigureView } from "../page/figureView";
import { log } from "../web/log";
import { plannedSpans } from "./byPlan";
import { pauseRun, takenBy } from "./commands";
import { liveRunOf } from "./liveRun";
import { newest, type Newest } from "./newest";
import { soFarOf, type SoFar } from "./soFar";
import { watchBench } from "./watch";

export interface LaneLive {
  letter: string;
  station: number;
  inlet: FigureView | null;
  outlet: FigureView | null;
  rise: FigureView | null;
  flow: FigureView | null;
  heat: FigureView | null;
  efficiency: FigureView | null;
  steady: SteadyNow | null;
  /** Warmer than another lane at its outlet, and yet less heat. */
  hotterYetLess: string | null;
}

export interface LiveTrace {
  startMs: number;
  stepMs: number;
  sun: (number | null)[];
  lanes: { letter: string; inlet: (number | null)[]; outlet: (number | null)[] }[];
}

/** Everything the live bench shows; plain data. */
export interface LiveView {
  experimentId: number;
  runId: number;
  number: number;
  /** Waiting: no reading has come into its span yet. */
  state: "waiting" | "running" | "paused" | "ended";
  startedAt: number;
  endedAt: number | null;
  /** The run that reads its device since it ended; null: none does, or it goes on. */
  takenBy: { number: number; experiment: string; experimentId: number } | null;
  /** The bench's clock: now, or the newest frame of a simulated bench. */
  nowMs: number;
  simulated: boolean;
  newestMs: number | null;
  shared: SharedLive;
  lanes: LaneLive[];
  trace: LiveTrace | null;
  /** The most urgent first; what is over stands after what is not. */
  alarms: SeenAlarm[];
  events: RunEvent[];
  soFar: SoFar | null;
  stagnationMeant: boolean;
  /** The kept plan's hours that are on or come next; null where none was kept. */
  plan: { followed: boolean; next: PlannedSpan | null } | null;
  devices: { name: string; newestMs: number | null; lagMs: number | null }[];
}

/** @property holds it is so now: an alarm stays open for a minute after, so that what flickers is one */
export type SeenAlarm = LoggedAlarm & { holds: boolean };

export interface SharedLive {
  irradiance: FigureView | null;
  ambient: FigureView | null;
  wind: FigureView | null;
  humidity: FigureView | null;
  pressure: FigureView | null;
}

/** What the small traces show, ms, in so many points. */
const TRACE_MS = 30 * 60_000;
const TRACE_POINTS = 120;
/** What is so at a live bench now, and what is wrong with it. */
async function benchNow(knex: Knex, experimentId: number, wallMs: number) {
  const experiment = await findExperiment(knex, experimentId);
  const run = experiment && liveRunOf(experiment);
  if (!experiment || !run) return null;
  const devices = (await listDevices(knex)).filter((d) => run.streams.some((s) => s.id === d.streamId));
  const clock = benchClock(run, devices, wallMs);
  const events = (await findEvents(knex, [run.id])).get(run.id) ?? [];
  const stagnationMeant = isStill(events, clock.nowMs);
  const bench = await newest(knex, experiment, run, clock.nowMs);
  const soFar = await soFarOf(knex, experiment, run, wallMs);
  const alarms =
    run.live!.endedAt === null
      ? watchBench({ experiment, run, bench, devices, nowMs: clock.nowMs, wallMs, stagnationMeant, soFar })
      : [];
  return { experiment, run, devices, clock, events, stagnationMeant, bench, soFar, alarms };
}

/**
 * Writes down what is wrong at a live bench now; whoever only looks at it writes nothing. Of a device that was set up anew nothing
 * is read any further: what its channels are now, nobody has said.
 */
export async function noteBench(knex: Knex, experimentId: number, wallMs: number): Promise<void> {
  const now = await benchNow(knex, experimentId, wallMs);
  if (!now || now.run.live!.endedAt !== null) return;
  const begun = await noteAlarms(knex, now.run.id, now.alarms, now.clock.nowMs);
  const rewired = begun.find((a) => a.kind === "rewired");
  if (rewired) await pauseRun.run(knex, experimentId, now.run.id, rewired.sinceMs);
}

/** The live bench of an experiment, from the newest readings; null where no run was ever live. */
export async function liveView(knex: Knex, experimentId: number, wallMs: number): Promise<LiveView | null> {
  const now = await benchNow(knex, experimentId, wallMs);
  if (!now) return null;
  const { experiment, run, devices, clock, events, stagnationMeant, bench, soFar, alarms } = now;
  return {
    experimentId,
    runId: run.id,
    number: run.number,
    state: stateOf(run, bench !== null || run.streams.some((s) => s.frames > 0)),
    startedAt: run.live!.startedAt,
    endedAt: run.live!.endedAt,
    takenBy: await takenSince(knex, run),
    ...clock,
    newestMs: bench?.newestMs ?? lastBefore(run, clock.nowMs),
    shared: sharedView(bench?.fresh ? bench.shared : undefined),
    lanes: lanesView(experiment, run, bench?.fresh ? bench.lanes : []),
    trace: bench && traceOf(bench.series, bench.setup),
    alarms: seenAlarms(await listAlarms(knex, run.id), alarms, run.live!.endedAt),
    events,
    soFar,
    stagnationMeant,
    plan: await planOf(knex, experiment, run, clock.nowMs),
    devices: devices.map((d) => ({ name: d.name, newestMs: d.endMs, lagMs: d.simulated ? null : d.lagMs })),
  };
}

async function takenSince(knex: Knex, run: StoredRun): Promise<LiveView["takenBy"]> {
  if (run.live!.endedAt === null) return null;
  for (const { id } of run.streams.filter((s) => s.live)) {
    const other = await takenBy(knex, run, id);
    if (other) return { number: other.number, experiment: other.experiment, experimentId: other.experimentId };
  }
  return null;
}

async function planOf(knex: Knex, experiment: Experiment, run: StoredRun, nowMs: number): Promise<LiveView["plan"]> {
  if (experiment.plannedDays === null) return null;
  // A plan that cannot be reckoned must not take the bench's figures with it.
  const spans = await plannedSpans(knex, experiment, run).catch((error: unknown) => {
    log.error({ err: error, experiment: experiment.id }, "the plan's hours could not be reckoned");
    return null;
  });
  return spans && { followed: run.live!.planSeenAt !== null, next: nextSpan(spans, nowMs) };
}

function stateOf({ live }: StoredRun, any: boolean): LiveView["state"] {
  if (live!.endedAt !== null) return "ended";
  if (live!.pausedAt !== null) return "paused";
  return any ? "running" : "waiting";
}

function benchClock(run: StoredRun, devices: readonly DeviceRow[], wallMs: number) {
  const newest = run.streams.filter((s) => s.frames > 0).map((s) => s.endMs);
  const newestMs = newest.length ? Math.max(...newest) : null;
  const simulated = devices.length > 0 && devices.every((d) => d.simulated);
  const nowMs = run.live!.endedAt ?? (simulated ? (newestMs ?? run.live!.startedAt) : wallMs);
  return { nowMs, simulated };
}

/** The newest frame of a bench that has been silent for long; null where all there is lies ahead of now. */
function lastBefore(run: StoredRun, nowMs: number): number | null {
  const ends = run.streams.filter((s) => s.frames > 0 && s.endMs <= nowMs).map((s) => s.endMs);
  return ends.length ? Math.max(...ends) : null;
}

/** Logged alarms as they are shown: whether each holds now, the most urgent first. An ended run has none that holds. */
function seenAlarms(logged: readonly LoggedAlarm[], now: readonly Alarm[], runEndedAt: number | null): SeenAlarm[] {
  const keys = new Set(now.map(alarmKey));
  return logged
    .map((a) => {
      const endedAt = a.endedAt ?? runEndedAt;
      return { ...a, endedAt, holds: endedAt === null && keys.has(alarmKey(a.alarm)) };
    })
    .sort(
      (a, b) => Number(b.holds) - Number(a.holds) || (a.holds ? byUrgency(a.alarm, b.alarm) : b.beganAt - a.beganAt),
    );
}

/** Stagnation was marked as begun and not yet as ended. */
const isStill = (events: readonly RunEvent[], nowMs: number): boolean =>
  events.findLast((e) => e.atMs <= nowMs && (e.kind === "stillBegin" || e.kind === "stillEnd"))?.kind === "stillBegin";

/** The newest stretch of the run that is going on, on its bench's clock; null where nothing is live. */
export async function newestOf(knex: Knex, experiment: Experiment, wallMs: number): Promise<Newest | null> {
  const run = liveRunOf(experiment);
  if (!run) return null;
  const devices = (await listDevices(knex)).filter((d) => run.streams.some((s) => s.id === d.streamId));
  return newest(knex, experiment, run, benchClock(run, devices, wallMs).nowMs);
}

/** What nobody stated an accuracy of is shown without one. */
function view(u: Parameters<typeof figure>[0] | null | undefined, quantity: FigureView["quantity"]): FigureView | null {
  const shown = u ? figure(u, quantity) : null;
  return shown?.expanded === 0 ? { ...shown, expanded: null } : shown;
}

const sharedView = (shared: SharedNow | undefined): SharedLive => ({
  irradiance: view(shared?.irradiance, "irradiance"),
  ambient: view(shared?.ambient, "temperature"),
  wind: view(shared?.wind, "speed"),
  humidity: view(shared?.humidity, "fraction"),
  pressure: view(shared?.pressure, "pressure"),
});

function lanesView(experiment: Experiment, run: StoredRun, lanes: readonly LaneNow[]): LaneLive[] {
  return run.specimens.map(({ letter }) => {
    const now = lanes.find((l) => l.lane === letter);
    const areaM2 = areaOf(experiment, letter);
    const flow = now?.massFlow && areaM2 ? { ...figure(now.massFlow, "massFlowPerArea") } : null;
    return {
      letter,
      station: now?.station ?? 0,
      inlet: view(now?.inlet, "temperature"),
      outlet: view(now?.outlet, "temperature"),
      rise: view(now?.rise, "temperatureDifference"),
      flow: flow && {
        ...flow,
        si: flow.si / areaM2!,
        expanded: flow.expanded === null ? null : flow.expanded / areaM2!,
      },
      heat: view(now?.heat, "power"),
      efficiency: view(now?.efficiency, "fraction"),
      steady: now?.steady ?? null,
      hotterYetLess: hotterYetLess(now, lanes),
    };
  });
}

function areaOf(experiment: Experiment, letter: string): number | null {
  const lane = experiment.lanes.find((l) => l.letter === letter);
  return lane ? builtArea(lane, "gross") : null;
}

/** A lane that gives more heat although its outlet is cooler: what "the hottest air wins" gets wrong. */
function hotterYetLess(own: LaneNow | undefined, lanes: readonly LaneNow[]): string | null {
  if (!own?.outlet || !own.heat) return null;
  const better = lanes.find(
    (o) => o.outlet && o.heat && o.outlet.value < own.outlet!.value - 0.5 && o.heat.value > 1.03 * own.heat!.value,
  );
  return better?.lane ?? null;
}

function traceOf(series: RunSeries, setup: RunSetup): LiveTrace {
  const cells = Math.max(1, Math.round(TRACE_MS / series.stepMs));
  const width = Math.max(1, Math.ceil(cells / TRACE_POINTS));
  const length = series.irradiance?.length ?? [...series.lanes.values()].find((l) => l.inlet)?.inlet?.length ?? 0;
  const from = Math.max(0, length - cells);
  const thin = (a: Float64Array | null): (number | null)[] => {
    if (!a) return [];
    const out: (number | null)[] = [];
    for (let i = from; i < length; i += width) out.push(meanOf(a.subarray(i, Math.min(length, i + width))));
    return out;
  };
  return {
    startMs: series.startMs + from * series.stepMs,
    stepMs: width * series.stepMs,
    sun: thin(series.irradiance),
    lanes: setup.lanes.map(({ lane }) => ({
      letter: lane,
      inlet: thin(series.lanes.get(lane)?.inlet ?? null),
      outlet: thin(series.lanes.get(lane)?.outlet ?? null),
    })),
  };
}

function meanOf(values: Float64Array): number | null {
  let [sum, n] = [0, 0];
  for (const v of values)
    if (!Number.isNaN(v)) {
      sum += v;
      n++;
    }
  return n ? Math.round((100 * sum) / n) / 100 : null;
}
