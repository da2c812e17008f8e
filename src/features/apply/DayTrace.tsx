"use client";

import { Download } from "lucide-react";
import { useMemo, useState } from "react";
import type { Trace } from "@/core/season/account";
import { monthOfHour, MONTH_DAYS, SEASON_YEAR, standardOffset } from "@/core/season/weather";
import { displayUnit, fromSi } from "@/core/quantity/quantities";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { downloadCsv } from "@/ui/download";
import { usePreferences } from "@/ui/preferences";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

const HOUR = 3600000;

/** Any three days of the year as they ran: temperatures above, flows of heat below. */
export function DayTrace({ trace, zone }: { trace: Trace; zone: string }) {
  const [day, setDay] = useState(20);
  const { system } = usePreferences();
  const start = Date.UTC(SEASON_YEAR, 0, 1) - standardOffset(zone);
  const date = new Date(Date.UTC(SEASON_YEAR, 0, 1 + day)).toISOString().slice(0, 10);
  const [temperatures, flows] = useMemo(
    () => specs(trace, day, start, zone, system),
    [trace, day, start, zone, system],
  );
  return (
    <section aria-labelledby="day-trace" className="min-w-0">
      <Head id="day-trace" title="Three days as they ran">
        <span className="more flex items-center gap-2">
          <TextField
            label="From"
            name="Trace from"
            width="inline-block w-[150px]"
            type="date"
            min={`${SEASON_YEAR}-01-01`}
            max={`${SEASON_YEAR}-12-29`}
            value={date}
            onChange={(v) => {
              const at = Date.parse(v);
              if (Number.isFinite(at))
                setDay(Math.max(0, Math.min(362, Math.round((at - Date.UTC(SEASON_YEAR, 0, 1)) / (24 * HOUR)))));
            }}
          />
          <input
            type="range"
            className="h-7 accent-[var(--action)]"
            aria-label="Day of the year"
            min={0}
            max={362}
            value={day}
            onChange={(e) => setDay(Number(e.target.value))}
          />
          <Button onClick={() => void downloadCsv("season-hours.csv", hoursCsv(trace))}>
            <Download size={14} aria-hidden /> Hours
          </Button>
        </span>
      </Head>
      <Chart spec={temperatures} height={170} legend={false} />
      <Chart spec={flows} height={150} legend={false} />
      <p className="side">
        {trace.storeC.some((t) => !Number.isNaN(t)) ? "Box, use and store; " : "Box and use; "}days of a year made of
        the climate’s months, not of one that was.
      </p>
    </section>
  );
}

type Line = ChartSpec["series"][number];

/** Rows of a trace as lines of a chart. */
const liner =
  (from: number, start: number) =>
  (values: Float32Array, label: string, color: string, of: (v: number) => number, dashed = false): Line => ({
    label,
    color,
    dashed,
    kind: "line",
    points: Array.from({ length: 72 }, (_, i) => ({ x: start + (from + i + 0.5) * HOUR, y: of(values[from + i]) })),
  });

const table = (series: readonly Line[], unit: string): ChartSpec["table"] => ({
  columns: ["hour", ...series.map((s) => `${s.label}, ${unit}`)],
  rows: (series[0]?.points ?? []).map((p, i) => [
    new Date(p.x).toISOString().slice(0, 13),
    ...series.map((s) => Number(s.points[i].y.toPrecision(4))),
  ]),
});

const highest = (s: Line) => Math.max(...s.points.map((p) => p.y));
const lowest = (s: Line) => Math.min(...s.points.map((p) => p.y));

function specs(
  trace: Trace,
  day: number,
  start: number,
  zone: string,
  system: "metric" | "us",
): [ChartSpec, ChartSpec] {
  const from = day * 24;
  const degrees = displayUnit("temperature", system);
  const line = liner(from, start);
  const t = (v: number) => fromSi(v, degrees);
  const kw = (v: number) => v / 1000;
  const warm = [
    line(trace.boxC, "box", "--lane-b", t),
    ...(Number.isNaN(trace.useC[from]) ? [] : [line(trace.useC, "room", "--ink", t)]),
    ...(Number.isNaN(trace.storeC[from]) ? [] : [line(trace.storeC, "store", "--action", t, true)]),
  ];
  const heat = [
    line(trace.toUse, "to the use", "--action", kw),
    line(trace.toStore, "to the store", "--action", kw, true),
    line(trace.missing, "other heat", "--ink-3", kw),
    line(trace.vented, "let out", "--doubt-line", kw, true),
  ].filter((s) => s.points.some((p) => Math.abs(p.y) > 1e-4));
  const x = { title: "", min: start + from * HOUR, max: start + (from + 72) * HOUR, time: { zone } };
  const unit = degrees.symbol;
  return [
    {
      title: "Temperatures",
      summary: warm
        .map((s) => `${s.label} from ${Math.round(lowest(s))} to ${Math.round(highest(s))} ${unit}`)
        .join("; "),
      x,
      y: { title: unit },
      series: warm,
      table: table(warm, unit),
    },
    {
      title: "Heat",
      summary: heat.map((s) => `${s.label} up to ${highest(s).toFixed(1)} kW`).join("; "),
      x,
      y: { title: "kW", min: 0 },
      series: heat,
      table: table(heat, "kW"),
    },
  ];
}

/** The year by hours. */
export function hoursCsv(trace: Trace): (string | number)[][] {
  const columns = ["boxC", "useC", "storeC", "collected", "toUse", "toStore", "missing", "vented", "running"] as const;
  const number = (v: number) => (Number.isNaN(v) ? "" : Number(v.toFixed(2)));
  let [day, left] = [0, 0];
  return [
    [
      "month",
      "day",
      "hour",
      "box °C",
      "use °C",
      "store °C",
      "collected W",
      "to use W",
      "to store W",
      "missing W",
      "let out W",
      "fan share",
    ],
    ...Array.from(monthOfHour, (m, h) => {
      if (h % 24 === 0) {
        day = left === 0 ? 1 : day + 1;
        left = left === 0 ? MONTH_DAYS[m] - 1 : left - 1;
      }
      return [m + 1, day, h % 24, ...columns.map((c) => number(trace[c][h]))];
    }),
  ];
}
