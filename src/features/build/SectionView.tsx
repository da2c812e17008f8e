"use client";

import { Download } from "lucide-react";
import { useRef, useState, type Dispatch, type SetStateAction, type RefObject } from "react";
import { stackDepth, type Design } from "@/core/collector/design";
import type { HeatLimitCheck } from "@/core/collector/limits";
import type { Prediction } from "@/core/collector/prediction";
import { quantityText } from "@/core/quantity/format";
import { displayUnit, fromSi, type UnitSystem } from "@/core/quantity/quantities";
import { badgeWords } from "@/ui/Badge";
import { downloadSvg } from "@/ui/download";
import { usePreferences } from "@/ui/preferences";
import { depthToPx, layoutSection, type SectionLayout } from "@/ui/section/layout";
import { frameWidth, SectionArt, shownWidth } from "@/ui/section/Section";
import { useWidth } from "@/ui/useWidth";
import { areaThrough, lineThrough, type Point } from "@/ui/drawing";
import { Button } from "@/ui/Button";
import { Labels, Profile, StreamWords } from "./SectionWords";

const TOP = 30;
const BOTTOM = 34;
const RULER = 46;
const LABELS = 132;
const PROFILE = 220;
const HEIGHT = 212;
/** Stacks shallower than this, m, do not fill the height. */
const SHALLOW = 0.06;

/**
 * The stack to scale, sun side up, with its air, its depths and, beside it on the same depth axis, its temperatures. Layers are
 * chosen with the pointer or the arrow keys, and moved by dragging or with Alt and an arrow.
 */
export function SectionView({
  design,
  lane,
  prediction,
  limits,
  selected,
  inletC,
  onSelect,
  onMove,
  onRemove,
}: {
  design: Design;
  lane: string;
  prediction: Prediction | null;
  limits: readonly HeatLimitCheck[];
  selected: string | null;
  inletC: number;
  onSelect: (id: string) => void;
  onMove: (from: number, to: number) => void;
  onRemove: (id: string) => void;
}) {
  const { system } = usePreferences();
  const [ref, width] = useWidth(880);
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ from: number; to: number } | null>(null);
  // A bare coil is not blown up to the size of a box; forty layers get the room they need.
  const { layout, height, stage, art, frame, roomy } = stageOf({ design, width });
  const over = new Set(limits.filter((l) => l.state === "over").map((l) => l.layer));
  const { layers } = design;
  const at = Math.max(
    0,
    layers.findIndex((l) => l.id === selected),
  );

  const indexAt = (clientY: number): number => {
    const box = svg.current!.getBoundingClientRect();
    const y = clientY - box.top - TOP;
    const found = layout.slabs.findIndex((s) => y < s.y1);
    return found < 0 ? layers.length - 1 : found;
  };
  const onKey = (e: React.KeyboardEvent) => {
    const step = Number(e.key === "ArrowDown") - Number(e.key === "ArrowUp");
    if (e.key === "Delete" && selected) return onRemove(selected);
    if (!step || !layers.length) return;
    e.preventDefault();
    const next = Math.min(layers.length - 1, Math.max(0, at + step));
    if (e.altKey) onMove(at, next);
    else onSelect(layers[next].id);
  };

  return (
    <div ref={ref} className="min-w-0">
      <svg
        ref={svg}
        width={width}
        height={height + TOP + BOTTOM}
        role="group"
        aria-label={`Section: ${badgeWords(design)}. ${layers.length} layers. Arrow keys choose a layer, Alt and an arrow moves it, Delete removes it.`}
        tabIndex={0}
        onKeyDown={onKey}
        className="block touch-pan-y select-none"
      >
        <g transform={`translate(0 ${TOP})`}>
          <Ruler layout={layout} system={system} total={stackDepth(design)} />
          <Sun left={stage.left} right={stage.right} open={layers[0]?.kind !== "insulation"} />
          <Frame design={design} layout={layout} left={art.left} right={art.right} frame={frame} />
          <SectionArt design={design} lane={lane} layout={layout} stage={stage} over={over} />
          {shownWidth(design, stage.right - stage.left, layout.pxPerM) <
            design.grossWidthM - 2 * design.frame.thicknessM - 1e-6 && (
            <Break x={(stage.left + stage.right) / 2} height={layout.height} />
          )}
          {prediction && layers.some((l) => l.kind === "channel") && (
            <StreamWords layout={layout} stage={stage} prediction={prediction} inletC={inletC} system={system} />
          )}
          <Slabs {...{ layout, art, selected, onSelect, setDrag, drag, indexAt, onMove }} />
          {drag && drag.to !== drag.from && (
            <path
              d={`M${art.left - 6} ${layout.slabs[drag.to][drag.to > drag.from ? "y1" : "y0"]}H${art.right + 6}`}
              stroke="var(--action)"
              strokeWidth="3"
            />
          )}
          <Labels
            layout={layout}
            x={art.right}
            brief={!roomy}
            design={design}
            prediction={prediction}
            selected={selected}
            over={over}
            system={system}
            onSelect={onSelect}
          />
          {roomy && prediction && (
            <Profile
              layout={layout}
              x={width - PROFILE}
              width={PROFILE - 8}
              prediction={prediction}
              limits={limits}
              system={system}
            />
          )}
          <Dimension left={stage.left} right={stage.right} y={layout.height + 14} design={design} system={system} />
        </g>
      </svg>
      <Legend {...{ layout, roomy, prediction, svg }} />
    </div>
  );
}

function stageOf({ design, width }: { design: Design; width: number }) {
  const depth = stackDepth(design);
  const height = Math.round(
    Math.max(
      HEIGHT * Math.min(1, Math.max(0.45, Number.isFinite(depth) ? depth / SHALLOW : 1)),
      Math.min(480, design.layers.length * 13),
    ),
  );
  const layout = layoutSection(design, height, "large");
  const roomy = width > 640;
  const art = { left: RULER, right: width - (roomy ? LABELS + PROFILE + 16 : LABELS - 16) };
  const frame = frameWidth(design, layout.pxPerM);
  const stage = {
    left: art.left + frame,
    right: art.right - frame,
    line: 1.3,
    pxPerM: layout.pxPerM,
    size: "large" as const,
  };
  return { layout, height, stage, art, frame, roomy };
}

function Legend({
  layout,
  roomy,
  prediction,
  svg,
}: {
  layout: SectionLayout;
  roomy: boolean;
  prediction: Prediction | null;
  svg: RefObject<SVGSVGElement | null>;
}) {
  return (
    <p className="side flex flex-wrap items-center gap-x-3">
      <span>
        Depth to scale{layout.thickened ? ", thin sheets drawn thicker" : ""}; width cut short.{" "}
        {roomy && prediction ? "Solid: without flow at the worst; dashed: in use." : ""}
      </span>
      <Button kind="plain" className="no-print" onClick={() => svg.current && downloadSvg(svg.current, "section.svg")}>
        <Download size={13} aria-hidden /> SVG
      </Button>
    </p>
  );
}

/** The layers as places to press and to drag. */
function Slabs({
  layout,
  art,
  selected,
  onSelect,
  setDrag,
  drag,
  indexAt,
  onMove,
}: {
  layout: SectionLayout;
  art: { left: number; right: number };
  selected: string | null;
  onSelect: (id: string) => void;
  setDrag: Dispatch<SetStateAction<{ from: number; to: number } | null>>;
  drag: { from: number; to: number } | null;
  indexAt: (clientY: number) => number;
  onMove: (from: number, to: number) => void;
}) {
  return layout.slabs.map((s) => (
    <rect
      key={s.layer.id}
      x={art.left}
      y={s.y0 - (s.y1 - s.y0 < 8 ? 3 : 0)}
      width={art.right - art.left}
      height={Math.max(8, s.y1 - s.y0)}
      data-slab={s.layer.id}
      className="cursor-grab"
      fill={s.layer.id === selected ? "var(--action)" : "transparent"}
      fillOpacity={s.layer.id === selected ? 0.14 : 0}
      onPointerDown={(e) => {
        onSelect(s.layer.id);
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrag({ from: s.index, to: s.index });
      }}
      onPointerMove={(e) => drag && setDrag({ ...drag, to: indexAt(e.clientY) })}
      onPointerUp={() => {
        if (drag && drag.to !== drag.from) onMove(drag.from, drag.to);
        setDrag(null);
      }}
      onPointerCancel={() => setDrag(null)}
    />
  ));
}

/** Over how long a span, in the shown unit, the ruler's marks stand how far apart. */
const RULER_STEPS = [
  [220, 100],
  [60, 50],
  [12, 10],
  [4, 2],
] as const;

function Ruler({ layout, system, total }: { layout: SectionLayout; system: UnitSystem; total: number }) {
  const unit = displayUnit("smallLength", system);
  const span = fromSi(total, unit);
  const [, step] = RULER_STEPS.find(([over]) => span > over) ?? [0, 1];
  const marks = Array.from({ length: Math.min(60, Math.floor(span / step) + 1) }, (_, i) => i * step);
  const y = (v: number) => depthToPx(layout, v / (span / total || 1));
  return (
    <g aria-hidden>
      <text x={0} y={-14}>
        depth, {unit.symbol}
      </text>
      <path d={`M${RULER - 8} 0V${layout.height}`} stroke="var(--ink)" />
      {marks.map((m) => (
        <g key={m}>
          <path d={`M${RULER - 14} ${y(m)}H${RULER - 8}`} stroke="var(--ink)" />
          <text x={RULER - 17} y={y(m) + 4} textAnchor="end">
            {m}
          </text>
        </g>
      ))}
    </g>
  );
}

function Sun({ left, right, open }: { left: number; right: number; open: boolean }) {
  if (!open) return null;
  const a = left + (right - left) * 0.3;
  return (
    <g aria-hidden>
      <rect x={a} y={-22} width={right - a} height={5} fill="var(--sun)" stroke="var(--ink)" strokeWidth="0.6" />
      {Array.from({ length: 6 }, (_, i) => a + ((right - a) * (i + 0.5)) / 6).map((x) => (
        <path key={x} d={`M${x} -17v8`} stroke="var(--ink)" />
      ))}
      <text x={a - 6} y={-14} textAnchor="end">
        Sun
      </text>
    </g>
  );
}

/** Frame boards left and right, with the air's openings where channels meet them. */
function Frame({
  design,
  layout,
  left,
  right,
  frame,
}: {
  design: Design;
  layout: SectionLayout;
  left: number;
  right: number;
  frame: number;
}) {
  const openings = design.fluid.kind === "air" ? layout.slabs.filter((s) => s.layer.kind === "channel") : [];
  const pieces: [number, number][] = [];
  let y = 0;
  for (const o of openings) {
    if (o.y0 > y) pieces.push([y, o.y0]);
    y = o.y1;
  }
  if (layout.height > y) pieces.push([y, layout.height]);
  return (
    <g aria-hidden fill="var(--well)" stroke="var(--ink)" strokeWidth="1.2">
      {[left, right - frame].flatMap((x) =>
        pieces.map(([a, b]) => <rect key={`${x}-${a}`} x={x} y={a} width={frame} height={b - a} />),
      )}
    </g>
  );
}

/** Where the width is cut short: two jagged lines with nothing between. */
function Break({ x, height }: { x: number; height: number }) {
  const steps = Math.ceil((height + 12) / 12);
  const jagged = (dx: number): Point[] =>
    Array.from({ length: steps + 1 }, (_, i) => [x + dx + (i % 2 ? 4 : -4), Math.min(height + 6, -6 + 12 * i)]);
  const [a, b] = [jagged(-4), jagged(4)];
  return (
    <g aria-hidden>
      <path d={areaThrough([...a, ...b.toReversed()])} fill="var(--ground)" />
      {[a, b].map((l, i) => (
        <path key={i} d={lineThrough(l)} fill="none" stroke="var(--ink)" />
      ))}
    </g>
  );
}

function Dimension({
  left,
  right,
  y,
  design,
  system,
}: {
  left: number;
  right: number;
  y: number;
  design: Design;
  system: UnitSystem;
}) {
  const text = `${quantityText(design.grossWidthM, "length", { system, figures: 3 })} wide, ${quantityText(design.grossLengthM, "length", { system, figures: 3 })} long; ${quantityText(stackDepth(design), "smallLength", { system, figures: 3 })} deep`;
  const half = text.length * 3.1 + 8;
  const middle = (left + right) / 2;
  return (
    <g>
      <path
        d={`M${left} ${y - 5}v10M${right} ${y - 5}v10M${left} ${y}H${Math.max(left, middle - half)}M${Math.min(right, middle + half)} ${y}H${right}`}
        stroke="var(--ink)"
        fill="none"
      />
      <text x={middle} y={y + 4} textAnchor="middle" style={{ fill: "var(--ink)" }}>
        {text}
      </text>
    </g>
  );
}
