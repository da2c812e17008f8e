"use client";

import { useId, useState } from "react";
import { parseNumber } from "@/core/quantity/parseQuantity";

/** A plain number with its limits; what cannot be is said and not taken. */
export function NumberField({
  label,
  value,
  min,
  max,
  whole,
  unit,
  onChange,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  whole?: boolean;
  unit?: string;
  onChange: (value: number) => void;
}) {
  const id = useId();
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const commit = (text: string) => {
    const read = parseNumber(text, true);
    if (!read.ok) return setProblem("Type a number.");
    // "15 s" in a field of minutes is not 15 minutes.
    const behind = read.rest.trim();
    if (behind && behind !== unit)
      return setProblem(unit ? `A number of ${unit}, without another unit.` : "A number alone.");
    if (whole && !Number.isInteger(read.value)) return setProblem("A whole number.");
    if (read.value < min) return setProblem(`At least ${min}.`);
    if (read.value > max) return setProblem(`At most ${max}.`);
    setProblem(null);
    setDraft(null);
    if (read.value !== value) onChange(read.value);
  };
  return (
    <div className={unit ? "w-[128px]" : "w-[88px]"}>
      <label htmlFor={id} className="block text-[13px] font-semibold whitespace-nowrap">
        {label}
        {unit ? <span className="font-normal text-ink-2">, {unit}</span> : ""}
      </label>
      <input
        id={id}
        className="field mt-0.5"
        inputMode="decimal"
        autoComplete="off"
        value={draft ?? String(value)}
        aria-invalid={problem !== null}
        aria-describedby={problem ? `${id}-note` : undefined}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={(e) => draft !== null && commit(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && commit(e.currentTarget.value)}
      />
      {problem && (
        <p id={`${id}-note`} role="alert" className="text-[12.5px] font-semibold text-danger">
          {problem}
        </p>
      )}
    </div>
  );
}
