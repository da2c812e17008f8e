"use client";

import Link from "next/link";
import type { PlanView } from "@/services/plan/plan";
import { MONTH_NAMES } from "@/words/plan";
import { chancePercent, percent } from "@/words/sources";
import { Head } from "@/ui/Head";

/** When in the year the days can be had: chance of a clear day, what one gives, and how long the calendar takes. */
export function Months({ plan }: { plan: PlanView }) {
  if (plan.months.length === 0) return null;
  const most = Math.max(1, ...plan.months.map((m) => m.windows));
  const needed = plan.duration?.[plan.settings.power === 0.8 ? "days80" : "days95"] ?? null;
  return (
    <section aria-labelledby="months">
      <Head id="months" title="Chance by month" side={plan.climate ?? "no climate chosen"} />
      {!plan.climate && (
        <p className="side py-1">
          Choose a climate at{" "}
          <Link className="underline" href={`/site/${plan.site.id}`}>
            the site
          </Link>
          , and the chance of clear days follows.
        </p>
      )}
      <table className="grid-table text-[13.5px]">
        <thead>
          <tr>
            <th scope="col">month</th>
            <th scope="col" className="num">
              clear days
            </th>
            <th scope="col">a clear day gives</th>
            <th scope="col" className="num">
              in 14 days
            </th>
            <th scope="col" className="num">
              takes
            </th>
          </tr>
        </thead>
        <tbody>
          {plan.months.map((m) => (
            <tr key={m.month}>
              <th scope="row">{MONTH_NAMES[m.month].slice(0, 3)}</th>
              <td className="num">{m.clearShare === null ? "–" : percent(m.clearShare)}</td>
              <td>
                <span className="flex items-center gap-1.5">
                  <i
                    className="block h-[9px] bg-sun outline outline-[0.75px] outline-ink"
                    style={{ width: (m.windows / most) * 46 }}
                    aria-hidden
                  />
                  <span className="whitespace-nowrap">
                    {m.windows ? `${m.windows} in ${m.hours.toFixed(1)} h` : "none"}
                  </span>
                </span>
              </td>
              <td className="num">{m.within14 === null ? "–" : chancePercent(m.within14)}</td>
              <td className="num">{m.calendarDays === null ? "–" : `${m.calendarDays} d`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="side pt-1">
        {needed === null ? "" : `For ${needed} clear day${needed === 1 ? "" : "s"}: `}chance to have them within 14
        days; days on the calendar that hold them with 80 % chance. A broken day’s windows come on top.
      </p>
    </section>
  );
}
