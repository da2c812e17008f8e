"use client";

import { useMemo, useState } from "react";
import type { FlowAdvice } from "@/core/collector/flowAdvice";
import { THUMB_RULES } from "@/core/collector/thumbRules";
import type { Design } from "@/core/collector/design";
import type { Operating } from "@/core/collector/prediction";
import { quantityText } from "@/core/quantity/format";
import { displayUnit, fromSi, type QuantityId, type UnitSystem } from "@/core/quantity/quantities";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { usePreferences } from "@/ui/preferences";
import { useAdvice } from "@/features/experiment/useStudy";

const SHOW = {
  netHeat: { title: "Net heat", quantity: "power", of: (r: FlowAdvice["rows"][number]) => r.netHeatW },
  outlet: { title: "Outlet", quantity: "temperature", of: (r: FlowAdvice["rows"][number]) => r.outletC },
  efficiency: { title: "Efficiency", quantity: "fraction", of: (r: FlowAdvice["rows"][number]) => r.efficiency },
  pressure: { title: "Pressure loss", quantity: "pressureLoss", of: (r: FlowAdvice["rows"][number]) => r.pressurePa },
  fan: { title: "Fan power", quantity: "power", of: (r: FlowAdvice["rows"][number]) => r.fanPowerW },
} as const satisfies Record<
  string,
  { title: string; quantity: QuantityId; of: (r: FlowAdvice["rows"][number]) => number }
>;
type Shown = keyof typeof SHOW;

/** Your flow and the fan's; one label when they stand too close for two. */
function markers(advice: FlowAdvice, operating: Operating, own: string): { at: number; label: string }[] {
  const range = advice.rows[advice.rows.length - 1].massFlux;
  const point = { at: operating.massFluxKgM2S, label: "your point" };
  if (advice.own === null || advice.own > range) return [point];
  const close = Math.abs(advice.own - point.at) < 0.25 * range;
  return close
    ? [
        { ...point, label: "" },
        { at: advice.own, label: `${own}, your point` },
      ].sort((a, b) => a.at - b.at)
    : [point, { at: advice.own, label: own }];
}

/** How much air or water: what it brings, what it costs, where the fan really works, and what people usually say. */
export function FlowChart({ design, lane, operating }: { design: Design; lane: string; operating: Operating }) {
  const { system } = usePreferences();
  const [shown, setShown] = useState<Shown>("netHeat");
  const [weight, setWeight] = useState(1);
  const latest = useAdvice(design, operating, weight);
  // While a stack cannot be built the last chart stays, and says so: a chart that comes and goes with every edit helps nobody.
  const [advice, setAdvice] = useState<FlowAdvice | null>(null);
  if (latest && latest !== advice) setAdvice(latest);
  const spec = useSpec({ advice, system, shown, design, lane, operating });
  if (!advice || !spec) return null;
  const flow = (si: number) => quantityText(si, "massFlowPerArea", { system, figures: 2 });
  const peakInside = advice.peak !== advice.rows[advice.rows.length - 1];
  return (
    <section aria-label="Flow advice" data-testid="flow">
      {!latest && <p className="side">For the last stack that could be built:</p>}
      <div className="no-print flex flex-wrap items-center gap-x-1 pb-1">
        {(Object.keys(SHOW) as Shown[]).map((k) => (
          <button
            key={k}
            type="button"
            aria-pressed={shown === k}
            onClick={() => setShown(k)}
            className={`min-h-7 border-b-[3px] px-1.5 text-[12.5px] ${shown === k ? "border-action font-semibold" : "border-transparent text-ink-2 hover:bg-well"}`}
          >
            {SHOW[k].title}
          </button>
        ))}
      </div>
      <Chart spec={spec} height={176} legend={false} />
      <p className="text-[13px] leading-snug">
        {peakInside ? (
          <>
            Net heat peaks at <b className="font-[650]">{flow(advice.peak.massFlux)}</b>,{" "}
            {quantityText(advice.peak.netHeatW, "power", { expanded: advice.peakPlusMinusW, system })}; within 1 % from{" "}
            {flow(advice.flat[0])} to {flow(advice.flat[1])}.{" "}
          </>
        ) : (
          <>Net heat still grows at {flow(advice.peak.massFlux)}, the end of this chart. </>
        )}
        {advice.own === null
          ? "Nothing moves the fluid. "
          : `${design.drive.kind === "natural" ? "The draught" : "Your fan or pump"} works at ${flow(advice.own)}. `}
        Rule of thumb: {flow(THUMB_RULES[design.fluid.kind][0])} to {flow(THUMB_RULES[design.fluid.kind][1])}, whatever
        the box.
      </p>
      <label className="no-print mt-1 flex items-center gap-2 text-[12.5px]">
        A watt of electricity counts as
        <select
          className="border border-rule bg-sheet px-1"
          value={weight}
          onChange={(e) => setWeight(Number(e.target.value))}
        >
          <option value={1}>1 W of heat</option>
          <option value={2.5}>2.5 W of heat (power-plant fuel)</option>
          <option value={3.5}>3.5 W of heat (heat pump)</option>
        </select>
      </label>
    </section>
  );
}

function useSpec({
  advice,
  system,
  shown,
  design,
  lane,
  operating,
}: {
  advice: FlowAdvice | null;
  system: UnitSystem;
  shown: "pressure" | "netHeat" | "outlet" | "efficiency" | "fan";
  design: Design;
  lane: string;
  operating: Operating;
}) {
  const spec = useMemo<ChartSpec | null>(() => {
    if (!advice) return null;
    const flow = displayUnit("massFlowPerArea", system);
    const what = SHOW[shown];
    const unit = displayUnit(what.quantity, system);
    const y = (r: FlowAdvice["rows"][number]) => fromSi(what.of(r), unit) * (unit.symbol === "1" ? 100 : 1);
    const x = (si: number) => fromSi(si, flow);
    const [low, high] = THUMB_RULES[design.fluid.kind];
    return {
      title: `${what.title} by flow`,
      summary: `${what.title} against flow per gross area from ${x(advice.rows[0].massFlux).toPrecision(2)} to ${x(advice.rows[advice.rows.length - 1].massFlux).toPrecision(2)} ${flow.symbol}. Net heat peaks at ${x(advice.peak.massFlux).toPrecision(2)}.`,
      x: { title: `Flow per gross area, ${flow.symbol}; shaded: rule of thumb`, min: 0 },
      y: { title: `${what.title}, ${unit.symbol === "1" ? "%" : unit.symbol}` },
      series: [
        { label: what.title, lane, kind: "line", points: advice.rows.map((r) => ({ x: x(r.massFlux), y: y(r) })) },
      ],
      spans: [{ from: x(low), to: x(high), kind: "window" }],
      lines: markers(advice, operating, design.drive.kind === "natural" ? "draught" : "fan").map((m) => ({
        x: x(m.at),
        label: m.label,
      })),
      table: {
        columns: [
          `flow, ${flow.symbol}`,
          `flow, ${displayUnit("volumeFlow", system).symbol} per m²`,
          "efficiency, %",
          `outlet, ${displayUnit("temperature", system).symbol}`,
          `pressure, ${displayUnit("pressureLoss", system).symbol}`,
          "fan, W",
          "heat, W",
          "net heat, W",
        ],
        rows: advice.rows.map((r) => [
          Number(x(r.massFlux).toPrecision(3)),
          Number(fromSi(r.volumeFlux / 3600, displayUnit("volumeFlow", system)).toPrecision(3)),
          Number((100 * r.efficiency).toFixed(1)),
          Number(fromSi(r.outletC, displayUnit("temperature", system)).toFixed(1)),
          Number(fromSi(r.pressurePa, displayUnit("pressureLoss", system)).toPrecision(3)),
          Number(r.fanPowerW.toPrecision(3)),
          Math.round(r.heatW),
          Math.round(r.netHeatW),
        ]),
      },
    };
  }, [advice, shown, system, design.fluid, design.drive.kind, lane, operating]);
  return spec;
}
