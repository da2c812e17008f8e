"use client";

import { linear } from "@/ui/scale";
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical, Trash2 } from "lucide-react";
import { coverOptics } from "@/core/optics/covers";
import { LAYER_KINDS, layerDepth, type Design, type Layer, type LayerKind } from "@/core/collector/design";
import type { HeatLimitCheck } from "@/core/collector/limits";
import type { Operating, Prediction } from "@/core/collector/prediction";
import type { DesignProblem } from "@/core/collector/validate";
import { quantityText } from "@/core/quantity/format";
import { displayUnit, fromSi } from "@/core/quantity/quantities";
import { usePreferences } from "@/ui/preferences";
import { Figure } from "@/ui/Working";
import { KIND_WORDS } from "@/words/build";
import { layerFigure, layerWorking } from "@/features/experiment/figures";
import { layerName, layerProperty } from "./names";
import { Button } from "@/ui/Button";
import type { Uncertain } from "@/core/uncertainty/uncertain";

/** The stack as a table, sun side first: drag a row by its grip, or with Space and the arrow keys. */
export function LayerTable({
  design,
  letter,
  prediction,
  limits,
  problems,
  selected,
  operating,
  onSelect,
  onMove,
  onRemove,
  onAdd,
}: {
  design: Design;
  letter: string;
  prediction: Prediction | null;
  limits: readonly HeatLimitCheck[];
  problems: readonly DesignProblem[];
  selected: string | null;
  operating: Operating;
  onSelect: (id: string) => void;
  onMove: (from: number, to: number) => void;
  onRemove: (id: string) => void;
  onAdd: (kind: LayerKind) => void;
}) {
  const { system } = usePreferences();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = design.layers.map((l) => l.id);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) onMove(ids.indexOf(String(active.id)), ids.indexOf(String(over.id)));
  };
  const unit = displayUnit("temperature", system).symbol;
  return (
    <div>
      <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="Layers">
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd} id={`layers-${letter}`}>
          <table className="grid-table min-w-[560px] text-[13.5px] [&_td]:py-0 [&_th]:py-[1px]">
            <thead>
              <tr>
                <th className="no-print w-6">
                  <span className="sr-only">Move</span>
                </th>
                <th>Layer, sun side first</th>
                <th className="num">{displayUnit("smallLength", system).symbol}</th>
                <th>Property</th>
                <th className="num">in use, {unit}</th>
                <th className="num">no flow, {unit}</th>
                <th className="num">limit, {unit}</th>
                <th className="max-sm:hidden">share of limit</th>
                <th className="no-print w-7">
                  <span className="sr-only">Remove</span>
                </th>
              </tr>
            </thead>
            <SortableContext items={ids} strategy={verticalListSortingStrategy}>
              <tbody>
                {design.layers.map((layer, i) => (
                  <Row
                    key={layer.id}
                    layer={layer}
                    index={i}
                    design={design}
                    letter={letter}
                    prediction={prediction}
                    check={limits.find((c) => c.layer === layer.id)}
                    broken={problems.some((p) => p.layer === layer.id)}
                    selected={layer.id === selected}
                    operating={operating}
                    onSelect={onSelect}
                    onRemove={onRemove}
                  />
                ))}
              </tbody>
            </SortableContext>
          </table>
        </DndContext>
      </div>
      <p className="no-print mt-1 flex flex-wrap items-center gap-1.5 text-[13px]">
        <span className="font-semibold">Add behind the chosen layer:</span>
        {LAYER_KINDS.map((k) => (
          <Button className="min-h-[26px] px-2 text-[12.5px]" key={k} onClick={() => onAdd(k)}>
            {KIND_WORDS[k].toLowerCase()}
          </Button>
        ))}
      </p>
    </div>
  );
}

function Row({
  layer,
  index,
  design,
  letter,
  prediction,
  check,
  broken,
  selected,
  operating,
  onSelect,
  onRemove,
}: {
  layer: Layer;
  index: number;
  design: Design;
  letter: string;
  prediction: Prediction | null;
  check: HeatLimitCheck | undefined;
  broken: boolean;
  selected: boolean;
  operating: Operating;
  onSelect: (id: string) => void;
  onRemove: (id: string) => void;
}) {
  const { system } = usePreferences();
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: layer.id });
  const name = layerName(layer, design.materials);
  const t = prediction?.layers[index];
  const depth = layerDepth(layer);
  const optics = layer.kind === "cover" ? design.materials[layer.material]?.optics : null;
  const transmittance =
    optics && layer.thicknessM > 0
      ? coverOptics([{ index: optics.index, extinction: optics.extinctionPerM * layer.thicknessM }], 0).transmitted
      : null;
  const over = check?.state === "over";
  const ground = selected ? "bg-action-wash" : "";
  const short = (si: number) =>
    quantityText(si, "temperature", { system, figures: Math.abs(si) >= 99.5 ? 3 : 2 })
      .replace(/\s?°[CF]$/u, "")
      .trim();
  return (
    <tr
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      data-layer-row={layer.id}
      className={`${over ? "bg-danger-fill" : ground} ${isDragging ? "relative z-10 bg-sheet outline-2 outline-action" : ""}`}
    >
      <td className="no-print pr-0">
        <button
          type="button"
          className="grid size-6 cursor-grab place-items-center text-ink-3"
          aria-label={`Move ${name}, layer ${index + 1}`}
          {...attributes}
          {...listeners}
        >
          <GripVertical size={14} aria-hidden />
        </button>
      </td>
      <LayerName {...{ selected, layer, over, broken, onSelect, index, name }} />
      <td className="num">
        {Number.isFinite(depth) ? Number(fromSi(depth, displayUnit("smallLength", system)).toPrecision(3)) : "?"}
      </td>
      <td className="max-w-[300px] truncate text-ink-2" title={layerProperty(layer, design.materials, transmittance)}>
        {layerProperty(layer, design.materials, transmittance)}
      </td>
      <td className="num">
        {t ? (
          <Figure
            figure={layerFigure(t.use)}
            opens={{ figure: "predictedLayerInUse", letter, layer: layer.id }}
            local={() =>
              layerWorking(t.use, `${name} in use`, "absorbed = passed to the stream + losses", operating, letter)
            }
          />
        ) : (
          ""
        )}
      </td>
      <OfLimit {...{ t, letter, layer, name, operating }} />
      <td className="num">{check ? short(check.limitC) : ""}</td>
      <td className="max-sm:hidden">
        {check && <ShareOfLimit share={check.worstC / check.limitC} state={check.state} />}
      </td>
      <td className="no-print">
        <button
          type="button"
          className="grid h-[22px] w-6 place-items-center text-ink-3 hover:text-danger"
          aria-label={`Remove ${name}, layer ${index + 1}`}
          onClick={() => onRemove(layer.id)}
        >
          <Trash2 size={13} aria-hidden />
        </button>
      </td>
    </tr>
  );
}

function LayerName({
  selected,
  layer,
  over,
  broken,
  onSelect,
  index,
  name,
}: {
  selected: boolean;
  layer: Layer;
  over: boolean;
  broken: boolean;
  onSelect: (id: string) => void;
  index: number;
  name: string;
}) {
  return (
    <th scope="row" className="text-left">
      <button
        type="button"
        aria-pressed={selected}
        className={`whitespace-nowrap text-left ${layer.kind === "gap" || layer.kind === "channel" ? "" : "font-[650]"} ${over || broken ? "text-danger" : ""} hover:underline`}
        onClick={() => onSelect(layer.id)}
      >
        <span className="mr-2 inline-block w-4 font-normal text-ink-3">{index + 1}</span>
        {name}
        {broken && <span className="sr-only"> (cannot be built)</span>}
        {broken && <span aria-hidden> !</span>}
      </button>
    </th>
  );
}

function OfLimit({
  t,
  letter,
  layer,
  name,
  operating,
}: {
  t: { use: Uncertain; still: Uncertain; here: Uncertain; mirror: Uncertain } | null | undefined;
  letter: string;
  layer: Layer;
  name: string;
  operating: Operating;
}) {
  return (
    <td className="num">
      {t ? (
        <Figure
          figure={layerFigure(t.mirror)}
          figures={2}
          opens={{ figure: "predictedLayer", letter, layer: layer.id }}
          local={() =>
            layerWorking(t.mirror, `${name} without flow`, "(τα) · G · gain = losses, ṁ = 0", operating, letter)
          }
        />
      ) : (
        ""
      )}
    </td>
  );
}

const LIMIT_STROKES = { over: "var(--danger)", near: "var(--doubt-line)", ok: "var(--ink)" };

/** A ruler from 0 to a third over the limit, whose mark stands at the limit. */
function ShareOfLimit({ share, state }: { share: number; state: HeatLimitCheck["state"] }) {
  const px = linear([0, 1.35], [0, 90], true);
  return (
    <svg
      width="92"
      height="12"
      role="img"
      aria-label={`${Math.round(share * 100)} % of the limit${state === "over" ? ", too hot" : ""}`}
    >
      <path d={`M0 6H${px(share)}`} stroke={LIMIT_STROKES[state]} strokeWidth="4" />
      <path d={`M${px(1)} 0V12`} stroke={state === "over" ? "var(--danger)" : "var(--ink-3)"} strokeWidth="2" />
    </svg>
  );
}
