"use client";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { ExperimentView, RunView } from "@/services/page/views";
import { Chart } from "@/ui/chart/Chart";
import { Choice } from "@/ui/Choice";
import { ask, Fetching } from "@/ui/Fetching";
import { usePreferences } from "@/ui/preferences";
import { SetAside } from "./SetAside";
import { traceCharts, type Shown } from "./traceCharts";
import { unpackTraces } from "./traceData";
import { useSunLimit } from "./useSunLimit";
import { saidOf } from "@/ui/said";

/** Temperatures, sun and flow of a run on one linked time axis, windows shaded, left-out readings marked. */
export const Traces = (props: { view: ExperimentView; run: RunView }) => (
  <Fetching>
    <RunTraces key={props.run.id} {...props} />
  </Fetching>
);

function RunTraces({ view, run }: { view: ExperimentView; run: RunView }) {
  const [range, setRange] = useState<[number, number] | null>(null);
  const [shown, setShown] = useState<Shown>("corrected");
  const { system } = usePreferences();
  const least = view.head.settings.rules.minIrradiance;
  const { zone } = view.head.site;
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
    () => (set ? traceCharts({ set, run, zone, system, shown, least }) : []),
    [set, run, zone, system, shown, least],
  );
  const limit = useSunLimit(view, set ?? null, system);
  if (error || !set) return <NotYet error={error} />;
  const full: [number, number] = [run.startMs, run.endMs];
  return (
    <div>
      {set.traces.some((t) => t.correction) && (
        <Choice label="Readings" value={shown} options={SHOWN} onChange={setShown} />
      )}
      {charts.map(({ spec, height }) => (
        <Chart
          key={spec.title}
          spec={spec}
          height={height}
          range={range}
          onRange={(r) => setRange(r && r[1] - r[0] > 60000 ? clampRange(r, full) : null)}
          link={`run${run.id}`}
          onDragLine={spec.lines?.some((l) => l.drag) ? limit.move : undefined}
        />
      ))}
      <p className="side" role="status">
        {limit.says ??
          `Shaded: steady windows. Amber: readings left out. Drag across to zoom${range ? ", or press the frame icon to show all" : ""}; drag the sun’s limit to move it.`}
      </p>
      <SetAside view={view} run={run} range={range} />
    </div>
  );
}

const NotYet = ({ error }: { error: Error | null }) =>
  error ? (
    <p role="alert" className="text-danger">
      {saidOf(error, "The traces could not be drawn. Reload the page.")}
    </p>
  ) : (
    <p role="status" className="py-8 text-ink-3">
      Reading the run …
    </p>
  );

const SHOWN: readonly (readonly [Shown, string])[] = [
  ["corrected", "as corrected"],
  ["logged", "as logged"],
];

function clampRange([a, b]: [number, number], [low, high]: [number, number]): [number, number] | null {
  const from = Math.max(low, a);
  const to = Math.min(high, b);
  return to - from < 60000 || (from === low && to === high) ? null : [from, to];
}
