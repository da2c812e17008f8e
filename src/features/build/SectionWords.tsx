"use client";

import { linear } from "@/ui/scale";
import { type Design, type Layer } from "@/core/collector/design";
import type { HeatLimitCheck } from "@/core/collector/limits";
import type { Prediction } from "@/core/collector/prediction";
import { quantityText } from "@/core/quantity/format";
import { displayUnit, fromSi, type UnitSystem } from "@/core/quantity/quantities";
import { type SectionLayout } from "@/ui/section/layout";
import { layerName } from "./names";
import { lineThrough, type Point } from "@/ui/drawing";

const temperature = (c: number, system: UnitSystem) =>
  quantityText(c, "temperature", { system, figures: Math.abs(c) >= 99.5 ? 3 : 2 });

const LIMIT_COLORS = { over: "var(--danger)", near: "var(--doubt)", ok: "var(--rule)" };

export function StreamWords({
  layout,
  stage,
  prediction,
  inletC,
  system,
}: {
  layout: SectionLayout;
  stage: { left: number; right: number };
  prediction: Prediction;
  inletC: number;
  system: UnitSystem;
}) {
  const channel = layout.slabs.filter((s) => s.layer.kind === "channel").sort((a, b) => b.y1 - b.y0 - (a.y1 - a.y0))[0];
  const outlet = prediction.figures.outlet?.value;
  if (!channel || channel.y1 - channel.y0 < 13 || outlet === undefined) return null;
  const y = (channel.y0 + channel.y1) / 2 + 4;
  const chip = (x: number, text: string, anchor: "start" | "end") => (
    <g key={text}>
      <rect
        x={anchor === "start" ? x - 3 : x - text.length * 6.6 - 3}
        y={y - 12}
        width={text.length * 6.6 + 6}
        height={16}
        fill="var(--ground)"
      />
      <text x={x} y={y} textAnchor={anchor} style={{ fill: "var(--ink)", fontWeight: 600 }}>
        {text}
      </text>
    </g>
  );
  return (
    <g aria-hidden>
      {chip(stage.left + 22, `in ${temperature(prediction.figures.inlet?.value ?? inletC, system)}`, "start")}
      {chip(stage.right - 30, `out ${temperature(outlet, system)}`, "end")}
    </g>
  );
}

/** Names beside their layers, pushed apart where layers are thin, each with a leader. */
export function Labels({
  layout,
  x,
  brief,
  design,
  prediction,
  selected,
  over,
  system,
  onSelect,
}: {
  layout: SectionLayout;
  x: number;
  brief: boolean;
  design: Design;
  prediction: Prediction | null;
  selected: string | null;
  over: ReadonlySet<string>;
  system: UnitSystem;
  onSelect: (id: string) => void;
}) {
  const n = layout.slabs.length;
  const pitch = Math.min(26, Math.max(11, (layout.height + 16) / Math.max(1, n)));
  const wanted = layout.slabs.map((s) => (s.y0 + s.y1) / 2);
  const ys = [...wanted];
  for (let i = 1; i < n; i++) ys[i] = Math.max(ys[i], ys[i - 1] + pitch);
  if (n) ys[n - 1] = Math.min(ys[n - 1], layout.height + 8);
  for (let i = n - 2; i >= 0; i--) ys[i] = Math.min(ys[i], ys[i + 1] - pitch);
  const twoLines = pitch >= 24;
  const letters = twoLines ? 20 : 17;
  return (
    <g>
      {layout.slabs.map((s, i) => {
        const layer: Layer = s.layer;
        const t = prediction?.layers[i];
        const hot = over.has(layer.id);
        return (
          <g key={layer.id} onClick={() => onSelect(layer.id)} className="cursor-pointer">
            <path
              d={`M${x + 3} ${wanted[i]}L${x + 12} ${ys[i]}H${x + 17}`}
              fill="none"
              stroke={hot ? "var(--danger)" : "var(--rule)"}
            />
            <text
              x={x + 21}
              y={ys[i] + (twoLines ? -1 : 4)}
              style={{
                fill: hot ? "var(--danger)" : "var(--ink)",
                fontWeight: layer.id === selected || hot ? 700 : 600,
              }}
            >
              {i + 1} {layerName(layer, design.materials).slice(0, brief ? 13 : letters)}
            </text>
            {twoLines && t && (
              <text x={x + 21} y={ys[i] + 11} style={{ fill: hot ? "var(--danger)" : undefined }}>
                {temperature(t.mirror.value, system)}
                {brief ? "" : `, in use ${temperature(t.use.value, system)}`}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** Temperatures through the stack on the section's own depth axis, with each layer's limit as a bracket. */
export function Profile({
  layout,
  x,
  width,
  prediction,
  limits,
  system,
}: {
  layout: SectionLayout;
  x: number;
  width: number;
  prediction: Prediction;
  limits: readonly HeatLimitCheck[];
  system: UnitSystem;
}) {
  const unit = displayUnit("temperature", system);
  const values = [...prediction.stillProfile, ...prediction.profile].flatMap((p) => p ?? []);
  const shownLimits = limits.filter((l) => l.limitC <= Math.max(...values) * 1.5 + 20);
  const topC = Math.ceil((Math.max(60, ...values, ...shownLimits.map((l) => l.limitC)) + 8) / 50) * 50;
  const lowC = Math.min(0, Math.floor(Math.min(...values) / 10) * 10);
  const px = linear([lowC, topC], [x + 6, x + width - 6]);
  const through = (profile: Prediction["profile"]) =>
    lineThrough(
      layout.slabs.flatMap((s, i): Point[] => {
        const ends = profile[i];
        return ends
          ? [
              [px(ends[0]), s.y0],
              [px(ends[1]), s.y1],
            ]
          : [];
      }),
    );
  const ticks = px.ticks((topC - lowC) / 50);
  return (
    <g aria-hidden>
      <text x={x + width} y={-14} textAnchor="end" style={{ fill: "var(--ink)", fontWeight: 600 }}>
        Temperature, {unit.symbol}
      </text>
      <path d={`M${x} 0V${layout.height}H${x + width}`} fill="none" stroke="var(--ink)" />
      {layout.slabs.map((s) => (
        <path key={s.layer.id} d={`M${x} ${s.y0}H${x + width}`} stroke="var(--hair)" />
      ))}
      {ticks.map((t) => (
        <g key={t}>
          <path d={`M${px(t)} ${layout.height}v4`} stroke="var(--ink)" />
          <text x={px(t)} y={layout.height + 17} textAnchor="middle">
            {Math.round(fromSi(t, unit))}
          </text>
        </g>
      ))}
      {shownLimits.map((l) => {
        const s = layout.slabs.find((slab) => slab.layer.id === l.layer);
        if (!s) return null;
        const color = LIMIT_COLORS[l.state];
        const [a, b] = [s.y0, Math.max(s.y1, s.y0 + 5)];
        return (
          <g key={`${l.layer}-${l.what}`} stroke={color} fill="none">
            {l.state === "over" && (
              <rect
                x={px(l.limitC)}
                y={a}
                width={Math.max(1, px(l.worstC) - px(l.limitC))}
                height={b - a}
                fill="var(--danger-fill)"
                stroke="none"
              />
            )}
            <path
              d={`M${px(l.limitC) - 4} ${a}H${px(l.limitC)}V${b}H${px(l.limitC) - 4}`}
              strokeWidth={l.state === "ok" ? 1.4 : 2.4}
            />
            {l.state === "over" && (
              <text
                x={px(l.limitC) - 7}
                y={b - 6}
                textAnchor="end"
                style={{ fill: "var(--danger)", fontWeight: 700, stroke: "none" }}
              >
                limit {temperature(l.limitC, system)}
              </text>
            )}
          </g>
        );
      })}
      <path d={through(prediction.profile)} fill="none" stroke="var(--ink)" strokeWidth="1.4" strokeDasharray="4 3" />
      <path d={through(prediction.stillProfile)} fill="none" stroke="var(--ink)" strokeWidth="2" />
    </g>
  );
}
