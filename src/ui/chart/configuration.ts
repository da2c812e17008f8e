import {
  Chart as ChartJs,
  type ChartConfiguration,
  type ChartDataset,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  type Plugin,
  Tooltip,
  type TooltipItem,
} from "chart.js";
import type {} from "chartjs-plugin-annotation";
import type {} from "chartjs-plugin-zoom";
import { exact } from "@/words/times";
import type { ChartSeries, ChartSpec } from "./model";
import { timeLabel, timeTicks } from "./ticks";

interface Drawn {
  plusMinus?: number;
  plusMinusX?: number;
}

/** Error bars, drawn under the markers: a bar that touches nothing is still a bar. */
const errorBars: Plugin<"line"> = {
  id: "errorBars",
  beforeDatasetDraw(chart, { index }) {
    const dataset = chart.data.datasets[index];
    if (dataset.showLine) return;
    const { ctx, chartArea } = chart;
    const { x, y } = chart.scales;
    ctx.save();
    ctx.beginPath();
    ctx.rect(chartArea.left, chartArea.top, chartArea.width, chartArea.height);
    ctx.clip();
    ctx.strokeStyle = dataset.backgroundColor as string;
    ctx.globalAlpha = 0.5;
    ctx.lineWidth = 1.2;
    for (const p of dataset.data as unknown as (Drawn & { x: number; y: number })[]) {
      ctx.beginPath();
      if (p.plusMinus) {
        ctx.moveTo(x.getPixelForValue(p.x), y.getPixelForValue(p.y - p.plusMinus));
        ctx.lineTo(x.getPixelForValue(p.x), y.getPixelForValue(p.y + p.plusMinus));
      }
      ctx.stroke();
    }
    ctx.restore();
  },
};

/** One cursor line through all charts of a page that share the x axis. */
const linkedCursor: Plugin<"line"> = {
  id: "linkedCursor",
  afterDraw(chart) {
    const at = (chart as { bravelCursor?: number | null }).bravelCursor;
    if (at === null || at === undefined) return;
    const { ctx, chartArea, scales } = chart;
    const px = scales.x.getPixelForValue(at);
    if (px < chartArea.left || px > chartArea.right) return;
    ctx.save();
    ctx.strokeStyle = token("--ink-3");
    ctx.lineWidth = 1;
    ctx.beginPath();
    ctx.moveTo(px, chartArea.top);
    ctx.lineTo(px, chartArea.bottom);
    ctx.stroke();
    ctx.restore();
  },
};

ChartJs.register(
  LineController,
  ScatterController,
  LineElement,
  PointElement,
  LinearScale,
  Filler,
  Tooltip,
  errorBars,
  linkedCursor,
);

export const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

const POINT_STYLES: Record<
  string,
  {
    pointStyle: "circle" | "rect" | "triangle" | "rectRot" | "cross" | "crossRot" | "line";
    rotation: number;
    border: number;
  }
> = {
  A: { pointStyle: "circle", rotation: 0, border: 1 },
  B: { pointStyle: "rect", rotation: 0, border: 1 },
  C: { pointStyle: "triangle", rotation: 0, border: 1 },
  D: { pointStyle: "rectRot", rotation: 0, border: 1 },
  E: { pointStyle: "triangle", rotation: 180, border: 1 },
  F: { pointStyle: "cross", rotation: 0, border: 3 },
  G: { pointStyle: "line", rotation: 0, border: 4 },
  H: { pointStyle: "crossRot", rotation: 0, border: 3 },
};

/** Thin spaces in thousands and a real minus, as everywhere. */
const plainTick = (v: number | string) =>
  String(Number(Number(v).toPrecision(6)))
    .replace("-", "−")
    .replace(/\B(?=(\d{3})+$)/g, String(v).includes(".") ? "" : "\u2009");

function alpha(color: string, share: number): string {
  return `color-mix(in srgb, ${color} ${Math.round(share * 100)}%, transparent)`;
}

function datasets(series: ChartSeries): ChartDataset<"line">[] {
  const color = token(series.lane ? `--lane-${series.lane.toLowerCase()}` : (series.color ?? "--ink"));
  const style = POINT_STYLES[series.lane ?? "A"];
  const data = series.points.map((p) => ({ ...p })) as unknown as ChartDataset<"line">["data"];
  const base = {
    label: series.label,
    borderColor: color,
    backgroundColor: color,
    spanGaps: false,
    normalized: true,
    parsing: false as const,
  };
  if (series.kind === "points") {
    return [
      {
        ...base,
        data,
        showLine: false,
        pointStyle: style.pointStyle,
        pointRotation: style.rotation,
        pointRadius: 4.5,
        pointHoverRadius: 6.5,
        borderWidth: style.border,
        borderColor: style.border > 1 ? color : token("--ground"),
      },
    ];
  }
  if (series.kind === "band") {
    const edge = (sign: number) =>
      series.points.map((p) => ({
        x: p.x,
        y: p.y + sign * (p.plusMinus ?? 0),
      })) as unknown as ChartDataset<"line">["data"];
    const band = { ...base, borderWidth: 0, pointRadius: 0, pointHoverRadius: 0, showLine: true };
    const opacity = Number(token("--band")) || 0.16;
    return [
      { ...band, label: "", data: edge(-1), fill: false },
      { ...band, label: "", data: edge(1), fill: "-1", backgroundColor: alpha(color, opacity) },
      {
        ...base,
        data,
        showLine: true,
        borderWidth: 2.5,
        pointRadius: 0,
        pointHoverRadius: 0,
        borderDash: series.dashed ? [6, 4] : [],
      },
    ];
  }
  const area = series.kind === "area";
  const line = series.dashed ? 1.4 : 2;
  return [
    {
      ...base,
      data,
      showLine: true,
      borderWidth: area ? 1 : line,
      borderDash: series.dashed ? [5, 4] : [],
      pointRadius: 0,
      pointHoverRadius: 3,
      fill: area ? "origin" : false,
      backgroundColor: area ? alpha(color, 0.6) : color,
      borderColor: area ? token("--sun-ink") : color,
    },
  ];
}

/** A chart as the chart library is told it. */
export function configuration(
  spec: ChartSpec,
  range: [number, number] | null,
  onRange: (range: [number, number] | null) => void,
): ChartConfiguration<"line"> {
  const ink = token("--ink");
  const ink2 = token("--ink-2");
  const hair = token("--hair");
  const font = { family: getComputedStyle(document.body).fontFamily, size: 12 };
  const spanColor = {
    window: alpha(token("--action"), 0.13),
    aside: alpha(token("--doubt-line"), 0.22),
    fault: alpha(token("--doubt-line"), 0.3),
  };
  const spans = spanMarks({ spec, spanColor });
  const lines = lineMarks({ spec, font });
  const zone = spec.x.time?.zone;
  return {
    type: "line",
    data: { datasets: spec.series.flatMap(datasets) },
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      parsing: false,
      interaction: { mode: zone ? "index" : "nearest", intersect: false, axis: zone ? "x" : "xy" },
      scales: {
        x: {
          type: "linear",
          min: range?.[0] ?? spec.x.min,
          max: range?.[1] ?? spec.x.max,
          title: { display: spec.x.title !== "", text: spec.x.title, color: ink, font, align: "end" },
          border: { color: ink, width: 1.5 },
          grid: { color: hair, lineWidth: 0.75 },
          ticks: { color: ink2, font, maxRotation: 0, callback: zone ? (v) => timeLabel(Number(v), zone) : plainTick },
          afterBuildTicks: zone
            ? (axis) => {
                axis.ticks = timeTicks(axis.min, axis.max, zone, Math.max(3, Math.floor(axis.width / 80))).map(
                  (value) => ({ value }),
                );
              }
            : undefined,
        },
        y: {
          type: "linear",
          min: spec.y.min,
          max: spec.y.max,
          title: { display: true, text: spec.y.title, color: ink, font },
          border: { color: ink, width: 1.5 },
          grid: { color: hair, lineWidth: 0.75 },
          ticks: { color: ink2, font, callback: plainTick, maxTicksLimit: 8 },
          afterFit: zone
            ? (axis) => {
                axis.width = 64;
              }
            : undefined,
        },
      },
      plugins: {
        legend: { display: false },
        // Off where there is nothing to mark: the plugin may come, for another chart, after this one was made.
        annotation: (marked(spec) && { annotations: Object.fromEntries([...spans, ...lines]) }) as object,
        tooltip: {
          backgroundColor: token("--sheet"),
          titleColor: ink,
          bodyColor: ink,
          borderColor: ink,
          borderWidth: 1,
          cornerRadius: 2,
          titleFont: font,
          bodyFont: font,
          usePointStyle: true,
          filter: (item: TooltipItem<"line">) => item.dataset.label !== "",
          callbacks: {
            title: (items) => (zone && items[0] ? exact(items[0].parsed.x ?? 0, zone) : ""),
            label: (item) => {
              const p = item.raw as Drawn & { y: number };
              return `${item.dataset.label}: ${Number(p.y.toPrecision(4))}${p.plusMinus ? ` ± ${Number(p.plusMinus.toPrecision(2))}` : ""}`;
            },
          },
        },
        zoom: {
          zoom: {
            drag: { enabled: true, backgroundColor: alpha(token("--action"), 0.2), threshold: 8 },
            mode: "x",
            onZoomComplete: ({ chart }) => onRange([chart.scales.x.min, chart.scales.x.max]),
          },
          pan: { enabled: false },
        },
      },
    },
  };
}

function lineMarks({ spec, font }: { spec: ChartSpec; font: { family: string; size: number } }) {
  const lines = (spec.lines ?? []).map(
    (l, i) =>
      [
        `line${i}`,
        {
          type: "line" as const,
          ...(l.y === undefined ? { xMin: l.x, xMax: l.x } : { yMin: l.y, yMax: l.y }),
          borderColor: token("--action"),
          borderWidth: 2,
          label: {
            display: l.label !== "",
            content: l.drag ? `${l.label} ${l.y === undefined ? "↔" : "↕"}` : l.label,
            position: l.y === undefined ? ("end" as const) : ("start" as const),
            backgroundColor: token("--sheet"),
            color: token("--action"),
            font: { ...font, weight: "bold" as const },
            padding: 3,
            xAdjust: 0,
            yAdjust: l.y === undefined ? -2 : -9,
          },
        },
      ] as const,
  );
  return lines;
}

function spanMarks({
  spec,
  spanColor,
}: {
  spec: ChartSpec;
  spanColor: { window: string; aside: string; fault: string };
}) {
  const spans = (spec.spans ?? []).map(
    (s, i) =>
      [
        `span${i}`,
        {
          type: "box" as const,
          xMin: s.from,
          xMax: s.to,
          backgroundColor: spanColor[s.kind],
          borderWidth: 0,
          drawTime: "beforeDatasetsDraw" as const,
        },
      ] as const,
  );
  return spans;
}

/** Has spans or lines, which a plugin draws. */
export const marked = ({ spans, lines }: ChartSpec): boolean => Boolean(spans?.length || lines?.length);
