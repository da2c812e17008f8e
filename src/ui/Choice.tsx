"use client";

import { RadioGroup } from "radix-ui";

/** A few exclusive choices on one line. */
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
  return (
    <RadioGroup.Root
      value={value}
      onValueChange={(v) => onChange(v as T)}
      aria-label={label}
      className="flex items-center gap-1"
      orientation="horizontal"
    >
      <span className="mr-1 text-[13px] font-semibold">{label}</span>
      {options.map(([v, name]) => (
        <RadioGroup.Item
          key={v}
          value={v}
          className="min-h-8 border-b-[3px] border-transparent px-2 text-[13.5px] text-ink-2 hover:bg-well data-[state=checked]:border-action data-[state=checked]:font-semibold data-[state=checked]:text-ink"
        >
          {name}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}
