"use client";

import { ABSORBER_FORMS, formOf, FORMS } from "@/core/collector/form/list";
import { coveredShare, opening, type Design, type Layer } from "@/core/collector/design";
import { THICKNESS_RANGE } from "@/core/collector/thickness";
import type { Material, MaterialGroup } from "@/core/materials/material";
import { FORM_WORDS } from "@/words/forms";
import { QuantityField } from "@/ui/QuantityField";
import { percent } from "@/words/sources";
import { GROUP_WORDS } from "@/words/material";
import { KIND_WORDS } from "@/words/build";
import { changeForm, changeLayer } from "./draft";
import { fieldWords, layerName } from "./names";
import { Select } from "@/ui/form/Select";

const GROUPS: Record<Exclude<Layer["kind"], "gap" | "channel">, MaterialGroup[]> = {
  cover: ["glazing"],
  absorber: ["sheet", "mesh", "tube", "masonry", "board"],
  sheet: ["sheet", "board", "masonry", "reflector"],
  insulation: ["insulation", "board"],
};

/** The chosen layer's material and dimensions. Every change goes through the same draft, so that one undo takes it back. */
export function LayerEditor({
  design,
  layer,
  materials,
  onChange,
}: {
  design: Design;
  layer: Layer;
  materials: ReadonlyMap<string, Material>;
  onChange: (design: Design) => void;
}) {
  const set = (change: object) => onChange(changeLayer(design, layer.id, change));
  const [min, max] = THICKNESS_RANGE[layer.kind];
  const size = {
    label: layer.kind === "gap" || layer.kind === "channel" ? "Depth" : "Thickness",
    quantity: "smallLength" as const,
    si: layer.thicknessM,
    min,
    max,
  };
  return (
    <fieldset className="border-t-[1.5px] border-ink pt-1.5">
      <legend className="sr-only">Chosen layer</legend>
      <p className="text-[13.5px]">
        <b className="font-[650]">{layerName(layer, design.materials)}</b>{" "}
        <span className="side">
          {KIND_WORDS[layer.kind].toLowerCase()}, layer {design.layers.indexOf(layer) + 1}
        </span>
      </p>
      <div className="grid grid-cols-2 gap-x-3 gap-y-2 pt-1 md:grid-cols-4 xl:grid-cols-5">
        {layer.kind === "absorber" && (
          <Select
            label="Form"
            value={layer.form}
            options={ABSORBER_FORMS.map((f) => [f, FORM_WORDS[f]] as const)}
            onChange={(v) => onChange(changeForm(design, layer.id, v))}
          />
        )}
        {layer.kind !== "gap" && layer.kind !== "channel" && (
          <MaterialSelect
            label="Material"
            value={layer.material}
            groups={GROUPS[layer.kind]}
            materials={materials}
            own={design.materials}
            onChange={(m) =>
              onChange({
                ...changeLayer(design, layer.id, {
                  material: m.key,
                  ...(layer.kind === "absorber" && !formOf(layer).board ? {} : { thicknessM: m.thicknessM }),
                }),
              })
            }
          />
        )}
        {(layer.kind === "absorber" || layer.kind === "sheet") && (
          <MaterialSelect
            label="Coating, sun side"
            value={layer.coating}
            groups={["coating"]}
            materials={materials}
            own={design.materials}
            none="none, bare"
            onChange={(m) => set({ coating: m.key })}
            onNone={() => set({ coating: null })}
          />
        )}
        <QuantityField key={layer.id} {...size} onChange={(thicknessM) => set({ thicknessM })} />
        {layer.kind === "absorber" &&
          FORMS[layer.form].fields.map((f) => (
            <QuantityField
              key={`${layer.id}-${layer.form}-${f.name}`}
              label={`${fieldWords(f.name)[0].toUpperCase()}${fieldWords(f.name).slice(1)}`}
              quantity={f.quantity}
              si={layer.shape[f.name]}
              min={f.min}
              max={f.max}
              onChange={(v) => set({ shape: { ...layer.shape, [f.name]: f.whole ? Math.round(v) : v } })}
            />
          ))}
        {layer.kind === "absorber" && formOf(layer).covered && (
          <p className="self-end pb-1.5 text-[13px]">
            covers <b className="font-[650]">{percent(coveredShare(layer, opening(design)))}</b> of the opening
          </p>
        )}
      </div>
    </fieldset>
  );
}

export function MaterialSelect({
  label,
  value,
  groups,
  materials,
  own,
  none,
  onChange,
  onNone,
}: {
  label: string;
  value: string | null;
  groups: readonly MaterialGroup[];
  materials: ReadonlyMap<string, Material>;
  own: Design["materials"];
  none?: string;
  onChange: (m: Material) => void;
  onNone?: () => void;
}) {
  const all = [...materials.values()];
  const kept = value !== null && !materials.has(value) ? own[value] : undefined;
  return (
    <label className="text-[13px] font-semibold">
      {label}
      <select
        aria-label={label}
        className="field mt-0.5"
        value={value ?? ""}
        onChange={(e) => {
          const m = materials.get(e.target.value);
          if (m) onChange(m);
          else if (e.target.value === "") onNone?.();
        }}
      >
        {none && <option value="">{none}</option>}
        {kept && <option value={kept.key}>{kept.name} (as saved)</option>}
        {value !== null && !materials.has(value) && !kept && <option value={value}>{value} (missing)</option>}
        {groups.map((g) => (
          <optgroup key={g} label={GROUP_WORDS[g]}>
            {all
              .filter((m) => m.group === g)
              .map((m) => (
                <option key={m.key} value={m.key}>
                  {m.name}
                </option>
              ))}
          </optgroup>
        ))}
      </select>
    </label>
  );
}
