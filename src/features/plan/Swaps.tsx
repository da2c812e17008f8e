"use client";

import type { PlanView } from "@/services/plan/plan";
import { LaneMark } from "@/ui/LaneMark";
import { percent } from "@/words/sources";
import { dayText } from "@/words/times";
import { Head } from "@/ui/Head";

function balanceWords(balance: PlanView["balance"], even: string): string {
  if (!balance) return "Lanes never swap: what belongs to a place counts as if it belonged to the box on it.";
  if (!balance.placesEven && balance.stationShareLeft < 1e-9)
    return `Each arrangement counts alike however long it lasted: what belongs to a place cancels. These days are worth ${percent(balance.evenness)} of as many even ones; a multiple of ${even} makes them even.`;
  if (!balance.placesEven)
    return `${percent(balance.stationShareLeft)} of what belongs to the places is left in the difference of the worst pair; a multiple of ${even} makes it even.`;
  const follows = balance.carryOverEven ? ", and follows every other one there equally often" : "";
  return `Every lane stands at every place equally often${follows}: what belongs to a place cancels.`;
}

/** Which lane stands where on which day, dealt from the seed, and how even that is. */
export function Swaps({ plan }: { plan: PlanView }) {
  const { specimens, balance } = plan;
  if (specimens.length < 2 || plan.order.length === 0) return null;
  const rows = plan.days.flatMap((d) =>
    d.order.map((row, p) => ({
      key: `${d.date}/${p}`,
      date: dayText(d.date) + (d.order.length > 1 ? [", before noon", ", after noon"][p] : ""),
      row,
    })),
  );
  const copies = specimens.flatMap((s, i) =>
    specimens
      .slice(i + 1)
      .filter((t) => t.variantId === s.variantId)
      .map((t) => `${s.letter} and ${t.letter}`),
  );
  const verdict = balanceWords(balance, `${specimens.length} ${plan.settings.swaps === "noon" ? "half days" : "days"}`);
  return (
    <section aria-labelledby="swaps" data-testid="swaps">
      <Head
        id="swaps"
        title="Order of stations"
        side={<>dealt from seed {plan.settings.seed}; station 1 is at the left as you face the glass</>}
      />
      <p className={`pt-1 ${balance?.placesEven ? "" : "text-doubt"}`}>
        {verdict}
        {copies.length
          ? ` ${copies.join(", ")} are copies: their difference shows what the bench repeats.`
          : " No identical pair stands here: a second copy of one design (Build, Specimens) would show what the bench repeats."}
      </p>
      <div className="grid grid-cols-1 gap-x-8 lg:grid-cols-[minmax(0,1fr)_auto]">
        <table className="grid-table">
          <thead>
            <tr>
              <th scope="col">day</th>
              {specimens.map((_, i) => (
                <th key={i} scope="col">
                  station {i + 1}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r, k) => (
              <tr key={r.key}>
                <th scope="row">{r.date}</th>
                {r.row.map((s, i) => (
                  <td key={i}>
                    <LaneMark lane={specimens[s].letter} size={12} />
                    {k > 0 && rows[k - 1].row[i] === s && <span className="side"> stays</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        {balance && (
          <table
            className="grid-table w-auto self-start text-[13.5px]"
            aria-label="Times at each station and after each lane"
          >
            <thead>
              <tr>
                <th scope="col">lane</th>
                {specimens.map((_, i) => (
                  <th key={i} scope="col" className="num">
                    at {i + 1}
                  </th>
                ))}
                {specimens.map((s) => (
                  <th key={s.letter} scope="col" className="num">
                    after {s.letter}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {specimens.map((s, i) => (
                <tr key={s.letter}>
                  <th scope="row">{s.letter}</th>
                  {balance.places[i].map((n, k) => (
                    <td key={k} className="num">
                      {n}
                    </td>
                  ))}
                  {balance.after.map((r, k) => (
                    <td key={`a${k}`} className="num">
                      {k === i ? "–" : r[i]}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </section>
  );
}
