"use client";

import { scaleLinear } from "d3-scale";
import { TriangleAlert } from "lucide-react";
import { quantityText } from "@/core/quantity/format";
import type { ExperimentView } from "@/services/views";
import { usePreferences } from "@/ui/preferences";
import { doubtWords } from "@/words/doubts";

/** What weakens the answer, in the answer's unit, each with what would settle it. */
export function Doubts({ view }: { view: ExperimentView }) {
  const { system } = usePreferences();
  const { doubts, head, verdict } = view;
  const answer = verdict.kind === "winner" || verdict.kind === "cannotTell" ? verdict.difference.si : null;
  const reach =
    Math.max(
      1,
      Math.abs(answer ?? 0),
      ...doubts.flatMap((d) =>
        d.effect ? [Math.abs((answer ?? 0) + d.effect.low), Math.abs((answer ?? 0) + d.effect.high)] : [],
      ),
    ) * 1.1;
  const X = scaleLinear([-reach * 0.25, reach], [6, 144]);
  const becomes = (si: number) => quantityText(si, "heatFlux", { system, figures: 2, signed: true });
  return (
    <section aria-labelledby="doubts">
      <div className="head">
        <h2 id="doubts">Doubts</h2>
        {answer !== null && (
          <span className="side">
            bar: what the answer could become; heavy tick:{" "}
            {quantityText(answer, "heatFlux", { system, figures: 2, signed: true })}
          </span>
        )}
      </div>
      {doubts.length === 0 && <p className="py-2">None found.</p>}
      <ul>
        {doubts.map((d, i) => {
          const { title, detail, remedy } = doubtWords(d, { zone: head.site.zone, system });
          return (
            <li key={i} className="grid gap-x-4 border-b border-hair py-1.5 sm:grid-cols-[1fr_150px]">
              <div>
                <p className="flex gap-1.5 font-semibold text-doubt">
                  <TriangleAlert size={15} className="mt-0.5 shrink-0" aria-hidden /> {title}
                </p>
                <p className="text-[13.5px] text-ink-2">
                  {detail} <b className="font-semibold text-ink">{remedy}</b>
                </p>
              </div>
              {d.effect && answer !== null && (
                <div className="self-center">
                  <svg width="150" height="18" viewBox="0 0 150 18" aria-hidden="true">
                    <path d="M4 14H146" stroke="var(--ink)" />
                    <path d={`M${X(0)} 2V14`} stroke="var(--ink)" strokeWidth="1.25" />
                    <path
                      d={`M${X(answer + d.effect.low)} 7H${Math.max(X(answer + d.effect.low) + 1, X(answer + d.effect.high))}`}
                      stroke="var(--doubt-line)"
                      strokeWidth="7"
                    />
                    <path d={`M${X(answer)} 1V14`} stroke="var(--ink)" strokeWidth="2.5" />
                  </svg>
                  <span className="text-[13px] font-semibold">
                    {becomes(answer + d.effect.low).replace(/\u2009.*$/, "")} to {becomes(answer + d.effect.high)}
                  </span>
                </div>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
