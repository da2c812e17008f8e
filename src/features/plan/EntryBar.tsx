"use client";

import { useDraggable } from "@dnd-kit/core";
import { AlertTriangle, ArrowLeftRight, Hourglass, ListChecks, Moon } from "lucide-react";
import type { PlanDay, PlanEntry } from "@/core/plan/dayPlan";
import { conflictWords, entryWords } from "@/words/plan";
import { timeOfDay } from "@/words/times";

export const GRID_MIN = 5;

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

export function EntryBar({
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
