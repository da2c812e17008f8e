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
import { QuantityField } from "@/ui/QuantityField";
import { FLAG_WORDS, GROUP_WORDS, UNIT_WORDS } from "@/words/material";
import { TextField } from "@/ui/form/fields";
import { Select } from "@/ui/form/Select";

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
  const field = (
    label: string,
    key:
      | "density"
      | "specificHeat"
      | "conductivity"
      | "absorptance"
      | "emittance"
      | "expansionPerK"
      | "price"
      | "pack"
      | "infraredTransmittance",
    hint?: string,
  ) => {
    const [min, max] = MATERIAL_RANGES[key];
    return (
      <QuantityField
        label={label}
        quantity="number"
        si={m[key]}
        min={min}
        max={max}
        hint={hint}
        onChange={(v) => set({ [key]: v })}
      />
    );
  };
  const transmittance = m.optics
    ? coverOptics([{ index: m.optics.index, extinction: m.optics.extinctionPerM * m.thicknessM }], 0).transmitted
    : 0.85;
  return (
    <form
      className="mt-3 border-y-[1.5px] border-ink py-2"
      onKeyDown={holdEnter}
      onSubmit={(e) => {
        e.preventDefault();
        if (m.name.trim()) onKeep({ ...m, name: m.name.trim() });
      }}
    >
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
        {field("Absorptance α", "absorptance", "of sunlight, 0 to 1")}
        {field("Emittance ε", "emittance", "of heat radiation")}
        {m.optics && (
          <QuantityField
            label="Lets light through τ"
            quantity="number"
            si={Number(transmittance.toFixed(4))}
            min={0.05}
            max={0.99}
            hint="straight on, this thickness"
            onChange={(t) =>
              set({
                optics: { index: m.optics!.index, extinctionPerM: extinctionFor(t, m.optics!.index, m.thicknessM) },
              })
            }
          />
        )}
        {m.optics && (
          <QuantityField
            label="Refractive index"
            quantity="number"
            si={m.optics.index}
            min={1.01}
            max={3}
            onChange={(index) => set({ optics: { ...m.optics!, index } })}
          />
        )}
        {m.optics && field("Heat radiation through", "infraredTransmittance", "films; 0 for glass")}
        {field("Conductivity, W/(m·K)", "conductivity")}
        {field("Density, kg/m³", "density")}
        {field("Specific heat, J/(kg·K)", "specificHeat")}
        {field("Expansion, 1/K", "expansionPerK")}
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
        {field("Price per unit", "price")}
        {field("Pack holds", "pack")}
        <TextField
          label="Note"
          place="md:col-span-2"
          maxLength={300}
          value={m.note}
          onChange={(v) => set({ note: v })}
        />
        <TextField label="Source" maxLength={200} value={m.source} onChange={(v) => set({ source: v })} />
      </div>
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
        <button type="submit" className="btn btn-main" disabled={busy || !m.name.trim()}>
          Keep it
        </button>
        <button type="button" className="btn" onClick={onCancel}>
          Leave it
        </button>
      </p>
    </form>
  );
}
