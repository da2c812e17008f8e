"use client";

import { linear } from "@/ui/scale";
import { DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from "@dnd-kit/core";
import { CalendarX2 } from "lucide-react";
import Link from "next/link";
import { toWall } from "@/core/log/zone";
import type { PlanDay } from "@/core/plan/dayPlan";
import type { PlanView } from "@/services/plan/plan";
import { LaneShape } from "@/ui/LaneMark";
import { useWidth } from "@/ui/useWidth";
import { passedWords } from "@/words/plan";
import { dayText } from "@/words/times";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";
import { EntryBar, GRID_MIN, type CalendarEdits } from "./EntryBar";
import { DaySky, ROW } from "./CalendarSky";

const LABEL = 148;

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
      <Head
        id="calendar"
        title="Days"
        side="each on its own clear sky; drag an entry, or arrow keys: ← → five minutes, ↓ leaves the day out, Delete puts it back"
      />
      <div ref={ref} className="overflow-x-auto" role="group" tabIndex={0} aria-label="Days of the plan">
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
      <DayName plan={plan} day={day} number={number} />
      <div className="relative" style={{ width, height: ROW }}>
        <DaySky {...{ width, day, zone, samples, clip, lit, X, y, to, from, perHour }} />
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

function DayName({ plan, day, number }: { plan: PlanView; day: PlanDay; number: number }) {
  return (
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
          <Button kind="plain" className="min-h-[24px]" onClick={() => edits.take(p.date)}>
            Take it again
          </Button>
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
