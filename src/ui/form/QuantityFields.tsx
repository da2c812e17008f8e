"use client";

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
  /** May be left empty, and is null then. */
  empty?: boolean;
  /** Kept as so many times what is typed. */
  scale?: number;
}

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
      {of.map(({ key, label, quantity, min, max, hint, whole, empty, scale = 1 }) => {
        const kept = value[key] as number | null | undefined;
        return (
          <QuantityField
            key={key}
            {...{ label, quantity, min, max, hint, whole }}
            si={kept === undefined || kept === null || Number.isNaN(kept) ? null : kept / scale}
            onChange={(v) => part(key, v * scale)}
            onClear={empty ? () => part(key, null) : undefined}
          />
        );
      })}
    </>
  );
}
