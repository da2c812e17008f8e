"use client";

import { Download, Grid3x3, Table2 } from "lucide-react";
import { useState, type Dispatch, type SetStateAction } from "react";
import { downloadCsv } from "../download";

const LEFT = 34;
const TOP = 16;

/**
 * Month by hour as a field of cells. Arrow keys walk through it and the cell is read out; the table twin holds the figures.
 * @param shade depth of a cell's colour, 0 to 1
 */
export function HourMap({
  title,
  unit,
  rows,
  values,
  hours: [from, to],
  shade,
  color,
  summary,
  format,
  none = "no sun",
}: {
  title: string;
  unit: string;
  rows: readonly string[];
  /** First and last hour shown. */
  hours: [number, number];
  /** [row][hour]; null: no sun. */
  values: readonly (readonly (number | null)[])[];
  shade: (value: number) => number;
  color: string;
  summary: string;
  format: (value: number) => string;
  /** What an empty cell means. */
  none?: string;
}) {
  const [asTable, setAsTable] = useState(false);
  const [at, setAt] = useState<[number, number]>([0, 12]);
  const hours = Array.from({ length: to - from + 1 }, (_, i) => from + i);
  const W = 26;
  const H = 15;
  const cell = values[at[0]]?.[at[1]] ?? null;
  const text = `${rows[at[0]]}, ${at[1]} to ${at[1] + 1} h: ${cell === null || cell <= 0 ? none : `${format(cell)} ${unit}`}`;
  const onKeyDown = (e: React.KeyboardEvent) => {
    const move: Record<string, [number, number]> = {
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
    };
    const m = move[e.key];
    if (!m) return;
    e.preventDefault();
    setAt(([r, h]) => [Math.max(0, Math.min(rows.length - 1, r + m[0])), Math.max(from, Math.min(to, h + m[1]))]);
  };
  return (
    <figure className="min-w-0">
      <figcaption className="head">
        <h2>{title}</h2>
        <span className="side">{unit}</span>
        <span className="more no-print flex gap-1">
          <button
            type="button"
            className="grid size-7 place-items-center text-action hover:bg-action-wash"
            aria-label={asTable ? "Show as map" : "Show as table"}
            title={asTable ? "Show as map" : "Show as table"}
            onClick={() => setAsTable(!asTable)}
          >
            {asTable ? <Grid3x3 size={14} /> : <Table2 size={14} />}
          </button>
          <button
            type="button"
            className="grid size-7 place-items-center text-action hover:bg-action-wash"
            aria-label="Save as CSV"
            title="Save as CSV"
            onClick={() =>
              void downloadCsv(`${title.toLowerCase().replace(/[^a-z0-9]+/g, "-")}.csv`, [
                ["month", ...Array.from({ length: 24 }, (_, h) => h)],
                ...values.map((r, i) => [rows[i], ...r.map((v) => (v === null ? "" : Number(v.toFixed(1))))]),
              ])
            }
          >
            <Download size={14} />
          </button>
        </span>
      </figcaption>
      {asTable ? (
        <HourTable {...{ title, hours, rows, values, format }} />
      ) : (
        <div
          tabIndex={0}
          role="application"
          aria-label={`${title}. ${summary} Arrow keys read single hours.`}
          onKeyDown={onKeyDown}
        >
          <HourCells {...{ hours, W, rows, H, values, color, shade, setAt, at, from, to }} />
          <p className="side" aria-live="polite">
            {text}
          </p>
        </div>
      )}
    </figure>
  );
}

function HourCells({
  hours,
  W,
  rows,
  H,
  values,
  color,
  shade,
  setAt,
  at,
  from,
  to,
}: {
  hours: number[];
  W: 26;
  rows: readonly string[];
  H: 15;
  values: readonly (readonly (number | null)[])[];
  color: string;
  shade: (value: number) => number;
  setAt: Dispatch<SetStateAction<[number, number]>>;
  at: [number, number];
  from: number;
  to: number;
}) {
  return (
    <svg
      viewBox={`0 0 ${LEFT + hours.length * W} ${TOP + rows.length * H + 2}`}
      className="block h-auto w-full"
      aria-hidden="true"
    >
      {hours.map(
        (h, i) =>
          i % 2 === 0 && (
            <text key={h} x={LEFT + i * W} y={11}>
              {h}
            </text>
          ),
      )}
      {rows.map((name, r) => (
        <g key={name}>
          <text x={0} y={TOP + r * H + 11}>
            {name.slice(0, 3)}
          </text>
          {hours.map((h, i) => {
            const v = values[r][h];
            return (
              <rect
                key={h}
                x={LEFT + i * W}
                y={TOP + r * H}
                width={W - 0.5}
                height={H - 0.5}
                fill={v === null || v <= 0 ? "var(--well)" : color}
                fillOpacity={v === null || v <= 0 ? 0.5 : 0.06 + 0.94 * Math.max(0, Math.min(1, shade(v)))}
                onMouseEnter={() => setAt([r, h])}
              />
            );
          })}
        </g>
      ))}
      {at[1] >= from && at[1] <= to && (
        <rect
          x={LEFT + (at[1] - from) * W}
          y={TOP + at[0] * H}
          width={W - 0.5}
          height={H - 0.5}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="2"
        />
      )}
    </svg>
  );
}

function HourTable({
  title,
  hours,
  rows,
  values,
  format,
}: {
  title: string;
  hours: number[];
  rows: readonly string[];
  values: readonly (readonly (number | null)[])[];
  format: (value: number) => string;
}) {
  return (
    <div className="overflow-auto" tabIndex={0} role="region" aria-label={`${title}, table`}>
      <table className="grid-table text-[12.5px]">
        <thead>
          <tr>
            <th scope="col">month</th>
            {hours.map((h) => (
              <th key={h} scope="col" className="num">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((name, r) => (
            <tr key={name}>
              <th scope="row">{name.slice(0, 3)}</th>
              {hours.map((h) => (
                <td key={h} className="num">
                  {values[r][h] === null || values[r][h]! <= 0 ? "" : format(values[r][h]!)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
