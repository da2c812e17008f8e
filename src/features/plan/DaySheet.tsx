"use client";

import { ArrowLeft, Printer } from "lucide-react";
import Link from "next/link";
import { useOptimistic, useTransition } from "react";
import { toast } from "@/ui/toast";
import type { PlanView } from "@/services/plan/plan";
import { LaneShape } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { SunStrip } from "@/ui/SunStrip";
import { conflictWords, PROTOCOL_WORDS } from "@/words/plan";
import { changePlan } from "./actions";
import { sheetBlocks } from "./sheet";
import { timeOfDay, dayText } from "@/words/times";
import { answered } from "@/ui/useAct";
import { Button } from "@/ui/Button";
import type { SheetBlock } from "@/features/plan/sheet";

/** One day at the bench on paper or phone: when, where each box stands, what to do and what to mind, to be ticked off. */
export function DaySheet({ plan, date }: { plan: PlanView; date: string }) {
  const { system } = usePreferences();
  const [busy, start] = useTransition();
  const [ticked, setTicked] = useOptimistic(plan.settings.ticked);
  const day = plan.days.find((d) => d.date === date);
  const back = (
    <Link className="btn btn-plain no-print" href={`/experiments/${plan.experimentId}/plan`}>
      <ArrowLeft size={14} aria-hidden /> Plan
    </Link>
  );
  if (!day)
    return (
      <div className="px-4 py-4 sm:px-6">
        {back}
        <h1 className="sentence mt-2">{dayText(date)} is not in the plan.</h1>
        <p>It was left out, or another day was moved. The plan shows the days that are.</p>
      </div>
    );
  const { zone } = plan.site;
  const tick = (id: string, on: boolean) =>
    start(async () => {
      setTicked(on ? [...ticked, id] : ticked.filter((t) => t !== id));
      const result = await answered(changePlan(plan.experimentId, { ticked: { [id]: on } }, plan.settings));
      if (!result.ok) toast.error(result.error);
    });
  const number = plan.days.indexOf(day) + 1;
  const keyOf = (line: string) => (line.startsWith("pack/") ? `${date}/${line}` : line);
  return (
    <div>
      <div className="no-print max-sm:hidden">
        <SunStrip
          site={plan.site}
          plane={plan.settings.bench}
          atMs={day.sky.sun.startMs + 12 * 3600000}
          now={false}
          sky={day.sky}
        />
      </div>
      <div className="mx-auto max-w-[900px] px-4 py-3 sm:px-6">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
          {back}
          <span className="flex-1" />
          <Button className="no-print" onClick={() => window.print()}>
            <Printer size={14} aria-hidden /> Print
          </Button>
        </div>
        <h1 className="sentence mt-1">
          {dayText(date)}, day {number} of {plan.settings.days}: {plan.name}
        </h1>
        <p>
          {PROTOCOL_WORDS[plan.settings.protocol].name} at {plan.site.name}. Clear sky from{" "}
          {day.sky.spans.map((s) => `${timeOfDay(s.fromMs, zone)} to ${timeOfDay(s.toMs, zone)}`).join(" and ")}
          {day.sky.sun.setMs ? `; sunset ${timeOfDay(day.sky.sun.setMs, zone)}` : ""}. Times are {zone}.
        </p>
        {day.conflicts.map((c) => (
          <p key={c.entry + c.with} className="font-semibold text-doubt">
            {c.entry.split("/")[1]}: {conflictWords(c)}
          </p>
        ))}
        {day.order.map((row, p) => (
          <div key={p} className="mt-2">
            {day.order.length > 1 && <p className="side">{p ? "after noon" : "before noon"}</p>}
            <ol
              className="grid grid-cols-2 border-[1.5px] border-ink sm:flex"
              aria-label={`Stations from the left${p ? ", after noon" : ""}`}
            >
              {row.map((s, i) => (
                <li
                  key={i}
                  className="flex min-w-[88px] flex-1 items-center gap-2 border-rule px-3 py-2 sm:border-r sm:last:border-r-0"
                >
                  <span className="side">{i + 1}</span>
                  <LaneShape lane={plan.specimens[s].letter} size={18} />
                  <b className="text-[17px]">{plan.specimens[s].letter}</b>
                  <span className="text-[13px] text-ink-2">{plan.specimens[s].name}</span>
                </li>
              ))}
            </ol>
          </div>
        ))}
        <p className="side">Stations from the left as you face the glass.</p>
        {sheetBlocks(plan, day, system).map((b) => (
          <Block
            key={b.id}
            {...{ b, zone }}
            tick={(line, on) => tick(keyOf(line), on)}
            isTicked={(line) => ticked.includes(keyOf(line))}
          />
        ))}
        <p className="side mt-3" role="status">
          {busy ? "Keeping …" : "Local codes and licensed trades come first; this sheet is a reminder, not a permit."}
        </p>
      </div>
    </div>
  );
}

function Block({
  b,
  zone,
  isTicked,
  tick,
}: {
  b: SheetBlock;
  zone: string;
  isTicked: (line: string) => boolean;
  tick: (line: string, on: boolean) => void;
}) {
  return (
    <section className="mt-3 break-inside-avoid" aria-label={b.title}>
      <h2 className="flex flex-wrap items-baseline gap-x-3 border-b-[1.5px] border-ink pb-0.5 text-[15px] font-[650]">
        <span className="w-[104px] shrink-0 tabular-nums">
          {b.at ? `${timeOfDay(b.at.fromMs, zone)}–${timeOfDay(b.at.toMs, zone)}` : "before"}
        </span>
        {b.title}
        {b.sky && <span className="text-[13px] font-normal text-ink-2">{b.sky}</span>}
      </h2>
      <ul>
        {b.lines.map((l) => (
          <li key={l.id} className="border-b border-hair">
            <label className="grid min-h-[40px] grid-cols-[28px_minmax(0,1fr)] items-center gap-x-2 py-1 max-sm:min-h-[44px]">
              <input
                type="checkbox"
                className="size-5 accent-[var(--action)]"
                checked={isTicked(l.id)}
                onChange={(e) => tick(l.id, e.target.checked)}
                aria-label={l.text}
              />
              <span className={isTicked(l.id) ? "text-ink-3 line-through" : ""}>{l.text}</span>
              {l.safety && (
                <span className="col-start-2 border-l-[3px] border-doubt-line pl-2 text-[13px] text-doubt">
                  {l.safety}
                </span>
              )}
            </label>
          </li>
        ))}
      </ul>
    </section>
  );
}
