"use client";

import { useState } from "react";
import type { Thermostat } from "@/core/collector/design";
import { controlSchema, type ApplySettings, type StoredControl } from "@/core/season/schema";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { optionsOf, Select, Tick } from "@/ui/form/Select";

type Kind = StoredControl["kind"];
type Draft = Record<string, unknown> & { kind: Kind };
type Stage = NonNullable<ApplySettings["secondStage"]>;

const CONTROL_WORDS: Record<Kind, string> = {
  difference: "difference to what it heats",
  thermostat: "thermostat or snap disc on the box",
  sun: "fan on its own panel",
};

const FIELDS: Record<Kind, Asked<Draft>[]> = {
  difference: [
    { key: "onK", label: "Starts above by", quantity: "temperatureDifference" },
    { key: "offK", label: "stops below by", quantity: "temperatureDifference" },
  ],
  thermostat: [
    { key: "onC", label: "On above", quantity: "temperature" },
    { key: "offC", label: "Off below", quantity: "temperature" },
  ],
  sun: [
    { key: "panelW", label: "Panel at full sun", quantity: "power" },
    { key: "fanW", label: "Fan at full speed", quantity: "power" },
  ],
};

const STAGE: Asked<Stage>[] = [
  { key: "flow", label: "Times the flow", quantity: "number", min: 1.05, max: 5 },
  { key: "power", label: "Times the power", quantity: "number", min: 1, max: 20, hint: "flow cubed" },
  { key: "aboveC", label: "Box above", quantity: "temperature" },
];

/** What starts and stops the fan. @param drawn switch in the winner's drawing */
export function ControlForm({
  control,
  drawn,
  secondStage,
  onChange,
  onStage,
}: {
  control: StoredControl | null;
  drawn: Thermostat | null;
  secondStage: ApplySettings["secondStage"];
  onChange: (control: StoredControl) => void;
  onStage: (stage: ApplySettings["secondStage"]) => void;
}) {
  const [draft, setDraft] = useState<Draft | null>(control);
  const take = (next: Draft) => {
    setDraft(next);
    const read = controlSchema.safeParse(next);
    if (read.success) onChange(read.data);
  };
  const begun = (kind: Kind): Draft => {
    if (kind === control?.kind) return control;
    return kind === "thermostat" && drawn ? { kind, onC: drawn.onC, offC: drawn.offC } : { kind };
  };
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">What starts and stops the fan or pump</legend>
      <Select
        label="Control"
        hideLabel
        value={draft?.kind ?? ""}
        empty="choose …"
        options={optionsOf(CONTROL_WORDS)}
        onChange={(kind) => take(begun(kind))}
      />
      {draft && (
        <div key={draft.kind} className="mt-1 grid grid-cols-2 gap-x-3 gap-y-2">
          <QuantityFields of={FIELDS[draft.kind]} value={draft} set={(part) => take({ ...draft, ...part } as Draft)} />
          {draft.kind !== "sun" && (
            <Tick
              label="a second, faster stage"
              checked={secondStage !== null}
              onChange={(on) => onStage(on ? { flow: 1.5, power: 3.4, aboveC: 45 } : null)}
            />
          )}
          {draft.kind !== "sun" && secondStage && (
            <QuantityFields of={STAGE} value={secondStage} set={(part) => onStage({ ...secondStage, ...part })} />
          )}
        </div>
      )}
      <Lacking draft={draft} />
    </fieldset>
  );
}

function Lacking({ draft }: { draft: Draft | null }) {
  const read = draft && controlSchema.safeParse(draft);
  if (!read || read.success) return null;
  const crossed = read.error.issues.find((i) => i.code === "custom");
  return (
    <p role="alert" className="mt-1 text-[12.5px] font-semibold text-danger">
      {crossed ? `Set points are crossed: ${crossed.message}.` : "Say both values."}
    </p>
  );
}
