"use client";

import { useMemo } from "react";
import type { ExperimentView, PointView, RunView } from "@/services/page/views";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/Working";
import { clock, timeOfDay } from "@/words/times";
import { Head } from "@/ui/Head";

interface Row {
  number: number;
  window: RunView["windows"][number];
  points: Map<string, PointView>;
}

/** Each window with the lanes steady in it, their figures, and the limits it met. */
export function WindowTable({ view, run }: { view: ExperimentView; run: RunView }) {
  const rows = useMemo(() => rowsOf(view, run), [view, run]);
  const columns = useMemo(() => columnsOf(view, run), [view, run]);
  if (run.windows.length === 0) return null;
  return (
    <section aria-labelledby="windows" className="min-w-0 xl:col-span-2">
      <Head
        id="windows"
        title={<>Windows of run {run.number}</>}
        side="efficiency at normal incidence, heat; worst deviation as share of its limit"
      />
      <DataTable
        label={`Windows of run ${run.number}, table`}
        file={`windows-run-${run.number}`}
        columns={columns}
        rows={rows}
        many={60}
      />
    </section>
  );
}

const rowsOf = (view: ExperimentView, run: RunView): Row[] =>
  run.windows.map((window, i) => ({
    number: i + 1,
    window,
    points: new Map(view.points.filter((p) => p.run === String(run.number) && p.window === i).map((p) => [p.lane, p])),
  }));

function columnsOf(view: ExperimentView, run: RunView): TableColumn<Row>[] {
  const { zone } = view.head.site;
  const span = ({ window: w }: Row) => `${clock(w.startMs, zone)}–${timeOfDay(w.endMs, zone)}`;
  const sun = (r: Row) => [...r.points.values()][0]?.irradiance;
  return [
    { id: "number", title: "#", value: (r) => r.number, rowHeader: true },
    // Sorts by time; the file carries the instant, the page the clock of the site.
    { id: "when", title: "when", value: (r) => new Date(r.window.startMs).toISOString(), cell: span },
    {
      id: "sun",
      title: "sun",
      number: true,
      value: (r) => sun(r)?.si ?? null,
      cell: (r) => {
        const figure = sun(r);
        return figure && <Figure figure={figure} />;
      },
    },
    ...view.head.lanes.map((l): TableColumn<Row> => ({
      id: `lane-${l.letter}`,
      title: l.letter,
      heading: <LaneMark lane={l.letter} size={11} />,
      value: (r) => r.points.get(l.letter)?.efficiency.si ?? null,
      cell: (r) => <LaneCell run={run} row={r} lane={l.letter} />,
    })),
    {
      id: "tight",
      title: "tightest limit",
      value: (r) => r.window.tight.share,
      cell: ({ window: { tight } }) =>
        `${LIMIT_NAMES[tight.name]}${tight.lane ? ` ${tight.lane}` : ""} ${Math.round(tight.share * 100)} %`,
    },
    {
      id: "standard",
      title: "standard",
      value: ({ window }) => unmet(window) || "met",
      cell: ({ window }) => {
        const names = unmet(window);
        return names ? <span className="text-doubt">{names} not met</span> : "met";
      },
    },
  ];
}

const unmet = (w: Row["window"]): string => w.standardUnmet.map((n) => LIMIT_NAMES[n]).join(", ");

function LaneCell({ run, row, lane }: { run: RunView; row: Row; lane: string }) {
  const point = row.points.get(lane);
  if (!point) return <span className="text-ink-3">not steady</span>;
  const opens = (name: string) => ({
    figure: "point",
    run: String(run.number),
    window: row.number - 1,
    lane,
    name,
  });
  return (
    <>
      <Figure figure={point.efficiency} opens={opens("efficiency")} />{" "}
      <span className="side">
        <Figure figure={point.heat} opens={opens("heat")} />
      </span>
    </>
  );
}

const LIMIT_NAMES = {
  irradiance: "sun",
  irradianceBand: "sun ±",
  ambient: "outside ±",
  modifier: "incidence",
  inlet: "inlet ±",
  flow: "flow ±",
  outlet: "outlet ±",
} as const;
