"use client";

import type { ApplySettings, StoredUse } from "@/core/season/schema";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { issueWords } from "@/words/refusal";
import { optionsOf, Select, Tick } from "@/ui/form/Select";
import { UNCHECKED, useWhole } from "@/ui/form/useWhole";
import { Problem } from "@/ui/Problem";
import { USE_WORDS } from "@/words/apply";
import { MonthPick } from "./MonthPick";

const schema = () => import("@/core/season/schema").then((m) => m.storedUseSchema);

type Kind = StoredUse["kind"];
type Draft = Record<string, unknown> & { kind: Kind };

/** What is asked of each use, and what is usual there. Nothing usual is filled in where it decides. */
const FIELDS: Record<Kind, Asked<Draft>[]> = {
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
    {
      key: "humidity",
      label: "Humidity outside, mean of the day",
      quantity: "fraction",
      hint: "used where the climate has none",
    },
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

const CARE: Partial<Record<Kind, string>> = {
  hotWater:
    "Above 50 °C water scalds; below 55 °C germs may grow in a tank. Mixing valve and heating through: by local rules and a licensed plumber.",
  room: "A fan that sends room air outside draws smoke from stoves back into the room: give fires air of their own.",
};

/** What the heat is for. It is kept once every field is said; until then nothing is computed from it. */
export function UseForm({ use, onChange }: { use: ApplySettings["use"]; onChange: (use: StoredUse) => void }) {
  const { draft, setDraft, take, issues, unchecked } = useWhole<StoredUse, Draft | null>(schema, use, onChange);
  const change = (part: Record<string, unknown>) => take({ ...draft, ...part } as Draft);
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">What it heats</legend>
      <Select
        label="What it heats"
        hideLabel
        value={draft?.kind ?? ""}
        empty="choose …"
        options={optionsOf(USE_WORDS)}
        onChange={(kind) => setDraft(use?.kind === kind ? use : { kind, ...BEGIN[kind] })}
      />
      {draft && (
        <>
          <div key={draft.kind} className="mt-2 grid grid-cols-2 gap-x-3 gap-y-2">
            <QuantityFields of={FIELDS[draft.kind]} value={draft} set={change} />
            <More draft={draft} change={change} />
          </div>
          <Lacking {...{ draft, issues, unchecked }} />
          {CARE[draft.kind] && <p className="side mt-1">{CARE[draft.kind]}</p>}
        </>
      )}
    </fieldset>
  );
}

function Lacking({
  draft,
  issues,
  unchecked,
}: { draft: Draft } & Pick<ReturnType<typeof useWhole>, "issues" | "unchecked">) {
  if (unchecked) return <Problem>{UNCHECKED}</Problem>;
  const missing = FIELDS[draft.kind].filter((f) => draft[f.key] === undefined);
  if (missing.length > 0)
    return (
      <p className="side mt-1" role="status">
        Still asked: {missing.map((f) => f.label.toLowerCase()).join(", ")}.
      </p>
    );
  if (issues.length === 0) return null;
  return (
    <p role="alert" className="mt-1 text-[12.5px] font-semibold text-danger">
      {issues
        .slice(0, 3)
        .map((i) => issueWords(i, 0, FIELDS[draft.kind].find((f) => i.path.includes(f.key))?.label))
        .join(" ")}{" "}
      The year shown uses your last valid values.
    </p>
  );
}

const HOURS: Asked<Draft>[] = [
  { key: "fromHour", label: "From hour", quantity: "number", min: 0, max: 23, whole: true },
  { key: "toHour", label: "until hour", quantity: "number", min: 1, max: 24, whole: true },
];

/** What is not a figure with a unit. */
function More({ draft, change }: { draft: Draft; change: (part: Record<string, unknown>) => void }) {
  switch (draft.kind) {
    case "room":
      return (
        <>
          <Select
            label="Walls and floor"
            value={draft.build as string}
            options={optionsOf({ light: "light: boards", medium: "medium: block and plaster", heavy: "heavy: stone" })}
            onChange={(build) => change({ build })}
          />
          <Tick
            label="something else heats it too"
            checked={draft.heated as boolean}
            onChange={(heated) => change({ heated })}
          />
        </>
      );
    case "freshAir":
      return <QuantityFields of={HOURS} value={draft} set={change} />;
    case "drying":
      return (
        <div className="col-span-2">
          <MonthPick label="Months" months={draft.months as number[]} onChange={(months) => change({ months })} />
        </div>
      );
    case "hotWater":
      return (
        <Select
          label="Drawn mostly"
          value={draft.draw as string}
          options={optionsOf({ morning: "in the morning", evening: "in the evening", even: "all day alike" })}
          onChange={(draw) => change({ draw })}
        />
      );
  }
}
