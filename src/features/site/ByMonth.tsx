"use client";

import { useState } from "react";
import { parseNumber } from "@/core/quantity/parseQuantity";
import { type Climate, clearShareOf } from "@/core/site/climate";
import type { Site } from "@/core/experiment/types";
import { MONTH_NAMES } from "@/words/plan";
import { percent } from "@/words/sources";
import { Head } from "@/ui/Head";

/** Air, ground and climate month by month. Turbidity and reflectance can be typed, or a column pasted. */
export function ByMonth({
  site,
  climate,
  onChange,
}: {
  site: Site;
  climate: Climate | null;
  onChange: (part: { turbidity?: number[]; groundReflectance?: number[] }) => void;
}) {
  const { turbidity, groundReflectance } = site.detail;
  return (
    <section aria-labelledby="by-month" className="min-w-0">
      <Head
        id="by-month"
        title="Month by month"
        side="turbidity 2 very clean, 3 clear, 5 hazy; ground 0.2 grass, 0.3 pale gravel, 0.6 snow; paste a column of twelve into any cell"
      />
      <div className="overflow-x-auto" role="group" tabIndex={0} aria-label="The year by month">
        <table className="grid-table text-[13.5px]">
          <thead>
            <tr>
              <th scope="col">month</th>
              <th scope="col">turbidity</th>
              <th scope="col">ground reflects</th>
              <th scope="col" className="num">
                sun, kWh/m² a day
              </th>
              <th scope="col" className="num">
                mean, °C
              </th>
              <th scope="col" className="num">
                wind, m/s
              </th>
              <th scope="col" className="num">
                clear days
              </th>
            </tr>
          </thead>
          <tbody>
            {MONTH_NAMES.map((name, m) => (
              <tr key={name}>
                <th scope="row">{name}</th>
                <td>
                  <Cell
                    label={`Turbidity in ${name}`}
                    values={turbidity}
                    at={m}
                    min={1}
                    max={10}
                    onChange={(v) => onChange({ turbidity: v })}
                  />
                </td>
                <td>
                  <Cell
                    label={`Ground reflectance in ${name}`}
                    values={groundReflectance}
                    at={m}
                    min={0}
                    max={0.95}
                    onChange={(v) => onChange({ groundReflectance: v })}
                  />
                </td>
                <td className="num">{climate ? climate.months[m].globalKwhM2.toFixed(1) : "–"}</td>
                <td className="num">{climate ? climate.months[m].meanC.toFixed(1).replace("-", "−") : "–"}</td>
                <td className="num">{climate?.months[m].windMs?.toFixed(1) ?? "–"}</td>
                <td className="num">{climate ? percent(clearShareOf(climate, m, site, turbidity[m])) : "–"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function Cell({
  label,
  values,
  at,
  min,
  max,
  onChange,
}: {
  label: string;
  values: readonly number[];
  at: number;
  min: number;
  max: number;
  onChange: (values: number[]) => void;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const [bad, setBad] = useState<string | null>(null);
  const commit = (text: string) => {
    const typed = text
      .split(/[\n\t;]+/)
      .map((t) => t.trim())
      .filter(Boolean)
      .map((t) => parseNumber(t, true));
    if (typed.length === 0 || typed.some((t) => !t.ok || t.rest.trim() || t.value < min || t.value > max))
      return setBad(`From ${min} to ${max}.`);
    setBad(null);
    setDraft(null);
    const next = [...values];
    typed.forEach((t, i) => {
      if (t.ok && at + i < 12) next[at + i] = t.value;
    });
    if (next.some((v, i) => v !== values[i])) onChange(next);
  };
  return (
    <>
      <input
        className="field min-h-[26px] w-[74px] py-0"
        inputMode="decimal"
        aria-label={label}
        aria-invalid={bad !== null}
        value={draft ?? String(values[at])}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={(e) => draft !== null && commit(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && commit(e.currentTarget.value)}
        onPaste={(e) => {
          const text = e.clipboardData.getData("text");
          if (!/[\n\t;]/.test(text.trim())) return;
          e.preventDefault();
          commit(text);
        }}
      />
      {bad && (
        <span role="alert" className="pl-1 text-[12.5px] font-semibold text-danger">
          {bad}
        </span>
      )}
    </>
  );
}
