"use client";

import { Download, PenTool, Table2, ChartColumn } from "lucide-react";
import { useRef, useState } from "react";
import { formatNumber } from "@/core/quantity/format";
import type { MonthShares } from "@/core/season/season";
import { downloadCsv, downloadSvg } from "@/ui/download";
import { IconButton } from "@/ui/IconButton";
import { MONTH_NAMES } from "@/words/plan";

/** What became of the heat, in the order it is stacked; what is missing stands beside. */
const SHARES = ["useful", "stored", "surplus", "vented", "missing"] as const;
type Share = (typeof SHARES)[number];

const SHARE_WORDS: Record<Share, string> = {
  useful: "useful",
  stored: "kept or lost in the store",
  surplus: "warmer than asked",
  vented: "let out",
  missing: "still missing",
};

const W = 760;
const H = 236;
const LEFT = 44;
const FOOT = 34;

const FILL: Record<Share, string> = {
  useful: "var(--action)",
  stored: "url(#store-hatch)",
  surplus: "var(--sun)",
  vented: "url(#vent-hatch)",
  missing: "none",
};

interface Months {
  months: readonly MonthShares[];
  monthSd: readonly number[];
  /** kWh the use lacks without boxes. */
  need: readonly number[];
}

const COLUMNS = [
  "month",
  ...SHARES.map((s) => `${SHARE_WORDS[s]}, kWh`),
  "± of useful (95 %)",
  "need without boxes, kWh",
  "fan, kWh",
];

const rowsOf = ({ months, monthSd, need }: Months) =>
  months.map((m, i) => [
    MONTH_NAMES[i],
    ...SHARES.map((s) => Number(m[s].toFixed(1))),
    Number((1.96 * monthSd[i]).toFixed(1)),
    Number(need[i].toFixed(1)),
    Number(m.fan.toFixed(2)),
  ]);

/** Twelve months of heat: what was useful, what went elsewhere, and what something else must still bring. */
export function MonthBars({ title, ...data }: Months & { title: string }) {
  const [asTable, setAsTable] = useState(false);
  const [at, setAt] = useState(0);
  const svg = useRef<SVGSVGElement>(null);
  const slug = title.toLowerCase().replace(/[^a-z0-9]+/g, "-");
  const onKeyDown = (e: React.KeyboardEvent) => {
    const move = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
    if (!move) return;
    e.preventDefault();
    setAt((m) => Math.max(0, Math.min(11, m + move)));
  };
  return (
    <figure className="min-w-0">
      <figcaption className="head">
        <h2>{title}</h2>
        <Legend />
        <span className="more no-print flex gap-1">
          <IconButton label={asTable ? "Show as bars" : "Show as table"} onClick={() => setAsTable(!asTable)}>
            {asTable ? <ChartColumn size={14} /> : <Table2 size={14} />}
          </IconButton>
          <IconButton label="Save as SVG" onClick={() => svg.current && downloadSvg(svg.current, `${slug}.svg`)}>
            <PenTool size={14} />
          </IconButton>
          <IconButton label="Save as CSV" onClick={() => void downloadCsv(`${slug}.csv`, [COLUMNS, ...rowsOf(data)])}>
            <Download size={14} />
          </IconButton>
        </span>
      </figcaption>
      {asTable ? (
        <MonthTable title={title} data={data} />
      ) : (
        <div
          tabIndex={0}
          role="application"
          aria-label={`${title}. Arrow keys read single months.`}
          onKeyDown={onKeyDown}
        >
          <Bars ref={svg} {...data} at={at} setAt={setAt} />
          <p className="side" aria-live="polite">
            {describe(at, data.months[at], data.monthSd[at])}
          </p>
        </div>
      )}
    </figure>
  );
}

const Legend = () => (
  <span className="flex flex-wrap gap-x-3 text-[12.5px] text-ink-2">
    {SHARES.map((s) => (
      <span key={s} className="inline-flex items-center gap-1">
        <svg width="12" height="12" aria-hidden>
          <rect
            x="0.75"
            y="0.75"
            width="10.5"
            height="10.5"
            fill={FILL[s]}
            stroke="var(--ink)"
            strokeWidth="1.2"
            strokeDasharray={s === "missing" ? "2 2" : undefined}
          />
        </svg>
        {SHARE_WORDS[s]}
      </span>
    ))}
  </span>
);

function MonthTable({ title, data }: { title: string; data: Months }) {
  return (
    <div className="overflow-auto" tabIndex={0} role="region" aria-label={`${title}, table`}>
      <table className="grid-table text-[13px]">
        <thead>
          <tr>
            {COLUMNS.map((c, i) => (
              <th key={c} scope="col" className={i ? "num" : undefined}>
                {c}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rowsOf(data).map(([month, ...figures]) => (
            <tr key={month}>
              <th scope="row">{month}</th>
              {figures.map((v, i) => (
                <td key={i} className="num">
                  {formatNumber(v as number, 0)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const describe = (month: number, m: MonthShares, sd: number): string =>
  `${MONTH_NAMES[month]}: ${formatNumber(m.useful, 0)}${sd > 0 ? ` ± ${formatNumber(1.96 * sd, 0)}` : ""} kWh useful` +
  SHARES.slice(1)
    .filter((s) => Math.abs(m[s]) >= 0.5)
    .map((s) => `, ${formatNumber(m[s], 0)} ${SHARE_WORDS[s]}`)
    .join("") +
  ".";

/** Tick distance that gives four or five lines. */
function tick(top: number): number {
  const raw = top / 4;
  const ten = 10 ** Math.floor(Math.log10(Math.max(1e-9, raw)));
  return [1, 2, 5, 10].map((n) => n * ten).find((s) => s >= raw)!;
}

const PITCH = (W - LEFT) / 12;

/** How far the axis reaches: a winter's need may dwarf what boxes bring, and is cut with an arrow then. */
function axisOf(months: readonly MonthShares[]): { top: number; step: number } {
  const height = (m: MonthShares) => SHARES.slice(0, 4).reduce((s, k) => s + Math.max(0, m[k]), 0);
  const most = Math.max(1, ...months.map((m) => Math.max(height(m), m.missing)));
  const brought = Math.max(1, ...months.map(height));
  const step = tick(Math.min(most, 2.2 * brought));
  return { step, top: Math.ceil(Math.min(most, 2.2 * brought) / step) * step };
}

function Bars({
  ref,
  months,
  monthSd,
  at,
  setAt,
}: {
  ref: React.Ref<SVGSVGElement>;
  months: readonly MonthShares[];
  monthSd: readonly number[];
  at: number;
  setAt: (m: number) => void;
}) {
  const { top, step } = axisOf(months);
  const y = (v: number) => H - FOOT - (Math.min(v, top) / top) * (H - FOOT - 24);
  return (
    <svg ref={ref} viewBox={`0 0 ${W} ${H}`} width={W} height={H} className="block h-auto w-full" aria-hidden="true">
      <defs>
        <pattern id="store-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" fill="var(--sheet)" />
          <line x1="0" y1="0" x2="0" y2="6" stroke="var(--action)" strokeWidth="3.4" />
        </pattern>
        <pattern id="vent-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <rect width="6" height="6" fill="var(--doubt-fill)" />
          <line x1="0" y1="0" x2="0" y2="6" stroke="var(--doubt-line)" strokeWidth="2.4" />
        </pattern>
      </defs>
      {Array.from({ length: Math.round(top / step) + 1 }, (_, i) => i * step).map((v) => (
        <g key={v}>
          <line x1={LEFT} x2={W} y1={y(v)} y2={y(v)} stroke="var(--hair)" strokeWidth="0.75" />
          <text x={LEFT - 6} y={y(v) + 4} textAnchor="end" fontSize="12" fill="var(--ink-2)">
            {formatNumber(v, 0)}
          </text>
        </g>
      ))}
      <text x={LEFT - 6} y={y(top) - 7} textAnchor="end" fontSize="12" fill="var(--ink)">
        kWh
      </text>
      {months.map((m, i) => (
        <g key={i} onMouseEnter={() => setAt(i)}>
          {at === i && (
            <rect x={LEFT + i * PITCH} y={6} width={PITCH} height={H - FOOT - 6} fill="var(--well)" opacity="0.7" />
          )}
          <Month month={i} shares={m} sd={monthSd[i]} y={y} top={top} />
        </g>
      ))}
      <line x1={LEFT} x2={W} y1={y(0)} y2={y(0)} stroke="var(--ink)" strokeWidth="1.5" />
    </svg>
  );
}

function Month({
  month,
  shares: m,
  sd,
  y,
  top,
}: {
  month: number;
  shares: MonthShares;
  sd: number;
  y: (v: number) => number;
  top: number;
}) {
  const x = LEFT + month * PITCH + 5;
  const wide = PITCH - 20;
  const middle = x + wide / 2;
  const stack = SHARES.slice(0, 4).map((s) => ({ s, v: Math.max(0, m[s]) }));
  const from = (k: number) => stack.slice(0, k).reduce((sum, part) => sum + part.v, 0);
  return (
    <>
      {stack.map(({ s, v }, k) =>
        v > 0.05 ? (
          <rect
            key={s}
            x={x}
            width={wide}
            y={y(from(k + 1))}
            height={Math.max(0, y(from(k)) - y(from(k + 1)))}
            fill={FILL[s]}
            stroke="var(--ink)"
            strokeWidth="0.9"
          />
        ) : null,
      )}
      <Missing x={x + wide + 2} kwh={m.missing} y={y} top={top} />
      {/* On a light edge, so that it is seen on the dark bar too. */}
      {sd > 0 &&
        [4.2, 1.8].map((width) => (
          <line
            key={width}
            x1={middle}
            x2={middle}
            y1={y(Math.max(0, m.useful - 1.96 * sd))}
            y2={y(m.useful + 1.96 * sd)}
            stroke={width > 3 ? "var(--sheet)" : "var(--ink)"}
            strokeWidth={width}
          />
        ))}
      <text x={middle + 3} y={H - FOOT + 15} textAnchor="middle" fontSize="12" fill="var(--ink)">
        {MONTH_NAMES[month].slice(0, 3)}
      </text>
      <text x={middle + 3} y={H - 5} textAnchor="middle" fontSize="11.5" fill="var(--ink-2)">
        {formatNumber(m.useful, 0)}
      </text>
    </>
  );
}

/** What something else must bring, beside the bar; cut with an arrow where the axis ends. */
function Missing({ x, kwh, y, top }: { x: number; kwh: number; y: (v: number) => number; top: number }) {
  if (kwh <= 0.5) return null;
  return (
    <g fill="none" stroke="var(--ink)">
      <rect x={x} width={7} y={y(kwh)} height={y(0) - y(kwh)} strokeDasharray="3 3" strokeWidth="1.1" />
      {kwh > top && <path d={`M${x} 22l3.5 -6l3.5 6`} strokeWidth="1.2" />}
    </g>
  );
}
