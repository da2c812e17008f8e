"use client";

import { useId, useState } from "react";
import { formatQuantity } from "@/core/quantity/format";
import { displayUnit, fromSi, unitOf, type QuantityId } from "@/core/quantity/quantities";
import { directionOf } from "@/core/quantity/direction";
import { parseQuantity } from "@/core/quantity/parseQuantity";
import { usePreferences } from "./preferences";
import { parsedProblem } from "@/words/quantity";
import { useValidity } from "./useValidity";

/** A field that understands `70 F`, `845 fpm`, `21,4`: takes text, gives SI, keeps what was typed when it cannot. */
export function QuantityField({
  label,
  quantity,
  si,
  onChange,
  onClear,
  hint,
  min,
  max,
  whole,
  direction,
  hideLabel,
}: {
  label: string;
  quantity: QuantityId;
  /** null shows an empty field: nothing is known yet, and nothing is assumed. */
  si: number | null;
  /** Called with the SI value, once it is understood and in range. */
  onChange: (si: number) => void;
  /** Called when the text is taken out again; without it a field once filled cannot be empty. */
  onClear?: () => void;
  hint?: string;
  min?: number;
  max?: number;
  /** Things are counted: what lies between two numbers is asked for again. */
  whole?: boolean;
  /** A direction may be said in words too: South, SE. */
  direction?: boolean;
  hideLabel?: boolean;
}) {
  const { system } = usePreferences();
  const id = useId();
  // 220 s reads better than 3.66667 min.
  const unit = quantity === "duration" && (si ?? 0) % 60 !== 0 ? unitOf(quantity, "s") : displayUnit(quantity, system);
  const shown = () =>
    si === null ? "" : `${Number(fromSi(si, unit).toPrecision(6))}${unit.symbol === "1" ? "" : ` ${unit.symbol}`}`;
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const field = useValidity<HTMLInputElement>(problem);

  const commit = (text: string) => {
    if (!text.trim() && (si === null || onClear)) {
      setProblem(null);
      setDraft(null);
      if (si !== null) onClear?.();
      return;
    }
    const said = direction ? directionOf(text) : null;
    const parsed = parseQuantity(said === null ? text : `${said}°`, quantity, { defaultUnit: system });
    const unread = parsedProblem(parsed);
    if (!parsed.ok) {
      setProblem(unread);
      return;
    }
    const limit = (v: number) => {
      const f = formatQuantity(v, quantity, { system });
      return `${f.value} ${f.unit}`.trim();
    };
    if (min !== undefined && parsed.si < min) return setProblem(`At least ${limit(min)}.`);
    if (max !== undefined && parsed.si > max) return setProblem(`At most ${limit(max)}.`);
    if (whole && !Number.isInteger(parsed.si)) return setProblem("Enter a whole number.");
    setProblem(null);
    setDraft(null);
    if (parsed.si !== si) onChange(parsed.si);
  };

  return (
    <div>
      <label htmlFor={id} className={hideLabel ? "sr-only" : "block text-[13px] font-semibold"}>
        {label}
      </label>
      <input
        id={id}
        ref={field}
        className="field mt-0.5"
        inputMode="text"
        autoComplete="off"
        value={draft ?? shown()}
        aria-invalid={problem !== null}
        aria-describedby={problem || hint ? `${id}-note` : undefined}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={(e) => draft !== null && commit(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && commit(e.currentTarget.value)}
      />
      {(problem || hint) && (
        <p
          id={`${id}-note`}
          role={problem ? "alert" : undefined}
          className={problem ? "text-[12.5px] font-semibold text-danger" : "side"}
        >
          {problem ?? hint}
        </p>
      )}
    </div>
  );
}
