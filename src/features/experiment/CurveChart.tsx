"use client";

import { useMemo } from "react";
import { fromSi, displayUnit, toSi } from "@/core/quantity/quantities";
import type { PredictedCurve } from "@/services/variant/variants";
import type { ExperimentView } from "@/services/page/views";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { usePreferences } from "@/ui/preferences";

const NONE: readonly PredictedCurve[] = [];
const STEPS = 12;

/** A predicted curve as a line over its own range, straight between its few points; the chart joins them. */
function within(
  points: PredictedCurve["points"],
  x: (si: number) => number,
  y: (si: number) => number,
): { x: number; y: number }[] {
  return points.slice(1).flatMap((b, i) =>
    Array.from({ length: STEPS }, (_, k) => {
      const t = k / (STEPS - 1);
      const a = points[i];
      return { x: x(a.x + (b.x - a.x) * t), y: y(a.efficiency + (b.efficiency - a.efficiency) * t) };
    }),
  );
}

/** Efficiency points, fitted curves and their 95 % bands over the reduced temperature difference. */
export function CurveChart({
  view,
  height,
  markPoint = false,
  predicted = NONE,
  onPoint,
}: {
  view: ExperimentView;
  height: number;
  markPoint?: boolean;
  predicted?: readonly PredictedCurve[];
  /** The operating point was moved along the curves, K·m²/W. */
  onPoint?: (x: number, done: boolean) => void;
}) {
  const { system } = usePreferences();
  const canMove = onPoint !== undefined;
  const spec = useMemo<ChartSpec>(() => {
    const unit = displayUnit("reducedTemperature", system);
    const x = (si: number) => fromSi(si, unit);
    const pct = (v: number) => v * 100;
    const best = view.ranking[0]?.lane;
    const points = view.points;
    const ys = points.map((p) => pct(p.efficiency.si));
    const low = Math.max(
      0,
      Math.floor(
        (Math.min(
          ...ys,
          ...view.curves.flatMap((c) =>
            c.band.filter((b) => b.x >= c.xRange[0] && b.x <= c.xRange[1]).map((b) => pct(b.efficiency)),
          ),
        ) -
          4) /
          10,
      ) * 10,
    );
    const high = Math.min(100, Math.ceil((Math.max(...ys, ...view.curves.map((c) => pct(c.eta0.si))) + 2) / 10) * 10);
    const curves = view.curves.map(
      (c) =>
        `${c.lane}: η0 ${pct(c.eta0.si).toFixed(1)} ± ${pct(c.eta0.expanded ?? 0).toFixed(1)} %, a1 ${c.a1.si.toFixed(1)} ± ${(c.a1.expanded ?? 0).toFixed(1)} W/(m²·K)`,
    );
    return {
      title: "Efficiency curves",
      summary: `${points.length} points of ${view.curves.length} lanes. ${curves.join("; ")}.`,
      x: { title: `${view.head.settings.basis === "mean" ? "(Tm − Ta)/G" : "(Tin − Ta)/G"}, ${unit.symbol}`, min: 0 },
      y: { title: `Efficiency of ${view.head.settings.areaBasis} area, %`, min: low, max: high },
      series: [
        ...view.curves.map((c) => ({
          label: `${c.lane} curve`,
          lane: c.lane,
          kind: "band" as const,
          points: c.band.map((b) => ({ x: x(b.x), y: pct(b.efficiency), plusMinus: pct(b.confidence) })),
        })),
        ...predicted.map((c) => ({
          label: `${c.lane} predicted`,
          lane: c.lane,
          kind: "line" as const,
          dashed: true,
          points: within(c.points, x, pct),
        })),
        ...[...new Set(points.map((p) => p.lane))].map((lane) => ({
          label: `${lane} window`,
          lane,
          kind: "points" as const,
          points: points.filter((p) => p.lane === lane).map((p) => ({ x: x(p.x), y: pct(p.efficiency.si) })),
        })),
      ],
      lines: markPoint && best ? [{ x: x(view.operatingX[best]), label: "your point", drag: canMove }] : [],
      table: {
        columns: ["lane", "run", "window", "day", `x, ${unit.symbol}`, "efficiency, %", "± (95 %)", "irradiance, W/m²"],
        rows: points.map((p) => [
          p.lane,
          p.run,
          p.window + 1,
          p.day,
          Number(x(p.x).toFixed(5)),
          Number(pct(p.efficiency.si).toFixed(2)),
          Number(pct(p.efficiency.expanded ?? 0).toFixed(2)),
          Math.round(p.irradiance.si),
        ]),
      },
    };
  }, [view, system, markPoint, predicted, canMove]);
  return (
    <div>
      <Chart
        spec={spec}
        height={height}
        onDragLine={
          onPoint && ((_, value, done) => onPoint(toSi(value, displayUnit("reducedTemperature", system)), done))
        }
      />
      <p className="side">
        Markers: steady windows. Line and band: fit with its 95 % uncertainty, errors all lanes share included.
        {predicted.length > 0 && " Dashed: predicted from the design, before any reading."}
      </p>
    </div>
  );
}
