"use client";

import { linear } from "@/ui/scale";
import { DndContext, PointerSensor, useDraggable, useSensor, useSensors, type DragEndEvent } from "@dnd-kit/core";
import { AlertTriangle, ArrowLeftRight, CalendarX2, Hourglass, ListChecks, Moon } from "lucide-react";
import Link from "next/link";
import { toWall } from "@/core/log/zone";
import type { PlanDay, PlanEntry } from "@/core/plan/dayPlan";
import type { PlanView } from "@/services/plan/plan";
import { LaneShape } from "@/ui/LaneMark";
import { shadeSpans, skyBands } from "@/ui/SunStrip";
import { useWidth } from "@/ui/useWidth";
import { conflictWords, entryWords, passedWords } from "@/words/plan";
import { timeOfDay, dayText } from "@/words/times";

const LABEL = 148;
const ROW = 54;
const GRID_MIN = 5;

export interface CalendarEdits {
  /** An entry goes so many minutes from where it is. */
  move(entry: PlanEntry, minutes: number): void;
  /** An entry goes back to its derived time. */
  reset(entry: PlanEntry): void;
  /** A date is left out: what was planned for it and all after it move on. */
  skip(date: string): void;
  /** A date left out is taken again. */
  take(date: string): void;
}

/** The dated plan over each day's own sun: drag an entry along its day, or down to the next; arrow keys do the same. */
export function Calendar({ plan, edits, busy }: { plan: PlanView; edits: CalendarEdits; busy: boolean }) {
  const [ref, width] = useWidth(820);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const { zone } = plan.site;
  const hours = hoursShown(plan.days, zone);
  const track = Math.max(300, width - LABEL);
  const perHour = track / (hours[1] - hours[0]);
  const onDragEnd = ({ active, delta }: DragEndEvent) => {
    const entry = plan.days.flatMap((d) => d.entries).find((e) => e.id === active.id);
    if (!entry) return;
    if (Math.abs(delta.y) > ROW * 0.7) return edits.skip(entry.id.slice(0, 10));
    const minutes = Math.round(((delta.x / perHour) * 60) / GRID_MIN) * GRID_MIN;
    if (minutes) edits.move(entry, minutes);
  };
  return (
    <section aria-labelledby="calendar" aria-busy={busy}>
      <div className="head">
        <h2 id="calendar">Days</h2>
        <span className="side">
          each on its own clear sky; drag an entry, or arrow keys: ← → five minutes, ↓ leaves the day out, Delete puts
          it back
        </span>
      </div>
      <div ref={ref} className="overflow-x-auto">
        <div style={{ width: track + LABEL }}>
          <Hours hours={hours} perHour={perHour} />
          <DndContext sensors={sensors} onDragEnd={onDragEnd}>
            <ol aria-label="Planned days">
              {plan.days.map((d, i) => (
                <DayRow key={d.date} plan={plan} day={d} number={i + 1} hours={hours} perHour={perHour} edits={edits} />
              ))}
            </ol>
          </DndContext>
        </div>
      </div>
      <Passed plan={plan} edits={edits} />
    </section>
  );
}

/** Whole hours that hold every sun and every entry. */
function hoursShown(days: readonly PlanDay[], zone: string): [number, number] {
  let from = 24,
    to = 0;
  for (const d of days) {
    const wall = toWall(d.sky.sun.startMs, zone);
    const hour = (ms: number) => (toWall(ms, zone) - wall) / 3600000;
    for (const s of d.sky.samples)
      if (s.irradiance > 50) {
        from = Math.min(from, hour(s.ms));
        to = Math.max(to, hour(s.ms));
      }
    for (const e of d.entries) {
      from = Math.min(from, hour(e.fromMs));
      to = Math.max(to, hour(e.toMs));
    }
  }
  return from < to ? [Math.max(0, Math.floor(from)), Math.min(24, Math.ceil(to + 0.01))] : [6, 18];
}

function Hours({ hours: [from, to], perHour }: { hours: [number, number]; perHour: number }) {
  return (
    <svg width={(to - from) * perHour} height={18} className="block" style={{ marginLeft: LABEL }} aria-hidden="true">
      {Array.from({ length: to - from + 1 }, (_, i) => (
        <g key={i}>
          <path d={`M${i * perHour} 11V18`} stroke="var(--ink)" />
          {i < to - from && (
            <text x={i * perHour + 3} y={12}>
              {from + i}
            </text>
          )}
        </g>
      ))}
    </svg>
  );
}

function DayRow({
  plan,
  day,
  number,
  hours: [from, to],
  perHour,
  edits,
}: {
  plan: PlanView;
  day: PlanDay;
  number: number;
  hours: [number, number];
  perHour: number;
  edits: CalendarEdits;
}) {
  const { zone } = plan.site;
  const wall = toWall(day.sky.sun.startMs, zone);
  const width = (to - from) * perHour;
  const ofHour = linear([from, to], [0, width]);
  const X = (ms: number) => ofHour((toWall(ms, zone) - wall) / 3600000);
  const clip = (ms: number) => Math.max(0, Math.min(width, X(ms)));
  const samples = day.sky.samples;
  const lit = samples.filter((s) => s.irradiance > 1);
  const y = linear([0, 1150], [ROW - 4, 4]);
  return (
    <li className="flex border-b border-hair" data-date={day.date}>
      <div className="shrink-0 py-1 pr-2" style={{ width: LABEL }}>
        <p className="flex items-baseline justify-between">
          <Link className="font-[650] hover:underline" href={`/experiments/${plan.experimentId}/plan/${day.date}`}>
            {dayText(day.date)}
          </Link>
          <span className="side">day {number}</span>
        </p>
        <p
          className="flex flex-wrap gap-x-1.5 text-[12.5px]"
          aria-label={`Stations from the left: ${day.order.map((row) => row.map((s) => plan.specimens[s].letter).join(" ")).join(", then ")}`}
        >
          {day.order.map((row, p) => (
            <span key={p} className="inline-flex items-center gap-1">
              {p > 0 && <span className="side">then</span>}
              {row.map((s) => (
                <span key={s} className="inline-flex items-center">
                  <LaneShape lane={plan.specimens[s].letter} size={11} />
                  {plan.specimens[s].letter}
                </span>
              ))}
            </span>
          ))}
        </p>
        {day.conflicts.length > 0 && (
          <p className="text-[12.5px] font-semibold text-doubt">
            {day.conflicts.length === 1 ? "1 conflict" : `${day.conflicts.length} conflicts`}
          </p>
        )}
      </div>
      <div className="relative" style={{ width, height: ROW }}>
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
        {day.entries.map((e) => (
          <EntryBar
            key={e.id}
            entry={e}
            zone={zone}
            x={X(e.fromMs)}
            width={X(e.toMs) - X(e.fromMs)}
            conflict={day.conflicts.find((c) => c.entry === e.id)}
            edits={edits}
            date={day.date}
          />
        ))}
      </div>
    </li>
  );
}

/** Where an entry stands in its day's row, and how tall it is; moves and pauses stand above the measuring. */
const ROWS: Partial<Record<PlanEntry["kind"], [top: number, height: number]>> = {
  settle: [28, 16],
  measure: [24, 24],
  step: [24, 24],
  bath: [24, 24],
};
const ICONS: Partial<Record<PlanEntry["kind"], typeof Hourglass>> = {
  check: ListChecks,
  settle: Hourglass,
  close: Moon,
  swap: ArrowLeftRight,
};

const FILL: Record<PlanEntry["kind"], string> = {
  check: "border-ink bg-sheet text-ink",
  swap: "border-ink bg-well text-ink",
  settle: "border-ink border-dashed bg-sheet/60 text-ink",
  measure: "border-action bg-action text-action-ink",
  step: "border-action bg-action text-action-ink",
  close: "border-ink bg-sheet text-ink",
  bath: "border-action bg-action text-action-ink",
};

function EntryBar({
  entry: e,
  zone,
  x,
  width,
  conflict,
  edits,
  date,
}: {
  entry: PlanEntry;
  zone: string;
  x: number;
  width: number;
  conflict: PlanDay["conflicts"][number] | undefined;
  edits: CalendarEdits;
  date: string;
}) {
  const { attributes, listeners, setNodeRef, transform, isDragging } = useDraggable({ id: e.id });
  const onKeyDown = (event: React.KeyboardEvent) => {
    const step = event.shiftKey ? 15 : GRID_MIN;
    const reset = e.movedMin ? () => edits.reset(e) : undefined;
    const act = {
      ArrowLeft: () => edits.move(e, -step),
      ArrowRight: () => edits.move(e, step),
      ArrowDown: () => edits.skip(date),
      Delete: reset,
      Backspace: reset,
    }[event.key];
    if (!act) return;
    event.preventDefault();
    act();
  };
  const sky =
    e.sky && e.sky.irradiance > 1
      ? `, clear sky ${Math.round(e.sky.irradiance)} W/m², ${Math.round(e.sky.incidence)}° off the normal${e.sky.beamShare < 0.98 ? `, ${Math.round(100 - 100 * e.sky.beamShare)} % of the beam shaded` : ""}`
      : "";
  const words = `${timeOfDay(e.fromMs, zone)} to ${timeOfDay(e.toMs, zone)}: ${entryWords(e)}${sky}${e.movedMin ? `, moved ${e.movedMin > 0 ? "+" : "−"}${Math.abs(e.movedMin)} min` : ""}${conflict ? `. Conflict: ${conflictWords(conflict)}` : ""}`;
  const Icon = ICONS[e.kind];
  const worded = width > (e.kind === "settle" ? 40 : 36);
  const level = e.levelK || width < 66 ? `+${e.levelK} K` : "as outside";
  const short = e.kind === "measure" && e.levelK !== null ? level : entryWords(e).split(",")[e.state ? 1 : 0].trim();
  const [top, height] = ROWS[e.kind] ?? [5, 18];
  return (
    <button
      type="button"
      ref={setNodeRef}
      {...attributes}
      {...listeners}
      onKeyDown={onKeyDown}
      title={words}
      aria-label={words}
      aria-roledescription="movable entry"
      aria-describedby={undefined}
      data-entry={e.id}
      className={`absolute flex items-center justify-center gap-0.5 overflow-hidden border-[1.5px] px-0.5 text-[12px] whitespace-nowrap ${FILL[e.kind]} ${conflict ? "!border-doubt !border-[2.5px]" : ""} ${isDragging ? "z-20 cursor-grabbing" : "cursor-grab"} ${e.kind === "measure" || e.kind === "step" ? "font-semibold" : ""}`}
      style={{
        left: x,
        width: Math.max(6, width - 1),
        top,
        height,
        touchAction: "none",
        transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined,
        fontStretch: "86%",
      }}
    >
      {conflict && width > 14 && <AlertTriangle size={12} aria-hidden className="shrink-0" />}
      {worded && short}
      {!worded && Icon && width > 13 && <Icon size={11} aria-hidden />}
    </button>
  );
}

function Passed({ plan, edits }: { plan: PlanView; edits: CalendarEdits }) {
  if (plan.passed.length === 0) return null;
  const own = plan.passed.filter((p) => p.reason === "skipped");
  const groups = [...new Set(plan.passed.filter((p) => p.reason !== "skipped").map(passedWords))].map((words) => ({
    words,
    dates: plan.passed.filter((p) => passedWords(p) === words).map((p) => p.date),
  }));
  return (
    <div className="pt-1 text-[13px]" data-testid="passed">
      {own.map((p) => (
        <p key={p.date} className="flex items-center gap-2">
          <CalendarX2 size={13} aria-hidden /> {dayText(p.date)} left out by you{" "}
          <button type="button" className="btn btn-plain min-h-[24px]" onClick={() => edits.take(p.date)}>
            Take it again
          </button>
        </p>
      ))}
      {groups.map((g) => (
        <p key={g.words} className="side">
          {g.dates.length === 1
            ? dayText(g.dates[0])
            : `${g.dates.length} days from ${dayText(g.dates[0])} to ${dayText(g.dates[g.dates.length - 1])}`}{" "}
          passed over: {g.words}.
        </p>
      ))}
    </div>
  );
}
