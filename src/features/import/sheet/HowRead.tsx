"use client";

import { Choice } from "@/ui/Choice";
import { SHEET_FLOW_WORDS } from "@/words/sheet";
import { FLOW_COLUMN, SHEET_FLOWS, showsMore, type SheetDraft } from "./sheetDraft";
import { TextField } from "@/ui/form/fields";
import { Select } from "@/ui/form/Select";
import { Head } from "@/ui/Head";

interface HowReadProps {
  draft: SheetDraft;
  onChange: (change: Partial<SheetDraft>) => void;
}

/** With what and in which units the rows are read: nothing of it is guessed. */
export function HowRead({ draft, onChange }: { draft: SheetDraft; onChange: (change: Partial<SheetDraft>) => void }) {
  return (
    <section aria-labelledby="how-read" className="mt-4">
      <Head id="how-read" title="How it is read" />
      <div className="flex flex-wrap items-start gap-x-8 gap-y-2 pt-2">
        <DayAndBoxes draft={draft} onChange={onChange} />
        <Choice
          label="Temperatures in"
          value={draft.degrees ?? ("" as "°C")}
          options={[
            ["°C", "°C"],
            ["°F", "°F"],
          ]}
          onChange={(degrees) => onChange({ degrees })}
        />
        <Choice
          label="Thermometers"
          value={draft.thermometers ?? ("" as "one")}
          options={[
            ["one", "one, carried"],
            ["ends", "one at inlets, one at outlets"],
            ["each", "each its own"],
          ]}
          onChange={(thermometers) => onChange({ thermometers })}
        />
        <FlowChoice draft={draft} onChange={onChange} />
        <label className="flex min-h-11 items-center gap-2 text-[13px] font-semibold">
          <input
            type="checkbox"
            className="size-4"
            checked={showsMore(draft)}
            onChange={(e) => onChange({ more: e.target.checked })}
          />
          Sun and outside too
        </label>
      </div>
      <p className="side mt-1">A cell may name its own unit: 77 F, 690 fpm.</p>
    </section>
  );
}

/** What the rows hold as flow, in which unit, and whether its meter was carried. */
function FlowChoice({ draft, onChange }: HowReadProps) {
  const metered = draft.flow !== null && draft.flow !== "constant" ? FLOW_COLUMN[draft.flow] : null;
  return (
    <>
      <label className="text-[13px] font-semibold">
        Flow is
        <select
          className="field mt-0.5"
          value={draft.flow ?? ""}
          onChange={(e) => onChange({ flow: (e.target.value || null) as SheetDraft["flow"], flowUnit: null })}
        >
          {draft.flow === null && <option value="">which?</option>}
          {SHEET_FLOWS.map((f) => (
            <option key={f} value={f}>
              {SHEET_FLOW_WORDS[f]}
            </option>
          ))}
        </select>
      </label>
      {metered && (
        <label className="text-[13px] font-semibold">
          read in
          <select
            className="field mt-0.5"
            value={draft.flowUnit ?? ""}
            onChange={(e) => onChange({ flowUnit: e.target.value || null })}
          >
            {draft.flowUnit === null && <option value="">which?</option>}
            {metered.units.map((u) => (
              <option key={u}>{u}</option>
            ))}
          </select>
        </label>
      )}
      {draft.flow !== "constant" && draft.lanes.length > 1 && (
        <Choice
          label="Flow meter"
          value={draft.meter ?? ("" as "one")}
          options={[
            ["one", "one, carried"],
            ["each", "each its own"],
          ]}
          onChange={(meter) => onChange({ meter })}
        />
      )}
    </>
  );
}

function DayAndBoxes({ draft, onChange }: HowReadProps) {
  return (
    <>
      <TextField label="Day" type="date" value={draft.date} onChange={(v) => onChange({ date: v })} />
      <Select
        label="Boxes"
        value={draft.lanes.length}
        options={[1, 2, 3, 4, 5, 6, 7, 8].map((n) => [n, n === 1 ? "A alone" : `A to ${"ABCDEFGH"[n - 1]}`] as const)}
        onChange={(v) => onChange({ lanes: [..."ABCDEFGH"].slice(0, v) })}
      />
    </>
  );
}
