"use client";

import type { ExperimentView } from "@/services/page/views";
import { Interval, scaleOver } from "@/ui/Interval";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { moreShare, ratioWords, UNIT_WORDS } from "@/words/judge";
import { Head } from "@/ui/Head";

interface Row {
  a: string;
  b: string;
  unit: keyof typeof UNIT_WORDS;
  value: number;
  low: number;
  high: number;
  spans: number;
  days: number;
}

/** Lanes side by side as they were: no curve, no sun and no operating point is needed for it. */
export function Tested({ view }: { view: ExperimentView }) {
  if (!view.tested) return null;
  const rows = rowsOf(view.tested);
  const inTurn = view.way === "tested" && view.pairs.some((p) => p.inTurn);
  const { min, max, step } = scaleOver(
    Math.min(0, ...rows.map((r) => percent(r.low))),
    Math.max(0, ...rows.map((r) => percent(r.high))),
  );
  const columns = columnsOn(min, max, step);
  return (
    <section aria-labelledby="tested">
      <Head
        id="tested"
        title="As tested"
        side={
          <>
            heat per {view.head.settings.areaBasis} area,{" "}
            {inTurn ? "one after another, brought to one condition" : "side by side, nothing moved"}
          </>
        }
      />
      <DataTable label="Heat ratios as tested" file="as-tested" columns={columns} rows={rows} />
      <p className="side mt-1">
        {inTurn
          ? "Each window’s heat is taken over its own sun and moved to the mean temperatures of all; days count alike."
          : "Each span is compared with its own level, so the sun’s changes drop out; no sun sensor is needed."}
        {view.tested.by.length > 1 &&
          " They should agree: where hours and windows do not, heat is stored or a span was disturbed."}
      </p>
    </section>
  );
}

const percent = (ratio: number) => 100 * (ratio - 1);

const columnsOn = (min: number, max: number, step: number): TableColumn<Row>[] => [
  {
    id: "lanes",
    title: "lanes",
    rowHeader: true,
    place: "whitespace-nowrap",
    value: (r) => `${r.a} over ${r.b}`,
    cell: (r) => (
      <>
        <LaneMark lane={r.a} size={12} /> <span className="text-ink-3">over</span> <LaneMark lane={r.b} size={12} />
      </>
    ),
  },
  { id: "unit", title: "paired by", value: (r) => UNIT_WORDS[r.unit][0] },
  {
    id: "interval",
    title: "low, %",
    heading: <span className="sr-only">interval</span>,
    sorts: false,
    place: "min-w-[150px]",
    value: (r) => percent(r.low),
    cell: (r) => (
      <Interval
        value={percent(r.value)}
        half={(percent(r.high) - percent(r.low)) / 2}
        {...{ min, max, step }}
        zero
        width={140}
      />
    ),
  },
  {
    id: "more",
    title: "more heat per area, %",
    heading: "more heat (95 %)",
    number: true,
    value: (r) => percent(r.value),
    cell: (r) => (
      <span title={moreShare(r.value)}>
        <b className="font-semibold">{ratioWords(r)}</b>
      </span>
    ),
  },
  {
    id: "spans",
    title: "spans",
    number: true,
    value: (r) => r.spans,
    cell: (r) => (
      <>
        {r.spans}
        <span className="side"> / {r.days} d</span>
      </>
    ),
  },
];

/** The warmer lane first, so that every bar points right. */
const rowsOf = (tested: NonNullable<ExperimentView["tested"]>): Row[] =>
  tested.by
    .flatMap(({ unit, pairs }) =>
      pairs.map(({ a, b, ratio, low, high, spans, days }): Row =>
        ratio >= 1
          ? { a, b, unit, value: ratio, low, high, spans, days }
          : { a: b, b: a, unit, value: 1 / ratio, low: 1 / high, high: 1 / low, spans, days },
      ),
    )
    .sort((x, y) => `${x.a}${x.b}`.localeCompare(`${y.a}${y.b}`));
