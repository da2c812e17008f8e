"use client";

import { useId } from "react";

/** A few exclusive choices on one line: the browser’s own radio buttons, so that keys, forms and readers know them. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  const group = useId();
  return (
    <div role="radiogroup" aria-label={label} className="flex items-center gap-1">
      <span className="mr-1 text-[13px] font-semibold">{label}</span>
      {options.map(([v, name]) => (
        <label
          key={v}
          className="relative flex min-h-8 items-center border-b-[3px] border-transparent px-2 text-[13.5px] text-ink-2 hover:bg-well has-checked:border-action has-checked:font-semibold has-checked:text-ink has-focus-visible:outline-2 has-focus-visible:outline-action"
        >
          <input
            type="radio"
            name={group}
            className="absolute inset-0 m-0 cursor-pointer appearance-none opacity-0"
            checked={v === value}
            onChange={() => onChange(v)}
          />
          {name}
        </label>
      ))}
    </div>
  );
}
