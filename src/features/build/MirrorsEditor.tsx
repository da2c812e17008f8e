"use client";

import { Plus, Trash2 } from "lucide-react";
import type { Design } from "@/core/collector/design";
import { hingedMirror, MIRROR_STANDS, type Mirror, type MirrorStand } from "@/core/mirror/mirror";
import type { Material } from "@/core/materials/material";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { Select } from "@/ui/form/Select";
import { MIRROR_WORDS } from "@/words/mirror";
import { MaterialSelect } from "./LayerEditor";
import { TextField } from "@/ui/form/fields";
import { Button } from "@/ui/Button";

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
            <Button
              className="min-h-[28px]"
              aria-label={`Take mirror ${i + 1} away`}
              onClick={() => set({ mirrors: mirrors.filter((_, k) => k !== i) })}
            >
              <Trash2 size={14} aria-hidden />
            </Button>
          </legend>
          <OneMirror mirror={m} {...{ design, materials }} change={(part) => change(i, part)} />
        </fieldset>
      ))}
      <Button className="mt-2" disabled={mirrors.length >= 8} onClick={add}>
        <Plus size={14} aria-hidden /> Add a mirror
      </Button>
    </div>
  );
}

const HINGED: Asked<Mirror>[] = [
  { key: "angle", label: "Angle to the box", quantity: "angle", min: 20, max: 179, hint: "90° stands upright on it" },
  { key: "gapM", label: "Gap at the hinge", quantity: "length", min: 0, max: 5 },
];
const STANDING: Asked<Mirror>[] = [
  { key: "angle", label: "Face from horizontal", quantity: "angle", min: 1, max: 179, hint: "90° stands upright" },
];
const SIZE: Asked<Mirror>[] = [
  { key: "depthM", label: "Mirror length", quantity: "length", min: 0.05, max: 10 },
  {
    key: "widthM",
    label: "Mirror width",
    quantity: "length",
    min: 0.05,
    max: 60,
    hint: "empty: as wide as the box",
    empty: true,
  },
];
const MORE: Asked<Mirror>[] = [
  {
    key: "reflectance",
    label: "Reflectance",
    quantity: "fraction",
    min: 0,
    max: 1,
    hint: "empty: by its material",
    empty: true,
  },
  {
    key: "cost",
    label: "Cost of the mirror",
    quantity: "number",
    min: 0,
    max: 1e7,
    hint: "empty: by its area",
    empty: true,
  },
];
type Place = NonNullable<Mirror["free"]>;
const PLACE: Asked<Place>[] = [
  { key: "awayM", label: "Before the box", quantity: "length", min: 0, max: 30 },
  { key: "rightM", label: "Right of its middle", quantity: "length", min: -30, max: 30 },
  { key: "higherM", label: "Foot above the lower edge", quantity: "length", min: -10, max: 10 },
  {
    key: "turn",
    label: "Faces, from where the box looks",
    quantity: "angle",
    min: 0,
    max: 360,
    hint: "180° faces the box",
  },
];

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
  const { free } = m;
  return (
    <div className={GRID}>
      <Select
        label="Stands"
        value={m.stand}
        options={MIRROR_STANDS.map((s) => [s, MIRROR_WORDS[s]] as const)}
        onChange={(stand: MirrorStand) =>
          change({ stand, free: stand === "free" ? (free ?? FREE) : null, angle: stand === "free" ? 60 : m.angle })
        }
      />
      <MaterialSelect
        label="Mirror of"
        value={m.material}
        groups={["reflector"]}
        materials={materials}
        own={design.materials}
        onChange={(chosen) => change({ material: chosen.key })}
      />
      <QuantityFields of={[...SIZE, ...(free ? STANDING : HINGED)]} value={m} set={change} />
      {free && <QuantityFields of={PLACE} value={free} set={(part) => change({ free: { ...free, ...part } })} />}
      <QuantityFields of={MORE} value={m} set={change} />
      <UpDates up={m.up} onChange={(up) => change({ up })} />
    </div>
  );
}

/** Two days of any year, without their year. */
function UpDates({ up, onChange }: { up: Mirror["up"]; onChange: (up: Mirror["up"]) => void }) {
  const field = (label: string, key: "from" | "until") => (
    <TextField
      label={label}
      type="date"
      value={up ? `2026-${up[key]}` : ""}
      onChange={(v) => {
        const day = v.slice(5);
        if (!day) return onChange(null);
        onChange({ from: up?.from ?? day, until: up?.until ?? day, [key]: day });
      }}
    />
  );
  return (
    <>
      {field("Up from", "from")}
      {field("Up until", "until")}
    </>
  );
}
