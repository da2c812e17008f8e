"use client";

import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Thermostat } from "@/core/collector/design";
import { controlSchema, type ApplySettings, type StoredControl } from "@/core/experiment/schema/apply";
import { QuantityField } from "@/ui/QuantityField";
import { MODE_WORDS } from "@/words/apply";
import { MONTH_NAMES } from "@/words/plan";
import { MODES, type Mode } from "@/core/season/parts";
import { Select } from "./UseForm";

const GRID = "mt-1 grid grid-cols-2 gap-x-3 gap-y-2";

/** How many boxes, how joined, and where they look. */
export function RowsForm({
  rows,
  bench,
  onChange,
}: {
  rows: ApplySettings["rows"];
  bench: { tilt: number; azimuth: number };
  onChange: (rows: ApplySettings["rows"]) => void;
}) {
  const change = (i: number, part: Partial<ApplySettings["rows"][number]>) =>
    onChange(rows.map((r, k) => (k === i ? { ...r, ...part } : r)));
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">Boxes</legend>
      {rows.map((r, i) => (
        <div key={i} className="mt-1 border-b border-hair pb-2">
          <div className="grid grid-cols-4 gap-x-2">
            <QuantityField
              label="Side by side"
              quantity="number"
              si={r.sideBySide}
              min={1}
              max={200}
              onChange={(v) => change(i, { sideBySide: Math.round(v) })}
            />
            <QuantityField
              label="In series"
              quantity="number"
              si={r.inSeries}
              min={1}
              max={50}
              onChange={(v) => change(i, { inSeries: Math.round(v) })}
            />
            <QuantityField
              label="Tilt"
              quantity="angle"
              si={r.tilt}
              min={0}
              max={90}
              onChange={(tilt) => change(i, { tilt })}
            />
            <QuantityField
              label="Faces"
              quantity="angle"
              si={r.azimuth}
              min={0}
              max={360}
              hint="180° south"
              onChange={(azimuth) => change(i, { azimuth })}
            />
          </div>
          {rows.length > 1 && (
            <button
              type="button"
              className="btn mt-1 min-h-[28px]"
              onClick={() => onChange(rows.filter((_, k) => k !== i))}
            >
              <Trash2 size={14} aria-hidden /> Take row {i + 1} away
            </button>
          )}
        </div>
      ))}
      <button
        type="button"
        className="btn mt-1"
        disabled={rows.length >= 6}
        onClick={() => onChange([...rows, { inSeries: 1, sideBySide: 1, ...bench }])}
      >
        <Plus size={14} aria-hidden />{" "}
        {rows.length
          ? "Another row"
          : `One box, as on the bench: ${Math.round(bench.tilt)}°, facing ${Math.round(bench.azimuth)}°`}
      </button>
    </fieldset>
  );
}

type Control = StoredControl["kind"];

const CONTROL_WORDS: Record<Control, string> = {
  difference: "difference to what it heats",
  thermostat: "thermostat or snap disc on the box",
  sun: "fan on its own panel",
};

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
  const [draft, setDraft] = useState<(Record<string, unknown> & { kind: Control }) | null>(control);
  const change = (part: Record<string, unknown>) => {
    const next = { ...draft, ...part } as Record<string, unknown> & { kind: Control };
    setDraft(next);
    const read = controlSchema.safeParse(next);
    if (read.success) onChange(read.data);
  };
  const read = draft && controlSchema.safeParse(draft);
  const field = (key: string, label: string, quantity: "temperature" | "temperatureDifference" | "power") => (
    <QuantityField
      key={key}
      label={label}
      quantity={quantity}
      si={(draft?.[key] as number | undefined) ?? null}
      onChange={(v) => change({ [key]: v })}
    />
  );
  const begun = (kind: Control) =>
    kind === "thermostat" && drawn
      ? { kind, onC: drawn.onC, offC: drawn.offC }
      : kind === control?.kind
        ? control
        : { kind };
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">What starts and stops the fan or pump</legend>
      <select
        aria-label="Control"
        className="field mt-1"
        value={draft?.kind ?? ""}
        onChange={(e) => {
          const next = begun(e.target.value as Control);
          setDraft(next);
          const whole = controlSchema.safeParse(next);
          if (whole.success) onChange(whole.data);
        }}
      >
        <option value="" disabled>
          choose …
        </option>
        {(Object.keys(CONTROL_WORDS) as Control[]).map((k) => (
          <option key={k} value={k}>
            {CONTROL_WORDS[k]}
          </option>
        ))}
      </select>
      <div className={GRID}>
        {draft?.kind === "difference" && (
          <>
            {field("onK", "Starts above by", "temperatureDifference")}
            {field("offK", "stops below by", "temperatureDifference")}
          </>
        )}
        {draft?.kind === "thermostat" && (
          <>
            {field("onC", "On above", "temperature")}
            {field("offC", "Off below", "temperature")}
          </>
        )}
        {draft?.kind === "sun" && (
          <>
            {field("panelW", "Panel at full sun", "power")}
            {field("fanW", "Fan at full speed", "power")}
          </>
        )}
        {draft && draft.kind !== "sun" && (
          <label className="col-span-2 flex items-center gap-2 text-[13px] font-semibold">
            <input
              type="checkbox"
              className="size-4"
              checked={secondStage !== null}
              onChange={(e) => onStage(e.target.checked ? { flow: 1.5, power: 3.4, aboveC: 45 } : null)}
            />
            a second, faster stage
          </label>
        )}
        {secondStage && draft?.kind !== "sun" && (
          <>
            <QuantityField
              label="Times the flow"
              quantity="number"
              si={secondStage.flow}
              min={1.05}
              max={5}
              onChange={(flow) => onStage({ ...secondStage, flow })}
            />
            <QuantityField
              label="Times the power"
              quantity="number"
              si={secondStage.power}
              min={1}
              max={20}
              hint="flow cubed"
              onChange={(power) => onStage({ ...secondStage, power })}
            />
            <QuantityField
              label="Box above"
              quantity="temperature"
              si={secondStage.aboveC}
              onChange={(aboveC) => onStage({ ...secondStage, aboveC })}
            />
          </>
        )}
      </div>
      {read && !read.success && (
        <p role="alert" className="mt-1 text-[12.5px] font-semibold text-danger">
          {read.error.issues.some((i) => i.code === "custom")
            ? `Set points are crossed: ${read.error.issues[0].message}.`
            : "Say both values."}
        </p>
      )}
    </fieldset>
  );
}

/** Duct or hose between boxes and use, and an air-to-water exchanger. */
export function PipesForm({
  pipes,
  exchanger,
  air,
  onChange,
  onExchanger,
}: {
  pipes: ApplySettings["pipes"];
  exchanger: ApplySettings["exchanger"];
  air: boolean;
  onChange: (pipes: ApplySettings["pipes"]) => void;
  onExchanger: (exchanger: ApplySettings["exchanger"]) => void;
}) {
  const p = pipes ?? {
    lengthM: 0,
    diameterM: air ? 0.16 : 0.022,
    insulationM: air ? 0.03 : 0.013,
    leakShare: air ? 0.03 : 0,
  };
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">{air ? "Duct" : "Hose"} to what it heats</legend>
      <div className={GRID}>
        <QuantityField
          label="One way"
          quantity="length"
          si={pipes?.lengthM ?? null}
          min={0}
          max={500}
          hint="0 where the box sits on the wall"
          onChange={(lengthM) => onChange({ ...p, lengthM })}
        />
        {pipes && (
          <>
            <QuantityField
              label="Diameter"
              quantity="smallLength"
              si={p.diameterM}
              min={0.004}
              max={2}
              onChange={(diameterM) => onChange({ ...p, diameterM })}
            />
            <QuantityField
              label="Insulation"
              quantity="smallLength"
              si={p.insulationM}
              min={0}
              max={0.5}
              onChange={(insulationM) => onChange({ ...p, insulationM })}
            />
            {air && (
              <QuantityField
                label="Leaks"
                quantity="fraction"
                si={p.leakShare}
                min={0}
                max={0.9}
                onChange={(leakShare) => onChange({ ...p, leakShare })}
              />
            )}
          </>
        )}
        {air && (
          <label className="col-span-2 flex items-center gap-2 text-[13px] font-semibold">
            <input
              type="checkbox"
              className="size-4"
              checked={exchanger !== null}
              onChange={(e) => onExchanger(e.target.checked ? { uaWK: 200, waterKgS: 0.1, pumpW: 15 } : null)}
            />
            air-to-water exchanger behind the boxes
          </label>
        )}
        {exchanger && (
          <>
            <QuantityField
              label="Its UA"
              quantity="conductance"
              si={exchanger.uaWK}
              min={1}
              max={100000}
              onChange={(uaWK) => onExchanger({ ...exchanger, uaWK })}
            />
            <QuantityField
              label="Water through it"
              quantity="massFlow"
              si={exchanger.waterKgS}
              min={0.001}
              max={50}
              onChange={(waterKgS) => onExchanger({ ...exchanger, waterKgS })}
            />
            <QuantityField
              label="Pump"
              quantity="power"
              si={exchanger.pumpW}
              min={0}
              max={5000}
              onChange={(pumpW) => onExchanger({ ...exchanger, pumpW })}
            />
          </>
        )}
      </div>
    </fieldset>
  );
}

/** What boxes and store do month by month. */
export function ModesForm({ modes, onChange }: { modes: readonly Mode[]; onChange: (modes: Mode[]) => void }) {
  return (
    <details>
      <summary className="cursor-pointer text-[13.5px] font-[650]">
        Months: {[...new Set(modes)].map((m) => MODE_WORDS[m]).join(", ")}
      </summary>
      <div className="mt-1 grid grid-cols-2 gap-x-3 gap-y-1 sm:grid-cols-3">
        {MONTH_NAMES.map((name, m) => (
          <Select
            key={name}
            label={name}
            value={modes[m]}
            options={MODES.map((mode) => [mode, MODE_WORDS[mode]] as const)}
            onChange={(mode) => onChange(modes.map((old, k) => (k === m ? mode : old)))}
          />
        ))}
      </div>
    </details>
  );
}
