import type { Knex } from "knex";
import { z } from "zod";
import type { FitFailure } from "../../core/analysis/curve";
import type { FlowStep } from "../../core/analysis/flowSteps";
import { atNormal } from "../../core/analysis/alongCurve";
import type { Doubt } from "../../core/judge/doubt/list";
import { windowsUsed } from "../../core/judge/judge";
import type { Way } from "../../core/judge/verdict";
import type { RatioOfPair, SpanUnit } from "../../core/judge/tested";
import { dailyLine, type DailyLine } from "../../core/analysis/dailyLine";
import type { HeatRecord } from "../../core/analysis/heatRecord";
import type { PairComparison } from "../../core/judge/pairs";
import { recheck, standardRules, type LimitCheck, type LimitName, type WindowSearch } from "../../core/log/windows";
import { setupAt, type RunReduction } from "../../core/analysis/reduce";
import { lanesOf, layersOn } from "../../core/experiment/arrange";
import { foldLayers, type RunLayer } from "../../core/experiment/layers";
import { gridMean } from "../../core/log/grid";
import { startOfDay } from "../../core/log/zone";
import type { CleanFinding } from "../../core/log/clean";
import type { ExperimentHead, LiveRun, StoredRun, StoredChannel } from "../../core/experiment/types";
import { analyse, type Analysis } from "../analysis/analyse";
import { besideView, type BesideView } from "../judge/besideView";
import { curveView, type CurveView } from "./curveView";
import { figure, type FigureView } from "./figureView";
import { readingView, type ReadingView } from "../read/readingView";
import { orNull, verdictView, type VerdictView } from "../judge/verdictView";

export type { TestedAt, VerdictView } from "../judge/verdictView";
export type { CurveView } from "./curveView";
export type { FigureView } from "./figureView";

const word = z.string().max(40);
/** A name of a figure, as it comes from a page. */
export const figureRefSchema = z.discriminatedUnion("figure", [
  z.object({ figure: z.literal("difference"), a: word, b: word }),
  z.object({ figure: z.literal("verdict") }),
  z.object({ figure: z.literal("laneHeat"), lane: word }),
  z.object({ figure: z.literal("coefficient"), lane: word, name: z.enum(["eta0", "a1", "a2", "stagnation"]) }),
  z.object({ figure: z.literal("crossing"), a: word, b: word }),
  z.object({
    figure: z.literal("point"),
    run: word,
    window: z.number().int().min(0),
    lane: word,
    name: z.enum(["efficiency", "heat", "massFlow", "rise"]),
  }),
  z.object({ figure: z.literal("live"), lane: word, name: z.enum(["efficiency", "heat", "massFlow", "rise"]) }),
]);
/** Names a figure so that its working can be opened. */
export type FigureRef = z.infer<typeof figureRefSchema>;

/** Lanes side by side as they were tested. */
export interface TestedView {
  unit: SpanUnit;
  by: { unit: SpanUnit; pairs: RatioOfPair[] }[];
  spans: number;
  days: number;
}

/** What a lane gave on a day. */
export interface DayHeatView {
  run: string;
  day: string;
  lane: string;
  hours: number;
  energy: FigureView;
  perArea: FigureView;
  peakW: number;
  irradiation: FigureView | null;
  inletC: number;
  outletC: number;
  ambientC: number | null;
  stoppedMinutes: number;
}

export interface PointView {
  lane: string;
  run: string;
  window: number;
  day: string;
  startMs: number;
  x: number;
  efficiency: FigureView;
  heat: FigureView;
  massFlow: FigureView;
  rise: FigureView;
  irradiance: FigureView;
}

export interface RunView {
  id: number;
  number: number;
  note: string;
  byHand: boolean;
  live: LiveRun | null;
  stations: Record<string, number>;
  startMs: number;
  endMs: number;
  tilt: number;
  azimuth: number;
  windows: {
    startMs: number;
    endMs: number;
    lanes: string[];
    /** The limit it came nearest to, as a share of it. All of them would be half of a page's data. */
    tight: { name: LimitName; lane: string | null; share: number };
    standardUnmet: LimitName[];
  }[];
  refusals: WindowSearch["refusals"];
  missing: { lane: string | null; what: string }[];
  streams: {
    id: number;
    name: string;
    frames: number;
    startMs: number;
    endMs: number;
    channels: (StoredChannel & { stations: number[]; instruments: string[] })[];
    rejected: number;
    /** A device's stream: its readings are kept as sent. */
    live: boolean;
    summary: StoredRun["streams"][number]["summary"];
  }[];
  cleaning: { channel: string; lane: string | null; findings: CleanFinding[] }[];
  /** Spans set aside that are in force. */
  exclusions: { id: number; lane: string | null; fromMs: number; toMs: number; reason: string }[];
  /** Every layer over the readings in its order, those that are off too. */
  layers: RunLayer[];
  /** Who stood where, span by span; null at an end: from the run's begin, to its end. */
  arrangements: { fromMs: number | null; untilMs: number | null; stations: Record<string, number> }[];
}

/** One of the flows a lane was run at, with what it gave there. */
export type FlowStepView = Omit<FlowStep, "flowPerArea" | "efficiency"> & {
  /** kg/(s·m²), per gross area. */
  flow: number;
  efficiency: FigureView;
};

export interface ExperimentView extends BesideView {
  head: ExperimentHead;
  runs: RunView[];
  points: PointView[];
  curves: CurveView[];
  failures: FitFailure[];
  flowSteps: FlowStepView[];
  ranking: { lane: string; heat: FigureView; rank: [number, number]; chanceBest: number; chances: number[] }[];
  pairs: (Pick<
    PairComparison,
    "a" | "b" | "pHolm" | "p" | "chanceWrong" | "decision" | "windows" | "days" | "swapped" | "inTurn" | "identical"
  > & { difference: FigureView })[];
  verdict: VerdictView;
  doubts: Doubt[];
  /** Which comparison ranking, pairs and verdict are. */
  way: Way;
  tested: TestedView | null;
  /** Heat of each day, and how it follows the sun. */
  daily: DayHeatView[];
  dailyLines: DailyLine[];
  hoursSetAside: HeatRecord["setAside"];
  readings: ReadingView[];
  crossings: { a: string; b: string; x: FigureView }[];
  operatingX: Record<string, number>;
  repeatability: number;
  /** Calibrations in force over any run. */
  layers: number;
  /** The last day with windows, and the sun recorded on it in five-minute means. */
  strip: { atMs: number; recorded: { ms: number; wm2: number }[] } | null;
}

/** The same of an experiment not yet loaded. null when it is not there. @testing */
export async function experimentView(knex: Knex, id: number): Promise<ExperimentView | null> {
  const analysis = await analyse(knex, id);
  return analysis && viewOf(analysis);
}

/** What the steps of an experiment show. */
export function viewOf(analysis: Analysis): ExperimentView {
  const { experiment, assembled, reduction, judgement } = analysis;
  const { runs, ...head } = experiment;
  return {
    head,
    runs: runs.map((run) =>
      runView(
        run,
        reduction.runs.find((r) => r.run === String(run.number))!,
        assembled.get(run.id)!,
      ),
    ),
    points: reduction.points.map((p) => ({
      lane: p.lane,
      run: p.run,
      window: p.window,
      day: p.day,
      startMs: p.startMs,
      x: p.reducedTemperature.value,
      efficiency: figure(atNormal(p, reduction.curves.get(p.lane)?.eta0), "fraction"),
      heat: figure(p.heat, "power"),
      massFlow: figure(p.massFlow, "massFlow"),
      rise: figure(p.rise, "temperatureDifference"),
      irradiance: figure(p.irradiance, "irradiance"),
    })),
    curves: [...reduction.curves.values()].map((c) => curveView(c, judgement.operatingX.get(c.lane) ?? 0)),
    failures: reduction.failures,
    flowSteps: reduction.flowSteps.map(({ flowPerArea, efficiency, ...step }) => ({
      ...step,
      flow: flowPerArea,
      efficiency: figure(efficiency, "fraction"),
    })),
    ranking: judgement.ranking.map((r) => ({
      lane: r.lane,
      heat: figure(r.heat, "heatFlux"),
      rank: r.rank,
      chanceBest: r.chanceBest,
      chances: r.chances,
    })),
    pairs: judgement.pairs.map(
      ({ a, b, p, pHolm, chanceWrong, decision, windows, days, swapped, inTurn, identical, difference }) => ({
        a,
        b,
        p,
        pHolm,
        chanceWrong,
        decision,
        windows,
        days,
        swapped,
        inTurn,
        identical,
        difference: figure(difference, "heatFlux"),
      }),
    ),
    verdict: verdictView(judgement, runs.length, experiment.settings.smallestDifference),
    doubts: judgement.doubts,
    way: judgement.way,
    tested: judgement.tested && {
      unit: judgement.tested.unit,
      by: judgement.tested.by,
      spans: judgement.tested.condition.spans,
      days: judgement.tested.condition.days,
    },
    daily: reduction.heat.days.map((d) => ({
      ...d,
      energy: figure(d.energy, "energy"),
      perArea: figure(d.perArea, "energyPerArea"),
      irradiation: d.irradiation && figure(d.irradiation, "energyPerArea"),
      ambientC: orNull(d.ambientC),
    })),
    dailyLines: reduction.lanes.flatMap(({ lane }) => dailyLine(lane, litDays(reduction.heat, lane)) ?? []),
    hoursSetAside: reduction.heat.setAside,
    readings: reduction.heat.readings.map(readingView),
    crossings: judgement.crossings.map((c) => ({ a: c.a, b: c.b, x: figure(c.x, "reducedTemperature") })),
    operatingX: Object.fromEntries(judgement.operatingX),
    ...besideView(analysis),
    repeatability: judgement.repeatability,
    layers: new Set(runs.flatMap((r) => layersOn(r, "calibration").map((l) => l.calibrationId))).size,
    strip: lastDay(experiment, assembled, reduction),
  };
}

/** A day needs this much of its daylight for its heat to be a day's. */
const WHOLE_DAY_HOURS = 6;

const litDays = ({ days }: HeatRecord, lane: string) =>
  days.flatMap((d) =>
    d.lane === lane && d.irradiation && d.hours >= WHOLE_DAY_HOURS
      ? [{ irradiation: d.irradiation.value, heat: d.perArea.value }]
      : [],
  );

const FIVE_MINUTES = 300000;

function lastDay(
  experiment: Analysis["experiment"],
  assembled: Analysis["assembled"],
  reduction: Analysis["reduction"],
): ExperimentView["strip"] {
  const ends = experiment.runs.flatMap((r) => r.streams.map((s) => s.endMs));
  if (ends.length === 0) return null;
  const atMs = windowsUsed(reduction.points).at(-1)?.startMs ?? Math.max(...ends);
  const from = startOfDay(atMs, experiment.site.zone);
  const recorded = [...assembled.values()].flatMap(({ shared: series }) => {
    if (!series.irradiance) return [];
    const grid = { startMs: from, stepMs: FIVE_MINUTES, count: 288 };
    const times = Float64Array.from(series.irradiance, (_, i) => series.startMs + (i + 0.5) * series.stepMs);
    return [...gridMean(times, series.irradiance, null, grid)].flatMap((wm2, i) =>
      Number.isNaN(wm2) ? [] : [{ ms: from + (i + 0.5) * FIVE_MINUTES, wm2 }],
    );
  });
  return { atMs, recorded };
}

/** Letter of the lane that stood at a place at an instant; null for what all share. */
export const laneAt = (run: RunReduction, station: number | null, ms: number): string | null =>
  setupAt(run, ms).lanes.find((l) => l.station === station)?.lane ?? null;

/** Of the limits on how much may change: the two floors are always near. */
function tightest(checks: readonly LimitCheck[]): RunView["windows"][number]["tight"] {
  const { name, lane, worst, limit } = checks
    .filter((c) => c.name !== "irradiance" && c.name !== "modifier")
    .reduce((a, b) => (b.worst / b.limit > a.worst / a.limit ? b : a));
  return { name, lane, share: worst / limit };
}

function runView(
  run: StoredRun,
  reduced: Analysis["reduction"]["runs"][number],
  assembled: Analysis["assembled"] extends Map<number, infer A> ? A : never,
): RunView {
  const { mounts } = foldLayers(run.layers);
  const lanes = reduced.arrangements.flatMap((a) => a.setup.lanes);
  const fluid = lanes[0]?.fluid.kind ?? "air";
  return {
    id: run.id,
    number: run.number,
    note: run.note,
    byHand: run.setup.byHand,
    live: run.live ?? null,
    tilt: run.setup.plane.tilt,
    azimuth: run.setup.plane.azimuth,
    stations: Object.fromEntries(lanesOf(run).map((l) => [l.letter, l.station])),
    arrangements: reduced.arrangements.map(({ fromMs, untilMs, setup }) => ({
      fromMs,
      untilMs,
      stations: Object.fromEntries(setup.lanes.map((l) => [l.lane, l.station])),
    })),
    startMs: Math.min(...run.streams.map((s) => s.startMs)),
    endMs: Math.max(...run.streams.map((s) => s.endMs)),
    windows: reduced.windows.map((w) => ({
      startMs: w.startMs,
      endMs: w.endMs,
      lanes: w.lanes,
      tight: tightest(w.checks),
      standardUnmet: [
        ...new Set(
          recheck(w.checks, standardRules(fluid))
            .filter((c) => !c.met)
            .map((c) => c.name),
        ),
      ],
    })),
    refusals: reduced.refusals,
    missing: reduced.missing,
    streams: run.streams.map((s) => ({
      id: s.id,
      name: s.name,
      frames: s.frames,
      startMs: s.startMs,
      endMs: s.endMs,
      channels: s.channels.map((c) => {
        const own = mounts.filter((m) => m.streamId === s.id && m.channelNo === c.channelNo);
        return {
          ...c,
          stations: own.flatMap((m) => m.station ?? []),
          instruments: [...new Set(own.flatMap((m) => m.instrument ?? []))],
        };
      }),
      rejected: s.summary.rowsRejected,
      live: s.live !== undefined,
      summary: s.summary,
    })),
    cleaning: assembled.cleaning
      // A row of one box leaves the others' cells empty: nothing is missing.
      .map((c) => (run.setup.byHand ? { ...c, findings: c.findings.filter((f) => f.reason !== "missing") } : c))
      .filter((c) => c.findings.length > 0)
      .map((c) => ({
        channel: c.channel.name,
        lane: laneAt(reduced, c.channel.station, c.findings[0].firstMs),
        findings: c.findings,
      })),
    exclusions: layersOn(run, "exclusion").map(({ id, reason, detail }) => ({ id, reason, ...detail })),
    layers: run.layers,
  };
}
