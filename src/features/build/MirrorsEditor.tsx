"use client";

import { Plus, Trash2 } from "lucide-react";
import type { Design } from "@/core/collector/design";
import { hingedMirror, MIRROR_STANDS, type Mirror, type MirrorStand } from "@/core/mirror/mirror";
import type { Material } from "@/core/materials/material";
import { QuantityField } from "@/ui/QuantityField";
import { MIRROR_WORDS } from "@/words/mirror";
import { MaterialSelect } from "./LayerEditor";

const GRID = "mt-1 grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-x-3 gap-y-2";

const FREE = { awayM: 1, rightM: 0, higherM: 0, turn: 180 };

/** The mirrors of a design, each with its place, angle, dates and cost. */
export function MirrorsEditor({
  design,
  materials,
  set,
}: {
  design: Design;
  materials: ReadonlyMap<string, Material>;
  set: (change: Partial<Design>) => void;
}) {
  const { mirrors } = design;
  const change = (i: number, part: Partial<Mirror>) =>
    set({ mirrors: mirrors.map((m, k) => (k === i ? { ...m, ...part } : m)) });
  const add = () => {
    const used = new Set(mirrors.map((m) => m.id));
    let n = mirrors.length + 1;
    while (used.has(`mirror-${n}`)) n++;
    set({ mirrors: [...mirrors, hingedMirror({ id: `mirror-${n}` })] });
  };
  return (
    <div>
      {mirrors.map((m, i) => (
        <fieldset key={m.id} className="mt-2 border-l-2 border-line pl-3">
          <legend className="flex items-center gap-2 text-[13px] font-semibold">
            Mirror {i + 1}
            <button
              type="button"
              className="btn min-h-[28px]"
              aria-label={`Take mirror ${i + 1} away`}
              onClick={() => set({ mirrors: mirrors.filter((_, k) => k !== i) })}
            >
              <Trash2 size={14} aria-hidden />
            </button>
          </legend>
          <OneMirror mirror={m} {...{ design, materials }} change={(part) => change(i, part)} />
        </fieldset>
      ))}
      <button type="button" className="btn mt-2" disabled={mirrors.length >= 8} onClick={add}>
        <Plus size={14} aria-hidden /> Add a mirror
      </button>
    </div>
  );
}

function OneMirror({
  mirror: m,
  design,
  materials,
  change,
}: {
  mirror: Mirror;
  design: Design;
  materials: ReadonlyMap<string, Material>;
  change: (part: Partial<Mirror>) => void;
}) {
  const free = m.stand === "free";
  return (
    <div className={GRID}>
      <label className="text-[13px] font-semibold">
        Stands
        <select
          aria-label="Stands"
          className="field mt-0.5"
          value={m.stand}
          onChange={(e) => {
            const stand = e.target.value as MirrorStand;
            change({ stand, free: stand === "free" ? (m.free ?? FREE) : null, angle: stand === "free" ? 60 : m.angle });
          }}
        >
          {MIRROR_STANDS.map((s) => (
            <option key={s} value={s}>
              {MIRROR_WORDS[s]}
            </option>
          ))}
        </select>
      </label>
      <MaterialSelect
        label="Mirror of"
        value={m.material}
        groups={["reflector"]}
        materials={materials}
        own={design.materials}
        onChange={(chosen) => change({ material: chosen.key })}
      />
      <QuantityField
        label="Mirror length"
        quantity="length"
        si={m.depthM}
        min={0.05}
        max={10}
        onChange={(depthM) => change({ depthM })}
      />
      <QuantityField
        label="Mirror width"
        quantity="length"
        si={m.widthM}
        min={0.05}
        max={60}
        hint="empty: as wide as the box"
        onChange={(widthM) => change({ widthM })}
        onClear={() => change({ widthM: null })}
      />
      <QuantityField
        label={free ? "Face from horizontal" : "Angle to the box"}
        quantity="angle"
        si={m.angle}
        min={free ? 1 : 20}
        max={179}
        hint={free ? "90° stands upright" : "90° stands upright on it"}
        onChange={(angle) => change({ angle })}
      />
      {!free && (
        <QuantityField
          label="Gap at the hinge"
          quantity="length"
          si={m.gapM}
          min={0}
          max={5}
          onChange={(gapM) => change({ gapM })}
        />
      )}
      {free && m.free && <FreePlace free={m.free} change={(part) => change({ free: { ...m.free!, ...part } })} />}
      <QuantityField
        label="Reflectance"
        quantity="fraction"
        si={m.reflectance}
        min={0}
        max={1}
        hint="empty: by its material"
        onChange={(reflectance) => change({ reflectance })}
        onClear={() => change({ reflectance: null })}
      />
      <QuantityField
        label="Cost of the mirror"
        quantity="number"
        si={m.cost}
        min={0}
        max={1e7}
        hint="empty: by its area"
        onChange={(cost) => change({ cost })}
        onClear={() => change({ cost: null })}
      />
      <UpDates up={m.up} onChange={(up) => change({ up })} />
    </div>
  );
}

function FreePlace({
  free,
  change,
}: {
  free: NonNullable<Mirror["free"]>;
  change: (part: Partial<NonNullable<Mirror["free"]>>) => void;
}) {
  return (
    <>
      <QuantityField
        label="Before the box"
        quantity="length"
        si={free.awayM}
        min={0}
        max={30}
        onChange={(awayM) => change({ awayM })}
      />
      <QuantityField
        label="Right of its middle"
        quantity="length"
        si={free.rightM}
        min={-30}
        max={30}
        onChange={(rightM) => change({ rightM })}
      />
      <QuantityField
        label="Foot above the lower edge"
        quantity="length"
        si={free.higherM}
        min={-10}
        max={10}
        onChange={(higherM) => change({ higherM })}
      />
      <QuantityField
        label="Faces, from where the box looks"
        quantity="angle"
        si={free.turn}
        min={0}
        max={360}
        hint="180° faces the box"
        onChange={(turn) => change({ turn })}
      />
    </>
  );
}

/** Two days of any year, without their year. */
function UpDates({ up, onChange }: { up: Mirror["up"]; onChange: (up: Mirror["up"]) => void }) {
  const field = (label: string, key: "from" | "until") => (
    <label className="text-[13px] font-semibold">
      {label}
      <input
        type="date"
        aria-label={label}
        className="field mt-0.5"
        value={up ? `2026-${up[key]}` : ""}
        onChange={(e) => {
          const day = e.target.value.slice(5);
          if (!day) return onChange(null);
          onChange({ from: up?.from ?? day, until: up?.until ?? day, [key]: day });
        }}
      />
    </label>
  );
  return (
    <>
      {field("Up from", "from")}
      {field("Up until", "until")}
    </>
  );
}
