"use client";

import type { SettingFields } from "@/core/quantity/settingField";
import type { QuantityId } from "@/core/quantity/quantities";
import { QuantityField } from "../QuantityField";

/** One figure of an object, as it is asked for. */
export interface Asked<T> {
  key: keyof T & string;
  label: string;
  quantity: QuantityId;
  min?: number;
  max?: number;
  hint?: string;
  /** Counted: a whole number or none. */
  whole?: boolean;
  /** A direction: may be said in words. */
  direction?: boolean;
  /** May be left empty, and is null then. */
  empty?: boolean;
  /** Kept as so many times what is typed. */
  scale?: number;
}

/**
 * What a form asks of a settings table, in the order of its labels: limits stand with the setting, which its schema also
 * holds, and words with the form. @param hints what stands below a field
 */
export const askedOf = <K extends string>(
  fields: SettingFields<NoInfer<K>>,
  labels: Record<K, string>,
  hints: Partial<Record<NoInfer<K>, string>> = {},
): Asked<Record<K, number>>[] =>
  (Object.entries(labels) as [K, string][]).map(([key, label]) => ({
    key,
    label,
    hint: hints[key],
    ...fields[key],
  }));

/** Several figures of one object, in a row of fields; each change gives the part that changed. */
export function QuantityFields<T extends object>({
  of,
  value,
  set,
}: {
  of: readonly Asked<T>[];
  value: Partial<T>;
  set: (part: Partial<T>) => void;
}) {
  const part = (key: string, v: number | null) => set({ [key]: v } as Partial<T>);
  return (
    <>
      {of.map(({ key, label, quantity, min, max, hint, whole, direction, empty, scale = 1 }) => {
        const kept = value[key] as number | null | undefined;
        return (
          <QuantityField
            key={key}
            {...{ label, quantity, min, max, hint, whole, direction }}
            si={kept === undefined || kept === null || Number.isNaN(kept) ? null : kept / scale}
            onChange={(v) => part(key, v * scale)}
            onClear={empty ? () => part(key, null) : undefined}
          />
        );
      })}
    </>
  );
}
