"use client";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { displayUnit, fromSi, type QuantityId } from "@/core/quantity/quantities";
import { CHANNEL_KINDS, channelOf, type ChannelKind } from "@/core/log/channel";
import type { ExperimentView, RunView } from "@/services/views";
import { Chart } from "@/ui/chart/Chart";
import type { ChartLine, ChartSeries, ChartSpan, ChartSpec } from "@/ui/chart/model";
import { timeLabel } from "@/ui/chart/ticks";
import { ask, Fetching } from "@/ui/Fetching";
import { usePreferences } from "@/ui/preferences";
import { EVENT_WORDS } from "@/words/live";
import { SetAside } from "./SetAside";
import { unpackTraces, type TraceSet } from "./traceData";

/** Temperatures, sun and flow of a run on one linked time axis, windows shaded, left-out readings marked. */
export const Traces = (props: { view: ExperimentView; run: RunView }) => (
  <Fetching>
    <RunTraces key={props.run.id} {...props} />
  </Fetching>
);

function RunTraces({ view, run }: { view: ExperimentView; run: RunView }) {
  const [range, setRange] = useState<[number, number] | null>(null);
  const { system } = usePreferences();
  const experimentId = view.head.id;
  // Setting a span aside changes what is left out, so the traces are read again.
  const version = run.exclusions.map((e) => e.id).join();

  const query = range ? `&from=${range[0]}&to=${range[1]}` : "";
  const { data: set, error } = useQuery({
    queryKey: ["traces", experimentId, run.id, query, version],
    queryFn: ({ signal }) =>
      ask(`/api/experiments/${experimentId}/runs/${run.id}/traces?buckets=1200${query}`, signal, async (r) =>
        unpackTraces(await r.arrayBuffer()),
      ),
    // The last picture stays until the new one is there.
    placeholderData: keepPreviousData,
  });

  const charts = useMemo(
    () => (set ? traceCharts(set, run, view.head.site.zone, system) : []),
    [set, run, view.head.site.zone, system],
  );
  if (error)
    return (
      <p role="alert" className="text-danger">
        {error.message}
      </p>
    );
  if (!set)
    return (
      <p role="status" className="py-8 text-ink-3">
        Reading the run …
      </p>
    );
  const full: [number, number] = [run.startMs, run.endMs];
  return (
    <div>
      {charts.map(({ spec, height }) => (
        <Chart
          key={spec.title}
          spec={spec}
          height={height}
          range={range}
          onRange={(r) => setRange(r && r[1] - r[0] > 60000 ? clampRange(r, full) : null)}
          link={`run${run.id}`}
        />
      ))}
      <p className="side">
        Shaded: steady windows. Amber: readings left out. Drag across to zoom
        {range ? ", or press the frame icon to show all" : ""}.
      </p>
      <SetAside view={view} run={run} range={range} />
    </div>
  );
}

function clampRange([a, b]: [number, number], [low, high]: [number, number]): [number, number] | null {
  const from = Math.max(low, a);
  const to = Math.min(high, b);
  return to - from < 60000 || (from === low && to === high) ? null : [from, to];
}

function traceCharts(
  set: TraceSet,
  run: RunView,
  zone: string,
  system: "metric" | "us",
): { spec: ChartSpec; height: number }[] {
  const middle = (b: number) => set.fromMs + ((b + 0.5) * (set.toMs - set.fromMs)) / set.buckets;
  const points = (mean: Float32Array, quantity: QuantityId) => {
    const unit = displayUnit(quantity, system);
    return Array.from(mean, (v, b) => ({ x: middle(b), y: fromSi(v, unit) }));
  };
  const windows: ChartSpan[] = run.windows.map((w) => ({ from: w.startMs, to: w.endMs, kind: "window" }));
  const aside: ChartSpan[] = run.exclusions.map((e) => ({ from: e.fromMs, to: e.toMs, kind: "aside" }));
  const one = (title: string, kinds: readonly ChannelKind[], height: number): { spec: ChartSpec; height: number }[] => {
    const found = set.traces.filter((t) => kinds.includes(t.kind));
    if (found.length === 0) return [];
    const quantity = CHANNEL_KINDS[found[0].kind].quantity;
    const unit = displayUnit(quantity, system).symbol;
    const series: ChartSeries[] = found.map((t) => ({
      label: t.name,
      lane: t.lane ?? undefined,
      color: t.kind === "irradiance" ? "--sun" : "--ink-3",
      kind: channelOf(t.kind).trace.area ? "area" : "line",
      dashed: channelOf(t.kind).trace.dashed ?? false,
      points: points(t.mean, quantity),
    }));
    const stamp = (b: number) => new Date(middle(b)).toISOString();
    return [
      {
        height,
        spec: {
          title,
          summary: `${found.map((t) => t.name).join(", ")} from ${timeLabel(set.fromMs, zone)} to ${timeLabel(set.toMs, zone)}; ${run.windows.length} steady windows.`,
          x: { title: "", time: { zone }, min: set.fromMs, max: set.toMs },
          y: { title: unit },
          series,
          spans: [...windows, ...aside, ...found.flatMap((t) => faultSpans(t.out, middle))],
          lines: eventLines(set, kinds[0] === "inlet"),
          thinned:
            set.perBucket > 1 && kinds[0] === "inlet"
              ? `Each point is the mean of about ${set.perBucket} readings; zoom in to see them all. Outlets solid, inlets and outside dashed.`
              : undefined,
          table: {
            columns: ["time (UTC)", ...found.map((t) => `${t.name}, ${unit}`)],
            rows: Array.from({ length: set.buckets }, (_, b) => [
              stamp(b),
              ...series.map((s) => (Number.isNaN(s.points[b].y) ? "" : Number(s.points[b].y.toFixed(3)))),
            ]),
          },
        },
      },
    ];
  };
  return [
    ...one("Air or water in and out", ["inlet", "outlet", "ambient"], 190),
    ...one("Sun in the collector plane", ["irradiance"], 96),
    ...one("Speed at the flow meter", ["speed"], 96),
    ...one("Flow", ["volumeFlow", "massFlow"], 96),
  ];
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
