"use client";

import { Plus, Trash2 } from "lucide-react";
import type { ApplySettings } from "@/core/season/schema";
import { MODES, type Mode } from "@/core/season/parts";
import { QuantityField } from "@/ui/QuantityField";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { Select, Tick } from "@/ui/form/Select";
import { MODE_WORDS } from "@/words/apply";
import { MONTH_NAMES } from "@/words/plan";
import { Button } from "@/ui/Button";

const GRID = "mt-1 grid grid-cols-2 gap-x-3 gap-y-2";

type Row = ApplySettings["rows"][number];
const ROW: Asked<Row>[] = [
  { key: "sideBySide", label: "Side by side", quantity: "number", min: 1, max: 200, whole: true },
  { key: "inSeries", label: "In series", quantity: "number", min: 1, max: 50, whole: true },
  { key: "tilt", label: "Tilt", quantity: "angle", min: 0, max: 90 },
  { key: "azimuth", label: "Faces", quantity: "angle", min: 0, max: 360, direction: true, hint: "South or 180°" },
];

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
  const asBench = `One box, as on the bench: ${Math.round(bench.tilt)}°, facing ${Math.round(bench.azimuth)}°`;
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">Boxes</legend>
      {rows.map((r, i) => (
        <div key={i} className="mt-1 border-b border-hair pb-2">
          <div className="grid grid-cols-4 gap-x-2">
            <QuantityFields
              of={ROW}
              value={r}
              set={(part) => onChange(rows.map((x, k) => (k === i ? { ...x, ...part } : x)))}
            />
          </div>
          {rows.length > 1 && (
            <Button className="mt-1 min-h-[28px]" onClick={() => onChange(rows.filter((_, k) => k !== i))}>
              <Trash2 size={14} aria-hidden /> Take row {i + 1} away
            </Button>
          )}
        </div>
      ))}
      <Button
        className="mt-1"
        disabled={rows.length >= 6}
        onClick={() => onChange([...rows, { inSeries: 1, sideBySide: 1, ...bench }])}
      >
        <Plus size={14} aria-hidden /> {rows.length ? "Another row" : asBench}
      </Button>
    </fieldset>
  );
}

type Pipes = NonNullable<ApplySettings["pipes"]>;
type Exchanger = NonNullable<ApplySettings["exchanger"]>;
const PIPES: Asked<Pipes>[] = [
  { key: "diameterM", label: "Diameter", quantity: "smallLength", min: 0.004, max: 2 },
  { key: "insulationM", label: "Insulation", quantity: "smallLength", min: 0, max: 0.5 },
];
const LEAKS: Asked<Pipes>[] = [{ key: "leakShare", label: "Leaks", quantity: "fraction", min: 0, max: 0.9 }];
const EXCHANGER: Asked<Exchanger>[] = [
  { key: "uaWK", label: "Its UA", quantity: "conductance", min: 1, max: 100000 },
  { key: "waterKgS", label: "Water through it", quantity: "massFlow", min: 0.001, max: 50 },
  { key: "pumpW", label: "Pump", quantity: "power", min: 0, max: 5000 },
];
/** What a run begins as once its length is said: usual, shown and changed at will. */
const USUAL = {
  air: { diameterM: 0.16, insulationM: 0.03, leakShare: 0.03 },
  liquid: { diameterM: 0.022, insulationM: 0.013, leakShare: 0 },
};

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
  const p: Pipes = pipes ?? { lengthM: 0, ...USUAL[air ? "air" : "liquid"] };
  const set = (part: Partial<Pipes>) => onChange({ ...p, ...part });
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
          onChange={(lengthM) => set({ lengthM })}
        />
        {pipes && <QuantityFields of={air ? [...PIPES, ...LEAKS] : PIPES} value={p} set={set} />}
        {air && (
          <Tick
            label="air-to-water exchanger behind the boxes"
            checked={exchanger !== null}
            onChange={(on) => onExchanger(on ? { uaWK: 200, waterKgS: 0.1, pumpW: 15 } : null)}
          />
        )}
        {exchanger && (
          <QuantityFields of={EXCHANGER} value={exchanger} set={(part) => onExchanger({ ...exchanger, ...part })} />
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
