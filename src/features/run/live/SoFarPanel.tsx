"use client";

import type { LiveView } from "@/services/live/view";
import { FigureText } from "@/ui/FigureText";
import { LaneMark } from "@/ui/LaneMark";
import { timeOfDay } from "@/words/times";
import { Head } from "@/ui/Head";

const SHOWN = 6;

/** What the run has given so far, and how far the plan is. */
export function SoFarPanel({ view, zone }: { view: LiveView; zone: string }) {
  const { soFar } = view;
  if (!soFar) return <aside />;
  return (
    <aside aria-label="So far" className="mt-4 xl:mt-2">
      <Head title={<>Run {view.number} so far</>} side={<>since {timeOfDay(view.startedAt, zone)}</>} />
      <p className="mt-1">
        {soFar.windows.length === 0
          ? "No steady window yet."
          : `${soFar.windows.length} steady window${soFar.windows.length === 1 ? "" : "s"}.`}
      </p>
      <ol className="text-[13.5px]">
        {soFar.windows.slice(-SHOWN).map((w) => (
          <li key={w.startMs} className="flex gap-3 border-b border-hair py-0.5">
            <span>
              {timeOfDay(w.startMs, zone)} to {timeOfDay(w.endMs, zone)}
            </span>
            <span className="text-ink-2">{w.lanes.length === view.lanes.length ? "all lanes" : w.lanes.join(" ")}</span>
          </li>
        ))}
      </ol>
      {soFar.pairs.length > 0 && (
        <>
          <h3 className="mt-2 text-[13px] font-semibold">Difference so far, heat per area</h3>
          <ul className="text-[13.5px]">
            {soFar.pairs.slice(0, SHOWN).map((p) => (
              <li key={`${p.a}${p.b}`} className="border-b border-hair py-0.5">
                <LaneMark lane={p.a} size={11} /> − <LaneMark lane={p.b} size={11} />{" "}
                <FigureText figure={p.difference} signed />
                <span className={`block text-[12.5px] ${p.decided ? "font-semibold" : "text-ink-2"}`}>
                  {p.decided
                    ? "Detected at this interim analysis, warnings not included"
                    : `Not detected (p = ${percent(p.p)}, limit ${percent(p.level)})`.replaceAll("\u2009", "\u202f")}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      {soFar.look && (
        <p className="side mt-1">
          Day {soFar.days} of {soFar.plannedDays} planned;{" "}
          {soFar.look.daysLeft === 0 ? "the plan is done" : `${soFar.look.daysLeft} to go`}. Significance level of this
          interim analysis: {percent(soFar.look.level)}.
        </p>
      )}
    </aside>
  );
}

function percent(share: number): string {
  if (!(share >= 0.001)) return "under 0.1 %";
  return share < 0.1 ? `${(100 * share).toFixed(1)} %` : `${Math.round(100 * share)} %`;
}
