"use client";

import { Download, Upload } from "lucide-react";
import { useMemo, useState } from "react";
import { toast } from "sonner";
import { coverOptics } from "@/core/optics/covers";
import { materialsFromCsv, materialsToCsv, MATERIAL_RANGES, type MaterialProblem } from "@/core/materials/csv";
import { LIBRARY } from "@/core/materials/library";
import {
  extinctionFor,
  MATERIAL_FLAGS,
  MATERIAL_GROUPS,
  MATERIAL_UNITS,
  type Material,
  type MaterialGroup,
} from "@/core/materials/material";
import { formatNumber, quantityText } from "@/core/quantity/format";
import { downloadUrl } from "@/ui/download";
import { usePreferences } from "@/ui/preferences";
import { holdEnter } from "@/ui/holdEnter";
import { QuantityField } from "@/ui/QuantityField";
import { FLAG_WORDS, GROUP_WORDS, materialProblemWords, UNIT_WORDS } from "@/words/material";
import { useAct } from "@/ui/useAct";
import { deleteMaterial, keepMaterials } from "./actions";

/** The library: what each stuff does to light and heat, what it bears, what it costs; and one's own beside it. */
export function Materials({ own, find = "" }: { own: Material[]; find?: string }) {
  const { system } = usePreferences();
  const [text, setText] = useState(find);
  const [group, setGroup] = useState<MaterialGroup | "all" | "own">("all");
  const [edited, setEdited] = useState<Material | null>(null);
  const [problems, setProblems] = useState<MaterialProblem[]>([]);
  const { busy, act, undoable } = useAct();
  const ownKeys = useMemo(() => new Set(own.map((m) => m.key)), [own]);
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = [...own, ...LIBRARY].filter(
    (m) =>
      (group === "all" || (group === "own" ? ownKeys.has(m.key) : m.group === group)) &&
      words.every((w) =>
        `${m.name} ${m.note} ${m.flags.map((f) => FLAG_WORDS[f]).join(" ")}`.toLowerCase().includes(w),
      ),
  );
  const save = () => {
    const url = URL.createObjectURL(new Blob(["\uFEFF", materialsToCsv([...own, ...LIBRARY])], { type: "text/csv" }));
    downloadUrl(url, "materials.csv");
    setTimeout(() => URL.revokeObjectURL(url), 10000);
  };
  const read = async (file: File | undefined) => {
    if (!file) return;
    if (file.size > 2e6)
      return void toast.error(`${file.name} is larger than 2 MB; a table of materials is not. Nothing was changed.`);
    const result = materialsFromCsv(await file.text());
    setProblems(result.problems);
    const changed = result.materials.filter(
      (m) => JSON.stringify(LIBRARY.find((l) => l.key === m.key)) !== JSON.stringify(m),
    );
    if (result.problems.length) return;
    if (!changed.length) return void toast(`${file.name} holds nothing that is not here already.`);
    keep(changed);
  };
  const keep = (materials: Material[], after?: () => void) =>
    act(
      () => keepMaterials(materials),
      ({ kept }) => {
        toast.success(`${kept} of your own material${kept > 1 ? "s" : ""} kept.`);
        after?.();
      },
    );
  const remove = (m: Material) =>
    undoable(
      () => deleteMaterial(m.key, true),
      () => deleteMaterial(m.key, false),
      `${m.name} removed from your library.`,
    );
  return (
    <div className="px-4 pb-8 pt-3 sm:px-6">
      <h1 className="sentence">
        {LIBRARY.length} generic materials{own.length ? ` and ${own.length} of your own` : ""}. Typical values: two
        batches of one stuff differ by a tenth, foams and paints by more.
      </h1>
      <div className="no-print mt-2 flex flex-wrap items-end gap-3">
        <label className="text-[13px] font-semibold">
          Find
          <input
            className="field mt-0.5"
            type="search"
            value={text}
            onChange={(e) => setText(e.target.value)}
            placeholder="foam, solvent, clear"
          />
        </label>
        <label className="text-[13px] font-semibold">
          Kind
          <select className="field mt-0.5" value={group} onChange={(e) => setGroup(e.target.value as typeof group)}>
            <option value="all">all</option>
            <option value="own">your own</option>
            {MATERIAL_GROUPS.map((g) => (
              <option key={g} value={g}>
                {GROUP_WORDS[g]}
              </option>
            ))}
          </select>
        </label>
        <button
          type="button"
          className="btn"
          onClick={() =>
            setEdited({
              ...LIBRARY[0],
              key: `my-${Date.now().toString(36)}`,
              name: "",
              note: "",
              source: "own measurement",
            })
          }
        >
          Add your own
        </button>
        <span className="flex-1" />
        <button type="button" className="btn" onClick={save}>
          <Download size={14} aria-hidden /> Save as CSV
        </button>
        <label className="btn cursor-pointer">
          <Upload size={14} aria-hidden /> {busy ? "Reading …" : "Read a CSV"}
          <input
            type="file"
            accept=".csv,text/csv"
            className="sr-only"
            onChange={(e) => {
              void read(e.target.files?.[0]);
              e.target.value = "";
            }}
          />
        </label>
      </div>
      {problems.length > 0 && (
        <div role="alert" className="mt-2 border-l-4 border-danger pl-2.5">
          <p className="font-[650] text-danger">
            Nothing was taken over: {problems.length} cell{problems.length > 1 ? "s" : ""} cannot be read.
          </p>
          <ul className="text-[13.5px]">
            {problems.slice(0, 12).map((p, i) => (
              <li key={i}>{materialProblemWords(p)}</li>
            ))}
            {problems.length > 12 && <li className="side">and {problems.length - 12} more</li>}
          </ul>
        </div>
      )}
      {edited && (
        <Editor
          key={edited.key}
          material={edited}
          busy={busy}
          onCancel={() => setEdited(null)}
          onKeep={(m) => keep([m], () => setEdited(null))}
        />
      )}
      <div className="relative mt-3 overflow-x-auto">
        <table className="grid-table min-w-[1080px] text-[13.5px]">
          <thead>
            <tr>
              <th>Material</th>
              <th className="num">α</th>
              <th className="num">ε</th>
              <th className="num">τ at its thickness</th>
              <th className="num">k, W/(m·K)</th>
              <th className="num">density</th>
              <th className="num">c, J/(kg·K)</th>
              <th className="num">bears</th>
              <th className="num">price</th>
              <th>Mind</th>
              <th>Source</th>
              <th className="no-print" />
            </tr>
          </thead>
          <tbody>
            {shown.map((m) => (
              <tr key={m.key} className={ownKeys.has(m.key) ? "bg-action-wash" : ""}>
                <th scope="row" className="max-w-72">
                  <span className="font-semibold">{m.name}</span>
                  {m.note && <span className="side block">{m.note}</span>}
                </th>
                <td className="num">{m.absorptance.toFixed(2)}</td>
                <td className="num">{m.emittance.toFixed(2)}</td>
                <td className="num">
                  {m.optics
                    ? coverOptics(
                        [{ index: m.optics.index, extinction: m.optics.extinctionPerM * m.thicknessM }],
                        0,
                      ).transmitted.toFixed(2)
                    : ""}
                </td>
                <td className="num">{m.conductivity}</td>
                <td className="num">{quantityText(m.density, "density", { system, figures: 3 })}</td>
                <td className="num">{formatNumber(m.specificHeat, 0)}</td>
                <td className="num">
                  {m.limitC === null ? "–" : quantityText(m.limitC, "temperature", { system, figures: 3 })}
                </td>
                <td className="num">
                  {formatNumber(m.price, 2)}/{UNIT_WORDS[m.unit]}
                </td>
                <td className="max-w-40 text-[12.5px]">{m.flags.map((f) => FLAG_WORDS[f]).join(", ")}</td>
                <td className="side">{m.source}</td>
                <td className="no-print whitespace-nowrap">
                  <button
                    type="button"
                    className="btn btn-plain"
                    onClick={() =>
                      setEdited(
                        ownKeys.has(m.key)
                          ? m
                          : {
                              ...m,
                              key: `my-${m.key}`.slice(0, 60),
                              name: `${m.name}, mine`,
                              source: "own measurement",
                            },
                      )
                    }
                  >
                    {ownKeys.has(m.key) ? "Change" : "Make mine"}
                  </button>
                  {ownKeys.has(m.key) && (
                    <button type="button" className="btn btn-plain" disabled={busy} onClick={() => remove(m)}>
                      Remove
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {shown.length === 0 && <p className="py-3">Nothing of that name. Shorten it, or add your own.</p>}
    </div>
  );
}

function Editor({
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
        <label className="text-[13px] font-semibold md:col-span-2">
          Name
          <input
            className="field mt-0.5"
            required
            maxLength={120}
            autoFocus
            value={m.name}
            onChange={(e) => set({ name: e.target.value })}
          />
        </label>
        <label className="text-[13px] font-semibold">
          Kind
          <select
            className="field mt-0.5"
            value={m.group}
            onChange={(e) =>
              set({
                group: e.target.value as MaterialGroup,
                optics: e.target.value === "glazing" ? (m.optics ?? { index: 1.526, extinctionPerM: 20 }) : null,
              })
            }
          >
            {MATERIAL_GROUPS.map((g) => (
              <option key={g} value={g}>
                {GROUP_WORDS[g]}
              </option>
            ))}
          </select>
        </label>
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
        <label className="text-[13px] font-semibold">
          Sold by
          <select
            className="field mt-0.5"
            value={m.unit}
            onChange={(e) => set({ unit: e.target.value as Material["unit"] })}
          >
            {MATERIAL_UNITS.map((u) => (
              <option key={u} value={u}>
                {UNIT_WORDS[u]}
              </option>
            ))}
          </select>
        </label>
        {field("Price per unit", "price")}
        {field("Pack holds", "pack")}
        <label className="text-[13px] font-semibold md:col-span-2">
          Note
          <input
            className="field mt-0.5"
            maxLength={300}
            value={m.note}
            onChange={(e) => set({ note: e.target.value })}
          />
        </label>
        <label className="text-[13px] font-semibold">
          Source
          <input
            className="field mt-0.5"
            maxLength={200}
            value={m.source}
            onChange={(e) => set({ source: e.target.value })}
          />
        </label>
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
