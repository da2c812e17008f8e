"use client";

/** A labelled choice from a list. */
export function Select<T extends string | number>({
  label,
  name = label,
  value,
  options,
  empty,
  hideLabel,
  place = "",
  width = "",
  disabled,
  onChange,
}: {
  label: string;
  /** What it is called aloud, where that says more than the label. */
  name?: string;
  value: T | "";
  options: readonly (readonly [T, string])[];
  /** Shown while nothing is chosen. */
  empty?: string;
  hideLabel?: boolean;
  /** Classes of the field's place in the form. */
  place?: string;
  width?: string;
  disabled?: boolean;
  onChange: (value: T) => void;
}) {
  return (
    <label className={`text-[13px] font-semibold ${place}`}>
      {!hideLabel && label}
      <select
        aria-label={name}
        className={`field mt-0.5 ${width}`}
        value={value}
        disabled={disabled}
        onChange={(e) => onChange(options[e.target.selectedIndex - Number(Boolean(empty))][0])}
      >
        {empty && (
          <option value="" disabled>
            {empty}
          </option>
        )}
        {options.map(([v, words]) => (
          <option key={v} value={v}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Words by key as the options of a choice. @param keys those there are to choose from, in this order */
export const optionsOf = <T extends string>(
  words: Record<T, string>,
  keys: readonly T[] = Object.keys(words) as T[],
): [T, string][] => keys.map((key) => [key, words[key]]);

/** A box to tick, with its words behind it. */
export function Tick({
  label,
  checked,
  onChange,
}: {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}) {
  return (
    <label className="flex items-end gap-2 pb-1.5 text-[13px] font-semibold">
      <input type="checkbox" className="size-4" checked={checked} onChange={(e) => onChange(e.target.checked)} />{" "}
      {label}
    </label>
  );
}
