"use client";

import { useState } from "react";
import { useSchema, type ApplySettings, type StoredUse } from "@/core/experiment/schema/apply";
import type { QuantityId } from "@/core/quantity/quantities";
import { QuantityField } from "@/ui/QuantityField";
import { USE_WORDS } from "@/words/apply";
import { MonthPick } from "./MonthPick";

type Kind = StoredUse["kind"];
type Draft = Record<string, unknown> & { kind: Kind };

/** A field of a use: what is asked, and what is usual there. Nothing usual is filled in where it decides. */
interface Asked {
  key: string;
  label: string;
  quantity: QuantityId;
  hint?: string;
}

const FIELDS: Record<Kind, Asked[]> = {
  room: [
    {
      key: "lossWK",
      label: "Loss of the room",
      quantity: "conductance",
      hint: "walls, windows and air; 1 to 3 W/K per m² of floor",
    },
    { key: "floorM2", label: "Floor", quantity: "area" },
    { key: "setC", label: "Kept at least at", quantity: "temperature" },
    { key: "capC", label: "Let out above", quantity: "temperature", hint: "windows open; heat is lost" },
    { key: "gainsW", label: "People, lamps, motors", quantity: "power", hint: "mean of day and night; 0 for none" },
    {
      key: "sunM2",
      label: "Sun through glass, as area",
      quantity: "area",
      hint: "about a third of south glass; 0 for none",
    },
  ],
  freshAir: [
    { key: "flowM3PerS", label: "Fresh air", quantity: "volumeFlow" },
    { key: "setC", label: "Wanted at", quantity: "temperature" },
  ],
  drying: [
    { key: "waterKgADay", label: "Water to dry off a day", quantity: "mass" },
    {
      key: "pickUp",
      label: "Air leaves saturated to",
      quantity: "fraction",
      hint: "of what it could take up; 40 to 70 % through racks",
    },
    { key: "humidity", label: "Humidity outside", quantity: "fraction", hint: "used where the climate has none" },
    { key: "capC", label: "Never warmer than", quantity: "temperature", hint: "wool felts, herbs brown" },
  ],
  hotWater: [
    { key: "litresADay", label: "Water a day, litres", quantity: "number" },
    { key: "coldWinterC", label: "Cold water in winter", quantity: "temperature" },
    { key: "coldSummerC", label: "and in summer", quantity: "temperature" },
    { key: "wantedC", label: "Wanted at", quantity: "temperature" },
    { key: "capC", label: "Pump stops above", quantity: "temperature" },
  ],
};

/** What only has a usual beginning, and decides little: shown, and changed at will. */
const BEGIN: Record<Kind, Record<string, unknown>> = {
  room: { build: "medium", heated: true },
  freshAir: { fromHour: 0, toHour: 24 },
  drying: { months: [4, 5, 6, 7, 8, 9] },
  hotWater: { draw: "evening" },
};

/** What the heat is for. It is kept once every field is said; until then nothing is computed from it. */
export function UseForm({ use, onChange }: { use: ApplySettings["use"]; onChange: (use: StoredUse) => void }) {
  const [draft, setDraft] = useState<Draft | null>(use);
  const change = (part: Record<string, unknown>) => {
    const next = { ...draft, ...part } as Draft;
    setDraft(next);
    const read = useSchema.safeParse(next);
    if (read.success) onChange(read.data);
  };
  const read = draft && useSchema.safeParse(draft);
  const missing = draft ? FIELDS[draft.kind].filter((f) => draft[f.key] === undefined) : [];
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">What it heats</legend>
      <select
        aria-label="What it heats"
        className="field mt-1"
        value={draft?.kind ?? ""}
        onChange={(e) => {
          const kind = e.target.value as Kind;
          setDraft(use?.kind === kind ? use : { kind, ...BEGIN[kind] });
        }}
      >
        <option value="" disabled>
          choose …
        </option>
        {(Object.keys(USE_WORDS) as Kind[]).map((k) => (
          <option key={k} value={k}>
            {USE_WORDS[k]}
          </option>
        ))}
      </select>
      {draft && (
        <div className="mt-2 grid grid-cols-2 gap-x-3 gap-y-2">
          {FIELDS[draft.kind].map((f) => (
            <QuantityField
              key={`${draft.kind}-${f.key}`}
              label={f.label}
              quantity={f.quantity}
              si={(draft[f.key] as number | undefined) ?? null}
              hint={f.hint}
              onChange={(v) => change({ [f.key]: v })}
            />
          ))}
          <More draft={draft} change={change} />
        </div>
      )}
      {missing.length > 0 && (
        <p className="side mt-1" role="status">
          Still asked: {missing.map((f) => f.label.toLowerCase()).join(", ")}.
        </p>
      )}
      {read && !read.success && missing.length === 0 && (
        <p role="alert" className="mt-1 text-[12.5px] font-semibold text-danger">
          {[...new Set(read.error.issues.map((i) => i.message))].join("; ")}. The year shown is that of the last values
          that can be.
        </p>
      )}
      {draft?.kind === "hotWater" && (
        <p className="side mt-1">
          Above 50 °C water scalds; below 55 °C germs may grow in a tank. Mixing valve and heating through: by local
          rules and a licensed plumber.
        </p>
      )}
      {draft?.kind === "room" && (
        <p className="side mt-1">
          A fan that sends room air outside draws smoke from stoves back into the room: give fires air of their own.
        </p>
      )}
    </fieldset>
  );
}

function More({ draft, change }: { draft: Draft; change: (part: Record<string, unknown>) => void }) {
  if (draft.kind === "room")
    return (
      <>
        <Select
          label="Walls and floor"
          value={draft.build as string}
          options={[
            ["light", "light: boards"],
            ["medium", "medium: block and plaster"],
            ["heavy", "heavy: stone"],
          ]}
          onChange={(build) => change({ build })}
        />
        <label className="flex items-end gap-2 pb-1.5 text-[13px] font-semibold">
          <input
            type="checkbox"
            className="size-4"
            checked={draft.heated as boolean}
            onChange={(e) => change({ heated: e.target.checked })}
          />
          something else heats it too
        </label>
      </>
    );
  if (draft.kind === "freshAir")
    return (
      <>
        <QuantityField
          label="From hour"
          quantity="number"
          si={draft.fromHour as number}
          min={0}
          max={23}
          onChange={(v) => change({ fromHour: Math.round(v) })}
        />
        <QuantityField
          label="until hour"
          quantity="number"
          si={draft.toHour as number}
          min={1}
          max={24}
          onChange={(v) => change({ toHour: Math.round(v) })}
        />
      </>
    );
  if (draft.kind === "drying")
    return (
      <div className="col-span-2">
        <MonthPick label="Months" months={draft.months as number[]} onChange={(months) => change({ months })} />
      </div>
    );
  return (
    <Select
      label="Drawn mostly"
      value={draft.draw as string}
      options={[
        ["morning", "in the morning"],
        ["evening", "in the evening"],
        ["even", "all day alike"],
      ]}
      onChange={(draw) => change({ draw })}
    />
  );
}

export function Select<T extends string>({
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
    <label className="text-[13px] font-semibold">
      {label}
      <select aria-label={label} className="field mt-0.5" value={value} onChange={(e) => onChange(e.target.value as T)}>
        {options.map(([v, words]) => (
          <option key={v} value={v}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
