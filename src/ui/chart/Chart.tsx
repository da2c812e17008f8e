"use client";

import { Download, Image as ImageIcon, PenTool, Table2, ChartLine, Maximize2 } from "lucide-react";
import dynamic from "next/dynamic";
import { useMemo, useRef, useState } from "react";
import { IconButton } from "../IconButton";
import { LaneShape } from "../LaneMark";
import { downloadCsv, downloadText, downloadUrl } from "../download";
import type { TableColumn } from "../table/DataTable";
import { chartLabel, type ChartSpec } from "./model";
import type { Pictures } from "./pictures";
import { useWanted } from "./useWanted";

const ChartCanvas = dynamic(() => import("./ChartCanvas"), {
  ssr: false,
  loading: () => (
    <p className="p-4 text-ink-3" role="status">
      Drawing …
    </p>
  ),
});

// A chart is looked at more often than it is read as a table.
const DataTable = dynamic(() => import("../table/DataTable").then((m) => m.DataTable<TwinRow>), { ssr: false });

/** The one chart of Bravel: drawn with its uncertainty, zoomed by drag or keys, with a table twin, PNG and CSV. */
export function Chart({
  spec,
  height = 280,
  range: outer,
  onRange,
  link,
  onDragLine,
  legend = true,
}: {
  spec: ChartSpec;
  height?: number;
  /** Given by a parent that keeps several charts on one range. */
  range?: [number, number] | null;
  onRange?: (range: [number, number] | null) => void;
  link?: string;
  /** A line of the chart was moved, and let go when done. */
  onDragLine?: (index: number, value: number, done: boolean) => void;
  legend?: boolean;
}) {
  const [own, setOwn] = useState<[number, number] | null>(null);
  const [asTable, setAsTable] = useState(false);
  const place = useRef<HTMLElement>(null);
  const wanted = useWanted(place);
  /** Null until it is drawn: there is nothing to save yet. */
  const [pictures, register] = useState<Pictures | null>(null);
  const saveSvg = async () => {
    const svg = await pictures?.svg();
    if (svg) downloadText(`${slug}.svg`, svg, "image/svg+xml");
  };
  const range = outer === undefined ? own : outer;
  const setRange = onRange ?? setOwn;
  const slug = spec.title.toLowerCase().replace(/[^a-z0-9]+/g, "-");
  return (
    <figure ref={place} className="min-w-0">
      <figcaption className="head">
        <h2>{spec.title}</h2>
        {legend && spec.series.filter((s) => s.lane && s.kind !== "points").length > 0 && (
          <span className="flex flex-wrap gap-x-3 text-[12.5px] text-ink-2">
            {[...new Set(spec.series.flatMap((s) => (s.lane ? [s.lane] : [])))].map((lane) => (
              <span key={lane} className="inline-flex items-center gap-1 font-semibold">
                <LaneShape lane={lane} size={11} />
                {lane}
              </span>
            ))}
          </span>
        )}
        <span className="more no-print flex gap-1">
          {range && (
            <IconButton label="Show all" onClick={() => setRange(null)}>
              <Maximize2 size={14} />
            </IconButton>
          )}
          <IconButton label={asTable ? "Show as chart" : "Show as table"} onClick={() => setAsTable(!asTable)}>
            {asTable ? <ChartLine size={14} /> : <Table2 size={14} />}
          </IconButton>
          <IconButton
            label="Save as PNG"
            disabled={!pictures}
            onClick={() => pictures && downloadUrl(pictures.png(), `${slug}.png`)}
          >
            <ImageIcon size={14} />
          </IconButton>
          <IconButton label="Save as SVG" disabled={!pictures} onClick={() => void saveSvg()}>
            <PenTool size={14} />
          </IconButton>
          <IconButton
            label="Save as CSV"
            onClick={() => void downloadCsv(`${slug}.csv`, [spec.table.columns, ...spec.table.rows])}
          >
            <Download size={14} />
          </IconButton>
        </span>
      </figcaption>
      {asTable && <TableTwin spec={spec} height={height} />}
      {!asTable && wanted && (
        <ChartCanvas {...{ spec, range, height, link, onDragLine, register }} onRange={setRange} />
      )}
      {!asTable && !wanted && <div role="img" aria-label={chartLabel(spec)} style={{ height }} />}
      {spec.thinned && <p className="side">{spec.thinned}</p>}
    </figure>
  );
}

type TwinRow = { cells: (string | number)[] };

function TableTwin({ spec, height }: { spec: ChartSpec; height: number }) {
  const columns = useMemo(
    () =>
      spec.table.columns.map((title, k): TableColumn<TwinRow> => ({
        id: `${k}`,
        title,
        value: (r) => r.cells[k],
        number: spec.table.rows.some((r) => typeof r[k] === "number"),
      })),
    [spec.table],
  );
  const rows = useMemo(() => spec.table.rows.map((cells): TwinRow => ({ cells: [...cells] })), [spec.table]);
  const file = spec.title.toLowerCase().replace(/[^a-z0-9]+/g, "-");
  return <DataTable label={`${spec.title}, table`} file={file} columns={columns} rows={rows} height={height} />;
}
