"use client";

import { MONTH_NAMES } from "@/words/plan";

/** Twelve buttons, pressed for the months that count. */
export function MonthPick({
  label,
  months,
  onChange,
}: {
  label: string;
  months: readonly number[];
  onChange: (months: number[]) => void;
}) {
  return (
    <div role="group" aria-label={label}>
      <span className="block text-[13px] font-semibold">{label}</span>
      <span className="mt-0.5 grid grid-cols-6 gap-1 sm:grid-cols-12">
        {MONTH_NAMES.map((name, m) => {
          const on = months.includes(m);
          return (
            <button
              key={name}
              type="button"
              aria-label={name}
              aria-pressed={on}
              className={`min-h-8 border text-[12.5px] ${on ? "border-action bg-action font-semibold text-action-ink" : "border-rule"}`}
              onClick={() => onChange(on ? months.filter((x) => x !== m) : [...months, m].sort((a, b) => a - b))}
            >
              {name.slice(0, 3)}
            </button>
          );
        })}
      </span>
    </div>
  );
}
