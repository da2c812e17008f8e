import { correct } from "@/core/calibration/correction";
import { CHANNEL_KINDS, channelOf, type ChannelKind } from "@/core/log/channel";
import { displayUnit, fromSi } from "@/core/quantity/quantities";
import type { RunView } from "@/services/page/views";
import type { ChartLine, ChartSeries, ChartSpan, ChartSpec } from "@/ui/chart/model";
import { timeLabel } from "@/ui/chart/ticks";
import { EVENT_WORDS } from "@/words/live";
import type { TraceSet } from "./traceData";

/** Readings with their calibrations taken off, or as the logger wrote them. */
export type Shown = "corrected" | "logged";

interface Drawing {
  set: TraceSet;
  run: RunView;
  zone: string;
  system: "metric" | "us";
  shown: Shown;
  /** Least sun of a window, W/m². */
  least: number;
}

export interface TraceChart {
  spec: ChartSpec;
  height: number;
}

const middleOf = ({ fromMs, toMs, buckets }: TraceSet) => {
  const width = (toMs - fromMs) / buckets;
  return (b: number) => fromMs + (b + 0.5) * width;
};

/** A run's charts over one time axis. */
export const traceCharts = (drawing: Drawing): TraceChart[] => [
  ...chartOf(drawing, "Air or water in and out", ["inlet", "outlet", "ambient", "tank"], 190),
  ...chartOf(drawing, "Sun in the collector plane", ["irradiance"], 96),
  ...chartOf(drawing, "Speed at the flow meter", ["speed"], 96),
  ...chartOf(drawing, "Flow", ["volumeFlow", "massFlow"], 96),
];

function seriesOf({ set, system, shown }: Drawing, trace: TraceSet["traces"][number]): ChartSeries {
  const unit = displayUnit(CHANNEL_KINDS[trace.kind].quantity, system);
  const middle = middleOf(set);
  const corrected = shown === "corrected" ? trace.correction : null;
  return {
    label: trace.name,
    lane: trace.lane ?? undefined,
    color: trace.kind === "irradiance" ? "--sun" : "--ink-3",
    kind: channelOf(trace.kind).trace.area ? "area" : "line",
    dashed: channelOf(trace.kind).trace.dashed ?? false,
    points: Array.from(trace.mean, (v, b) => ({
      x: middle(b),
      y: fromSi(corrected ? correct(corrected, v) : v, unit),
    })),
  };
}

function chartOf(drawing: Drawing, title: string, kinds: readonly ChannelKind[], height: number): TraceChart[] {
  const { set, run, zone, system, least } = drawing;
  const found = set.traces.filter((t) => kinds.includes(t.kind));
  if (found.length === 0) return [];
  const unit = displayUnit(CHANNEL_KINDS[found[0].kind].quantity, system);
  const series = found.map((t) => seriesOf(drawing, t));
  const middle = middleOf(set);
  const first = kinds[0] === "inlet";
  const sunLimit: ChartLine[] =
    kinds[0] === "irradiance" ? [{ y: fromSi(least, unit), label: "sun at least", drag: true }] : [];
  const spec: ChartSpec = {
    title,
    summary: `${found.map((t) => t.name).join(", ")} from ${timeLabel(set.fromMs, zone)} to ${timeLabel(set.toMs, zone)}; ${run.windows.length} steady windows.`,
    x: { title: "", time: { zone }, min: set.fromMs, max: set.toMs },
    y: { title: unit.symbol },
    series,
    spans: [
      ...run.windows.map((w): ChartSpan => ({ from: w.startMs, to: w.endMs, kind: "window" })),
      ...run.exclusions.map((e): ChartSpan => ({ from: e.fromMs, to: e.toMs, kind: "aside" })),
      ...found.flatMap((t) => faultSpans(t.out, middle)),
    ],
    lines: [...eventLines(set, first), ...sunLimit],
    thinned:
      set.perBucket > 1 && first
        ? `Each point is the mean of about ${set.perBucket} readings; zoom in to see them all. Outlets solid; inlets, tanks and outside dashed.`
        : undefined,
    table: {
      columns: ["time (UTC)", ...found.map((t) => `${t.name}, ${unit.symbol}`)],
      rows: Array.from({ length: set.buckets }, (_, b) => [
        new Date(middle(b)).toISOString(),
        ...series.map((s) => (Number.isNaN(s.points[b].y) ? "" : Number(s.points[b].y.toFixed(3)))),
      ]),
    },
  };
  return [{ spec, height }];
}

/** What was marked, as lines; named in the uppermost chart alone. */
const eventLines = ({ events }: TraceSet, named: boolean): ChartLine[] =>
  events.map(({ atMs, kind, lane }) => ({
    x: atMs,
    label: named ? `${EVENT_WORDS[kind]}${lane ? ` ${lane}` : ""}` : "",
  }));

/** Stretches of a trace from which readings were left out. */
function faultSpans(out: Float32Array, middle: (b: number) => number): ChartSpan[] {
  const spans: ChartSpan[] = [];
  const width = middle(1) - middle(0);
  for (let b = 0; b < out.length; b++) {
    if (out[b] === 0) continue;
    const last = spans.at(-1);
    if (last && last.to >= middle(b) - width) last.to = middle(b) + width / 2;
    else spans.push({ from: middle(b) - width / 2, to: middle(b) + width / 2, kind: "fault" });
  }
  return spans;
}
