"use client";

import type { ReadingView } from "@/services/read/readingView";
import type { ExperimentView, RunView } from "@/services/page/views";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/Working";
import { HOUR_WORDS } from "@/words/judge";
import { clock } from "@/words/times";
import { Head } from "@/ui/Head";

/** What was read by hand in a run, row by row: each is a point with its own ±. */
export function Readings({ view, run }: { view: ExperimentView; run: RunView }) {
  const rows = view.readings.filter((r) => r.run === String(run.number));
  const alone = view.hoursSetAside.alone;
  return (
    <section aria-labelledby="readings" className="min-w-0">
      <Head
        id="readings"
        title={<>Read by hand in run {run.number}</>}
        side="each row is a point; rounds of them are compared"
      />
      <DataTable
        label={`Readings of run ${run.number}`}
        file={`readings-run-${run.number}`}
        columns={columnsOf(view)}
        rows={rows}
        minWidth={560}
      />
      {alone && (
        <p className="side mt-1">
          {alone} not compared: {HOUR_WORDS.alone}.
        </p>
      )}
    </section>
  );
}

const COLUMNS = [
  ["inlet", "in"],
  ["outlet", "out"],
  ["rise", "rise"],
  ["massFlow", "flow"],
  ["heat", "heat"],
] as const;

const columnsOf = (view: ExperimentView): TableColumn<ReadingView>[] => [
  {
    id: "when",
    title: "when",
    rowHeader: true,
    place: "whitespace-nowrap",
    value: (r) => new Date(r.startMs).toISOString(),
    cell: (r) => clock(r.startMs, view.head.site.zone),
  },
  { id: "lane", title: "lane", value: (r) => r.lane, cell: (r) => <LaneMark lane={r.lane} size={12} /> },
  ...COLUMNS.map(([name, title]): TableColumn<ReadingView> => ({
    id: name,
    title,
    number: true,
    value: (r) => r[name].si,
    cell: (r) => <Figure figure={r[name]} />,
  })),
  ...(view.readings.some((r) => r.efficiency)
    ? [
        {
          id: "efficiency",
          title: "efficiency",
          number: true,
          value: (r) => r.efficiency?.si ?? null,
          cell: (r) => (r.efficiency ? <Figure figure={r.efficiency} /> : "–"),
        } satisfies TableColumn<ReadingView>,
      ]
    : []),
];
