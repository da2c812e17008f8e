"use client";

import type { PlanDay } from "@/core/plan/dayPlan";
import type { DaySample } from "@/core/plan/daySky";
import { shadeSpans, skyBands } from "@/ui/SunStrip";
import { timeOfDay, dayText } from "@/words/times";
import type { Scale } from "@/ui/scale";

export const ROW = 54;

/** The day behind its entries: its light, the usable spans, shade and absence. */
export function DaySky({
  width,
  day,
  zone,
  samples,
  clip,
  lit,
  X,
  y,
  to,
  from,
  perHour,
}: {
  width: number;
  day: PlanDay;
  zone: string;
  samples: DaySample[];
  clip: (ms: number) => number;
  lit: DaySample[];
  X: (ms: number) => number;
  y: Scale;
  to: number;
  from: number;
  perHour: number;
}) {
  return (
    <svg
      width={width}
      height={ROW}
      className="absolute inset-0"
      role="img"
      aria-label={`Clear sky on ${dayText(day.date)}: usable ${day.sky.spans.map((s) => `${timeOfDay(s.fromMs, zone)} to ${timeOfDay(s.toMs, zone)}`).join(", ")}${day.sky.shade.map((s) => `; ${s.owner} shades ${s.minutes} min`).join("")}`}
    >
      <defs>
        <pattern
          id={`away-${day.date}`}
          width="7"
          height="7"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(-45)"
        >
          <rect width="7" height="7" fill="var(--well)" />
          <path d="M0 0V7" stroke="var(--ink-3)" strokeWidth="1.2" />
        </pattern>
        <pattern
          id={`shade-${day.date}`}
          width="6"
          height="6"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <path d="M0 0V6" stroke="var(--ink)" strokeWidth="1.2" opacity="0.5" />
        </pattern>
      </defs>
      {skyBands(samples).map((b) => (
        <rect
          key={b.from}
          x={clip(b.from)}
          width={Math.max(0, clip(b.to) - clip(b.from) + 0.5)}
          height={ROW}
          fill={`var(--sky-${b.sky})`}
        />
      ))}
      {day.sky.spans.map((s) => (
        <rect
          key={s.fromMs}
          x={clip(s.fromMs)}
          width={clip(s.toMs) - clip(s.fromMs)}
          height={ROW}
          fill="var(--sheet)"
        />
      ))}
      {shadeSpans(samples).map((s) => (
        <rect
          key={s.from}
          x={clip(s.from)}
          width={Math.max(0, clip(s.to) - clip(s.from))}
          height={ROW}
          fill={`url(#shade-${day.date})`}
        />
      ))}
      {day.taken.map((t) => (
        <rect
          key={t.fromMs}
          x={clip(t.fromMs)}
          width={clip(t.toMs) - clip(t.fromMs)}
          height={ROW}
          fill={`url(#away-${day.date})`}
        />
      ))}
      {lit.length > 1 && (
        <path
          d={lit.map((s, i) => `${i ? "L" : "M"}${X(s.ms).toFixed(1)} ${y(s.irradiance).toFixed(1)}`).join("")}
          fill="none"
          stroke="var(--ink)"
          strokeDasharray="4 3"
        />
      )}
      {Array.from({ length: to - from + 1 }, (_, i) => (
        <path key={i} d={`M${i * perHour} ${ROW - 4}V${ROW}`} stroke="var(--ink)" />
      ))}
    </svg>
  );
}
