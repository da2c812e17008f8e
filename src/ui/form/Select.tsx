"use client";

/** A labelled choice from a list. */
export function Select<T extends string>({
  label,
  value,
  options,
  empty,
  hideLabel,
  onChange,
}: {
  label: string;
  value: T | "";
  options: readonly (readonly [T, string])[];
  /** Shown while nothing is chosen. */
  empty?: string;
  hideLabel?: boolean;
  onChange: (value: T) => void;
}) {
  return (
    <label className="text-[13px] font-semibold">
      {!hideLabel && label}
      <select aria-label={label} className="field mt-0.5" value={value} onChange={(e) => onChange(e.target.value as T)}>
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

/** Words by key as the options of a choice. */
export const optionsOf = <T extends string>(words: Record<T, string>): [T, string][] =>
  Object.entries(words) as [T, string][];

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
