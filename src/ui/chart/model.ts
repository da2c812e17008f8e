/** What a chart is told. X is a number: a quantity, or UTC milliseconds on a time axis. */
export interface ChartSeries {
  label: string;
  /** Lane letter gives colour and marker; without it `color` is a token name such as `--sun`. */
  lane?: string;
  color?: string;
  kind: "line" | "points" | "band" | "area";
  dashed?: boolean;
  points: readonly ChartPoint[];
}

export interface ChartPoint {
  x: number;
  y: number;
  /** Half-length of the error bar, or half-width of the band. */
  plusMinus?: number;
  /** Half-length of the horizontal error bar. */
  plusMinusX?: number;
}

export interface ChartSpan {
  from: number;
  to: number;
  kind: "window" | "aside" | "fault";
}

/** A line across the chart at an x, or at a y. */
export interface ChartLine {
  x?: number;
  y?: number;
  label: string;
  /** Moved by hand; there is another way to do the same for those who have none. */
  drag?: boolean;
}

export interface ChartAxis {
  title: string;
  min?: number;
  max?: number;
}

export interface ChartSpec {
  title: string;
  /** Text alternative: what one sees in it. */
  summary: string;
  x: ChartAxis & { time?: { zone: string } };
  y: ChartAxis;
  series: readonly ChartSeries[];
  spans?: readonly ChartSpan[];
  lines?: readonly ChartLine[];
  /** Said under the chart when points are means of several readings. */
  thinned?: string;
  table: { columns: string[]; rows: (string | number)[][] };
}

/** What a chart says to those who do not see it. */
export const chartLabel = (spec: ChartSpec): string =>
  `${spec.title}. ${spec.summary} Keys: arrows move, plus and minus zoom, 0 shows all.`;
