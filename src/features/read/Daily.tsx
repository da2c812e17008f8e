"use client";

import { quantityText } from "@/core/quantity/format";
import type { DayHeatView, ExperimentView } from "@/services/page/views";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/Working";
import { usePreferences } from "@/ui/preferences";
import { HOUR_WORDS } from "@/words/judge";
import { Head } from "@/ui/Head";

interface Row {
  day: string;
  run: string;
  lanes: Map<string, DayHeatView>;
  any: DayHeatView;
}

/** What each lane gave day by day, over the time all of them were known: needs no steady sun. */
export function Daily({ view }: { view: ExperimentView }) {
  const { system } = usePreferences();
  const rows = rowsOf(view.daily);
  if (rows.length === 0) return null;
  const letters = [...new Set(view.daily.map((d) => d.lane))].sort();
  const most = Math.max(...view.daily.map((d) => d.energy.si));
  const sums = letters.map((lane) => ({
    lane,
    energy: view.daily.filter((d) => d.lane === lane).reduce((s, d) => s + d.energy.si, 0),
  }));
  const columns = columnsOf(letters, most);
  const aside = Object.entries(view.hoursSetAside) as [keyof typeof HOUR_WORDS, number][];
  return (
    <section aria-labelledby="daily" className="min-w-0 xl:col-span-2">
      <Head
        id="daily"
        title="Heat per day"
        side="between sunrise and sunset, while every lane was known; peak of ten minutes below"
      />
      <DataTable label="Heat of each day" file="heat-per-day" columns={columns} rows={rows} minWidth={520} />
      <p className="side mt-1">
        In all:{" "}
        {sums.map(({ lane, energy }, i) => (
          <span key={lane}>
            {i ? ", " : ""}
            {lane} {quantityText(energy, "energy", { system, figures: 3 })}
          </span>
        ))}
        .
        {view.dailyLines.map((l) => (
          <span key={l.lane}>
            {" "}
            {l.lane} keeps {(100 * l.slope).toFixed(0)} ± {(100 * l.slopeExpanded).toFixed(0)}
            {"\u2009"}% of a day’s sun less{" "}
            {quantityText(l.loss, "energyPerArea", { system, expanded: l.lossExpanded })}.
          </span>
        ))}
        {aside.length > 0 && (
          <> Hours not compared: {aside.map(([why, n]) => `${n} (${HOUR_WORDS[why]})`).join(", ")}.</>
        )}
      </p>
    </section>
  );
}

const columnsOf = (letters: readonly string[], most: number): TableColumn<Row>[] => [
  { id: "day", title: "day", rowHeader: true, value: (r) => r.day, place: "whitespace-nowrap" },
  { id: "run", title: "run", number: true, value: (r) => Number(r.run) },
  {
    id: "hours",
    title: "hours",
    number: true,
    value: (r) => r.any.hours,
    cell: (r) => r.any.hours.toFixed(1),
  },
  {
    id: "sun",
    title: "sun, J/m²",
    heading: "sun in plane",
    number: true,
    value: (r) => r.any.irradiation?.si ?? null,
    cell: (r) => (r.any.irradiation ? <Figure figure={r.any.irradiation} /> : "–"),
  },
  ...letters.map((lane): TableColumn<Row> => ({
    id: `lane-${lane}`,
    title: `${lane}, J`,
    heading: <LaneMark lane={lane} size={11} />,
    number: true,
    value: (r) => r.lanes.get(lane)?.energy.si ?? null,
    cell: (r) => <Heat day={r.lanes.get(lane)} most={most} />,
  })),
];

function Heat({ day, most }: { day: DayHeatView | undefined; most: number }) {
  const { system } = usePreferences();
  if (!day) return <span className="text-ink-3">–</span>;
  return (
    <>
      <Figure figure={day.energy} />
      <span className="side block">{quantityText(day.peakW, "power", { system, figures: 3 })}</span>
      <span
        aria-hidden
        className="mt-0.5 ml-auto block h-1.5"
        style={{
          width: `${Math.max(0, (100 * day.energy.si) / most)}%`,
          background: `var(--lane-${day.lane.toLowerCase()})`,
        }}
      />
      {day.stoppedMinutes > 5 && <span className="text-doubt">no flow {Math.round(day.stoppedMinutes)} min</span>}
    </>
  );
}

function rowsOf(daily: readonly DayHeatView[]): Row[] {
  const rows = new Map<string, Row>();
  for (const d of daily) {
    const key = `${d.day}/${d.run}`;
    const row = rows.get(key) ?? { day: d.day, run: d.run, lanes: new Map(), any: d };
    row.lanes.set(d.lane, d);
    rows.set(key, row);
  }
  return [...rows.values()].sort((a, b) => a.day.localeCompare(b.day) || Number(a.run) - Number(b.run));
}
