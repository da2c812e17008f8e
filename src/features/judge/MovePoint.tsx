"use client";

import { useState } from "react";
import { usualSpecificHeat } from "@/core/judge/flowWay";
import { efficiencyAt, inletFor } from "@/core/judge/movedPoint";
import { quantityText } from "@/core/quantity/format";
import { useSettings } from "@/features/experiment/useSettings";
import { CurveChart } from "@/features/experiment/CurveChart";
import type { ExperimentView } from "@/services/page/views";
import { usePreferences } from "@/ui/preferences";

/** The curves with the operating point on them: dragged along, the heats are read off at once; let go, everything is ranked anew there. */
export function MovePoint({ view }: { view: ExperimentView }) {
  const { head, ranking, curves } = view;
  const { system } = usePreferences();
  const { change } = useSettings(head);
  const [at, setAt] = useState<number | null>(null);
  const { operatingPoint: op, basis } = head.settings;
  const best = curves.find((c) => c.lane === ranking[0]?.lane);
  const movable = view.way === "point" && best !== undefined;

  const move = (x: number, done: boolean) => {
    setAt(done ? null : x);
    if (!done || !best) return;
    const { design } = head.lanes.find((l) => l.letter === best.lane)!;
    const perArea = view.flows.find((f) => f.lane === best.lane)?.compared ?? op.flowPerArea;
    const flow = { perArea, specificHeat: (inletC: number) => usualSpecificHeat(design.fluid, inletC) };
    const inletC = inletFor(op, { from: view.operatingX[best.lane], to: x }, basis, best.band, flow);
    const rounded = Math.round(Math.max(-60, Math.min(120, inletC)) * 10) / 10;
    change(({ operatingPoint }) => ({ operatingPoint: { ...operatingPoint, inletC: rounded } }));
  };
  const there =
    at === null
      ? []
      : curves
          .map((c) => {
            const half = c.band.map((b) => ({ x: b.x, efficiency: b.confidence }));
            return {
              lane: c.lane,
              heat: op.irradianceWm2 * efficiencyAt(c.band, at),
              expanded: op.irradianceWm2 * efficiencyAt(half, at),
            };
          })
          .sort((a, b) => b.heat - a.heat);
  return (
    <div>
      <CurveChart view={view} height={286} markPoint onPoint={movable ? move : undefined} />
      <p className="side min-h-5" role="status">
        {there.length > 0
          ? `There: ${there.map((t) => `${t.lane} ${quantityText(t.heat, "heatFlux", { system, expanded: t.expanded })}`).join(", ")}. Let go to rank there.`
          : movable && "Drag your point along the curves, or type an inlet below."}
      </p>
    </div>
  );
}
