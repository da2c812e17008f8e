"use client";

import { useState } from "react";
import type { Thermostat } from "@/core/collector/design";
import {
  CONTROL_FIELDS,
  crossedIn,
  saidControl,
  type ControlDraft as Draft,
  type StoredControl,
} from "@/core/season/control";
import type { ApplySettings } from "@/core/season/schema";
import { askedOf, QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { optionsOf, Select, Tick } from "@/ui/form/Select";

type Kind = StoredControl["kind"];
type Figures = Record<string, number>;
type Stage = NonNullable<ApplySettings["secondStage"]>;

const CONTROL_WORDS: Record<Kind, string> = {
  difference: "difference to what it heats",
  thermostat: "thermostat or snap disc on the box",
  sun: "fan on its own panel",
};

const FIELDS: Record<Kind, Asked<Figures>[]> = {
  difference: askedOf<string>(CONTROL_FIELDS.difference, { onK: "Starts above by", offK: "stops below by" }),
  thermostat: askedOf<string>(CONTROL_FIELDS.thermostat, { onC: "On above", offC: "Off below" }),
  sun: askedOf<string>(CONTROL_FIELDS.sun, { panelW: "Panel at full sun", fanW: "Fan at full speed" }),
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
    const said = saidControl(next);
    if (said && !crossedIn(said)) onChange(said);
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
          <QuantityFields<Figures>
            of={FIELDS[draft.kind]}
            value={draft as Partial<Figures>}
            set={(part) => take({ ...draft, ...part })}
          />
          {draft.kind === "sun" && (
            <Tick
              label="behind a converter that keeps the panel at its best"
              checked={draft.tracked === true}
              onChange={(tracked) => take({ ...draft, tracked: tracked || undefined })}
            />
          )}
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
  if (!draft) return null;
  const said = saidControl(draft);
  const crossed = said && crossedIn(said);
  if (said && !crossed) return null;
  return (
    <p role="alert" className="mt-1 text-[12.5px] font-semibold text-danger">
      {crossed ? `Set points are crossed: ${crossed}.` : "Say both values."}
    </p>
  );
}
