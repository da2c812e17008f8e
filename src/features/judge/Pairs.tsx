"use client";

import { displayUnit, fromSi } from "@/core/quantity/quantities";
import { quantityText } from "@/core/quantity/format";
import type { ExperimentView } from "@/services/views";
import { Interval, scaleOver } from "@/ui/Interval";
import { LaneMark } from "@/ui/LaneMark";
import { Figure } from "@/ui/Working";
import { usePreferences } from "@/ui/preferences";
import { chanceWords } from "@/words/judge";

/** All lanes against each other over the windows they share. */
export function Pairs({ view }: { view: ExperimentView }) {
  const { system } = usePreferences();
  if (view.pairs.length === 0) return <section aria-label="Pairwise differences" />;
  const unit = displayUnit("heatFlux", system);
  const show = (si: number) => fromSi(si, unit);
  // The better lane is named first, so that every bar points right.
  const pairs = view.pairs.map((p) =>
    p.difference.si >= 0 ? p : { ...p, a: p.b, b: p.a, difference: { ...p.difference, si: -p.difference.si } },
  );
  const reach = Math.max(...pairs.map((p) => show(Math.abs(p.difference.si) + (p.difference.expanded ?? 0))));
  const low = Math.min(0, ...pairs.map((p) => show(p.difference.si - (p.difference.expanded ?? 0))));
  const smallest = view.head.settings.smallestDifference;
  const { min, max, step } = scaleOver(Math.min(low, -show(smallest)), reach);
  return (
    <section aria-labelledby="pairs">
      <div className="head">
        <h2 id="pairs">Pairwise differences</h2>
        <span className="side">
          grey: under {quantityText(smallest, "heatFlux", { system, figures: 2 })}, too small to matter; ticks every{" "}
          {step} {unit.symbol}
        </span>
      </div>
      <div className="relative overflow-x-auto">
        <table className="grid-table">
          <thead>
            <tr>
              <th scope="col">lanes</th>
              <th scope="col">
                <span className="sr-only">interval</span>
              </th>
              <th scope="col" className="num">
                difference (95 %)
              </th>
              <th scope="col" className="num">
                windows
              </th>
              <th scope="col" className="num">
                chance wrong
              </th>
            </tr>
          </thead>
          <tbody>
            {pairs.map((p) => (
              <tr key={p.a + p.b}>
                <th scope="row" className="whitespace-nowrap">
                  <LaneMark lane={p.a} size={12} /> <span className="text-ink-3">over</span>{" "}
                  <LaneMark lane={p.b} size={12} />
                  {p.identical && <span className="side"> identical pair</span>}
                </th>
                <td className="min-w-[168px]">
                  <Interval
                    value={show(p.difference.si)}
                    half={show(p.difference.expanded ?? 0)}
                    min={min}
                    max={max}
                    step={step}
                    zero
                    neutral={show(smallest)}
                    width={160}
                  />
                </td>
                <td className="num">
                  <Figure figure={p.difference} signed opens={{ figure: "difference", a: p.a, b: p.b }} />
                </td>
                <td className="num">
                  {p.windows}
                  <span className="side">
                    {" "}
                    / {p.days} d{p.swapped ? ", swapped" : ""}
                  </span>
                </td>
                <td className="num">
                  {p.decision === "equal" ? (
                    <b>equal</b>
                  ) : p.decision === "cannotTell" ? (
                    <b className="text-doubt">cannot tell</b>
                  ) : (
                    chanceWords(p.chanceWrong)
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="side mt-1">
        Decisions are adjusted for the number of comparisons (Holm). Equal: the 90 % interval lies inside the grey.
      </p>
    </section>
  );
}
