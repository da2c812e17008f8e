"use client";

import type { LiveTrace } from "@/services/live/view";
import { laneColor } from "@/ui/LaneMark";

const W = 200;
const H = 84;

/** All lanes share one scale, so that rises can be compared across. */
export function traceScale(trace: LiveTrace): { low: number; high: number } {
  const all = trace.lanes.flatMap((l) => [...l.inlet, ...l.outlet]).filter((v): v is number => v !== null);
  if (!all.length) return { low: 0, high: 50 };
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const pad = Math.max(1, (high - low) * 0.08);
  return { low: Math.floor((low - pad) / 5) * 5, high: Math.ceil((high + pad) / 5) * 5 };
}

/** In and out of one lane over the last half hour; what lies between them is the rise. */
export function LaneTrace({ trace, letter }: { trace: LiveTrace; letter: string }) {
  const own = trace.lanes.find((l) => l.letter === letter);
  const { low, high } = traceScale(trace);
  if (!own) return null;
  const n = Math.max(2, own.outlet.length);
  const x = (i: number) => (i / (n - 1)) * W;
  const y = (v: number) => H - ((v - low) / (high - low)) * H;
  const minutes = Math.round((n * trace.stepMs) / 60_000);
  const ticks = [low, (low + high) / 2, high];
  return (
    <svg
      viewBox={`-26 -4 ${W + 28} ${H + 8}`}
      className="block h-24 w-full"
      role="img"
      aria-label={`${letter}, in and out over the last ${minutes} min, from ${low} to ${high} °C`}
    >
      {ticks.map((t) => (
        <g key={t}>
          <path d={`M0 ${y(t)}H${W}`} stroke="var(--hair)" strokeWidth="0.75" />
          <text x="-4" y={y(t) + 4} textAnchor="end" style={{ fontSize: 10 }}>
            {Math.round(t)}
          </text>
        </g>
      ))}
      <path d={band(own.inlet, own.outlet, x, y)} fill={laneColor(letter)} opacity="var(--band)" />
      <path d={line(own.outlet, x, y)} fill="none" stroke={laneColor(letter)} strokeWidth="2.5" />
      <path d={line(own.inlet, x, y)} fill="none" stroke={laneColor(letter)} strokeWidth="1.5" strokeDasharray="4 3" />
    </svg>
  );
}

type Scale = (v: number) => number;

/** Gaps are drawn as gaps. */
function line(values: readonly (number | null)[], x: Scale, y: Scale): string {
  let pen = false;
  return values
    .map((v, i) => {
      if (v === null) {
        pen = false;
        return "";
      }
      const command = pen ? "L" : "M";
      pen = true;
      return `${command}${x(i).toFixed(1)} ${y(v).toFixed(1)}`;
    })
    .join("");
}

function band(low: readonly (number | null)[], high: readonly (number | null)[], x: Scale, y: Scale): string {
  const pieces: string[] = [];
  let from = -1;
  for (let i = 0; i <= high.length; i++) {
    const both = i < high.length && high[i] !== null && low[i] !== null && low[i] !== undefined;
    if (both && from < 0) from = i;
    if (!both && from >= 0) {
      const up = Array.from(
        { length: i - from },
        (_, k) => `${x(from + k).toFixed(1)} ${y(high[from + k]!).toFixed(1)}`,
      );
      const down = Array.from(
        { length: i - from },
        (_, k) => `${x(i - 1 - k).toFixed(1)} ${y(low[i - 1 - k]!).toFixed(1)}`,
      );
      pieces.push(`M${up.join("L")}L${down.join("L")}Z`);
      from = -1;
    }
  }
  return pieces.join("");
}
