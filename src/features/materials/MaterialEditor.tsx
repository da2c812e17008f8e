"use client";

import { useState } from "react";
import { coverOptics } from "@/core/optics/covers";
import { MATERIAL_RANGES } from "@/core/materials/csv";
import {
  extinctionFor,
  MATERIAL_FLAGS,
  MATERIAL_GROUPS,
  MATERIAL_UNITS,
  type Material,
} from "@/core/materials/material";
import { holdEnter } from "@/ui/holdEnter";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { QuantityField } from "@/ui/QuantityField";
import { FLAG_WORDS, GROUP_WORDS, UNIT_WORDS } from "@/words/material";
import { TextField } from "@/ui/form/fields";
import { Select } from "@/ui/form/Select";
import { Button } from "@/ui/Button";

/** One material's properties, each within the range in which the physics knows what to do with it. */
export function MaterialEditor({
  material,
  busy,
  onKeep,
  onCancel,
}: {
  material: Material;
  busy: boolean;
  onKeep: (m: Material) => void;
  onCancel: () => void;
}) {
  const [m, setM] = useState(material);
  const set = (part: Partial<Material>) => setM({ ...m, ...part });
  return (
    <form
      className="mt-3 border-y-[1.5px] border-ink py-2"
      onKeyDown={holdEnter}
      onSubmit={(e) => {
        e.preventDefault();
        if (m.name.trim()) onKeep({ ...m, name: m.name.trim() });
      }}
    >
      <Properties m={m} set={set} />
      <p className="mt-2 flex flex-wrap gap-x-4 gap-y-1 text-[13px]" role="group" aria-label="Mind">
        {MATERIAL_FLAGS.map((f) => (
          <label key={f} className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={m.flags.includes(f)}
              onChange={(e) => set({ flags: e.target.checked ? [...m.flags, f] : m.flags.filter((x) => x !== f) })}
            />
            {FLAG_WORDS[f]}
          </label>
        ))}
      </p>
      <p className="mt-2 flex gap-2">
        <Button kind="main" type="submit" disabled={busy || !m.name.trim()}>
          Keep it
        </Button>
        <Button onClick={onCancel}>Leave it</Button>
      </p>
    </form>
  );
}

type Figure = Exclude<keyof typeof MATERIAL_RANGES, "index" | "extinctionPerM" | "limitC" | "thicknessM">;

const figure = (key: Figure, label: string, hint?: string): Asked<Material> => {
  const [min, max] = MATERIAL_RANGES[key];
  return { key, label, quantity: "number", min, max, hint };
};
const SURFACE = [
  figure("absorptance", "Absorptance α", "of sunlight, 0 to 1"),
  figure("emittance", "Emittance ε", "of heat radiation"),
];
const INFRARED = [figure("infraredTransmittance", "Heat radiation through", "films; 0 for glass")];
const BULK = [
  figure("conductivity", "Conductivity, W/(m·K)"),
  figure("density", "Density, kg/m³"),
  figure("specificHeat", "Specific heat, J/(kg·K)"),
  figure("expansionPerK", "Expansion, 1/K"),
];
const PRICE = [figure("price", "Price per unit"), figure("pack", "Pack holds")];

function Properties({ m, set }: { m: Material; set: (part: Partial<Material>) => void }) {
  return (
    <div className="grid grid-cols-2 gap-3 md:grid-cols-4 xl:grid-cols-6">
      <TextField
        label="Name"
        place="md:col-span-2"
        required
        maxLength={120}
        autoFocus
        value={m.name}
        onChange={(v) => set({ name: v })}
      />
      <Select
        label="Kind"
        value={m.group}
        options={MATERIAL_GROUPS.map((g) => [g, GROUP_WORDS[g]] as const)}
        onChange={(v) =>
          set({
            group: v,
            optics: v === "glazing" ? (m.optics ?? { index: 1.526, extinctionPerM: 20 }) : null,
          })
        }
      />
      <QuantityField
        label="Thickness"
        quantity="smallLength"
        si={m.thicknessM}
        min={0.000001}
        max={1}
        onChange={(thicknessM) => set({ thicknessM })}
      />
      <QuantityFields of={SURFACE} value={m} set={set} />
      {m.optics && <Optics optics={m.optics} thicknessM={m.thicknessM} onChange={(optics) => set({ optics })} />}
      {m.optics && <QuantityFields of={INFRARED} value={m} set={set} />}
      <QuantityFields of={BULK} value={m} set={set} />
      <QuantityField
        label="Bears for years"
        quantity="temperature"
        si={m.limitC ?? 2000}
        min={20}
        max={2000}
        hint="2 000 °C: no limit here"
        onChange={(v) => set({ limitC: v >= 2000 ? null : v })}
      />
      <Select
        label="Sold by"
        value={m.unit}
        options={MATERIAL_UNITS.map((u) => [u, UNIT_WORDS[u]] as const)}
        onChange={(v) => set({ unit: v })}
      />
      <QuantityFields of={PRICE} value={m} set={set} />
      <TextField label="Note" place="md:col-span-2" maxLength={300} value={m.note} onChange={(v) => set({ note: v })} />
      <TextField label="Source" maxLength={200} value={m.source} onChange={(v) => set({ source: v })} />
    </div>
  );
}

function Optics({
  optics: { index, extinctionPerM },
  thicknessM,
  onChange,
}: {
  optics: NonNullable<Material["optics"]>;
  thicknessM: number;
  onChange: (optics: NonNullable<Material["optics"]>) => void;
}) {
  const { transmitted } = coverOptics([{ index, extinction: extinctionPerM * thicknessM }], 0);
  return (
    <>
      <QuantityField
        label="Lets light through τ"
        quantity="number"
        si={Number(transmitted.toFixed(4))}
        min={0.05}
        max={0.99}
        hint="straight on, this thickness"
        onChange={(t) => onChange({ index, extinctionPerM: extinctionFor(t, index, thicknessM) })}
      />
      <QuantityField
        label="Refractive index"
        quantity="number"
        si={index}
        min={1.01}
        max={3}
        onChange={(next) => onChange({ index: next, extinctionPerM })}
      />
    </>
  );
}
