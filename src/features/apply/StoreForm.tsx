"use client";

import { useState } from "react";
import { storeSchema, type StoredStore } from "@/core/experiment/schema/apply";
import type { QuantityId } from "@/core/quantity/quantities";
import { QuantityField } from "@/ui/QuantityField";
import { STORE_WORDS } from "@/words/apply";

type Kind = StoredStore["kind"];
type Draft = Record<string, unknown> & { kind: Kind };

const LOSS = { key: "lossWK", label: "Its loss", quantity: "conductance" as QuantityId };
const FIELDS: Record<Kind, { key: string; label: string; quantity: QuantityId; hint?: string; empty?: boolean }[]> = {
  none: [],
  water: [
    { key: "kg", label: "Water", quantity: "mass" },
    LOSS,
    {
      key: "exchangeWK",
      label: "Coil or exchanger",
      quantity: "conductance",
      hint: "empty: fed directly",
      empty: true,
    },
  ],
  bottles: [
    { key: "count", label: "Containers", quantity: "number" },
    { key: "litresEach", label: "litres each", quantity: "number" },
    { key: "diameterM", label: "as wide as", quantity: "length" },
    LOSS,
  ],
  rock: [
    { key: "volumeM3", label: "Bin", quantity: "volume", hint: "0.25 m³ per m² of air boxes is usual" },
    { key: "lengthM", label: "Air’s way through", quantity: "length" },
    { key: "stoneM", label: "Stones", quantity: "smallLength", hint: "20 to 40 mm, washed" },
    { key: "voidShare", label: "Air between them", quantity: "fraction", hint: "40 to 45 % of round stones" },
    LOSS,
  ],
  slab: [
    { key: "areaM2", label: "Slab", quantity: "area" },
    { key: "thicknessM", label: "Thickness", quantity: "length" },
    { key: "exchangeWK", label: "From the stream into it", quantity: "conductance" },
    LOSS,
  ],
  latent: [
    { key: "kg", label: "Mass", quantity: "mass" },
    { key: "meltC", label: "Melts at", quantity: "temperature" },
    { key: "heatJPerKg", label: "Heat of melting, kJ/kg", quantity: "number", hint: "150 to 220" },
    { key: "exchangeWK", label: "From the stream into it", quantity: "conductance" },
    LOSS,
  ],
};

/** Fields kept in other units than they are typed in. */
const SCALE: Record<string, number> = { heatJPerKg: 1000 };

/** What keeps heat for the evening and for cloudy days. */
export function StoreForm({ store, onChange }: { store: StoredStore; onChange: (store: StoredStore) => void }) {
  const [draft, setDraft] = useState<Draft>(store);
  const begin = (kind: Kind): Draft => ({
    kind,
    ...(kind === "none" || kind === "slab" ? {} : { inRoom: false }),
    ...(kind === "water" ? { exchangeWK: null } : {}),
  });
  const change = (part: Record<string, unknown>) => {
    const next = { ...draft, ...part } as Draft;
    setDraft(next);
    const read = storeSchema.safeParse(next);
    if (read.success) onChange(read.data);
  };
  const read = storeSchema.safeParse(draft);
  const missing = FIELDS[draft.kind].filter((f) => draft[f.key] === undefined);
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">Store</legend>
      <select
        aria-label="Store"
        className="field mt-1"
        value={draft.kind}
        onChange={(e) => {
          const kind = e.target.value as Kind;
          const next = store.kind === kind ? store : begin(kind);
          setDraft(next);
          const whole = storeSchema.safeParse(next);
          if (whole.success) onChange(whole.data);
        }}
      >
        {(Object.keys(STORE_WORDS) as Kind[]).map((k) => (
          <option key={k} value={k}>
            {STORE_WORDS[k]}
          </option>
        ))}
      </select>
      {draft.kind !== "none" && (
        <div className="mt-2 grid grid-cols-2 gap-x-3 gap-y-2">
          {FIELDS[draft.kind].map(({ key, label, quantity, hint, empty }) => (
            <QuantityField
              key={`${draft.kind}-${key}`}
              label={label}
              quantity={quantity}
              si={draft[key] === undefined || draft[key] === null ? null : (draft[key] as number) / (SCALE[key] ?? 1)}
              hint={hint}
              onChange={(v) => change({ [key]: v * (SCALE[key] ?? 1) })}
              onClear={empty ? () => change({ [key]: null }) : undefined}
            />
          ))}
          {"inRoom" in draft && (
            <label className="flex items-end gap-2 pb-1.5 text-[13px] font-semibold">
              <input
                type="checkbox"
                className="size-4"
                checked={draft.inRoom as boolean}
                onChange={(e) => change({ inRoom: e.target.checked })}
              />
              stands in the room
            </label>
          )}
        </div>
      )}
      {missing.length > 0 && (
        <p className="side mt-1" role="status">
          Still asked: {missing.map((f) => f.label.toLowerCase()).join(", ")}. Until then the year is shown without this
          store.
        </p>
      )}
      {!read.success && missing.length === 0 && (
        <p role="alert" className="mt-1 text-[12.5px] font-semibold text-danger">
          {FIELDS[draft.kind].find((f) => read.error.issues.some((i) => i.path.includes(f.key)))?.label ?? "A value"}{" "}
          cannot be that. A store of nothing keeps nothing: choose “none”.
        </p>
      )}
      {draft.kind === "rock" && (
        <p className="side mt-1">Damp stones grow mould that people breathe: keep the bin dry, and filter its air.</p>
      )}
    </fieldset>
  );
}
