"use client";

import { useMemo } from "react";
import { highLeverage } from "@/core/analysis/leverage";
import { displayUnit, fromSi } from "@/core/quantity/quantities";
import type { CurveView, ExperimentView } from "@/services/page/views";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { usePreferences } from "@/ui/preferences";

/** Below it the shape of a curve does not hold. */
const TOLD = 0.05;

/** How far each point lies from its curve, which of them pull it, and whether its shape holds. */
export function Residuals({ view: { curves, head } }: { view: ExperimentView }) {
  const { system } = usePreferences();
  const spec = useMemo(() => residualChart(curves, head.settings.basis, system), [curves, head.settings.basis, system]);
  const bent = curves.filter((c) => c.lackOfFit && c.lackOfFit.p < TOLD);
  return (
    <details open={bent.length > 0}>
      <summary className="cursor-pointer text-[13.5px] font-semibold text-action">
        Distance of the points from their curves
      </summary>
      <Chart spec={spec} height={180} />
      <ul className="text-[13.5px]">
        {curves.map((c) => (
          <li key={c.lane} className={c.lackOfFit && c.lackOfFit.p < TOLD ? "text-doubt" : ""}>
            {c.lane}: {shapeWords(c)}
            {pulling(c)}
          </li>
        ))}
      </ul>
    </details>
  );
}

function shapeWords({ lackOfFit }: CurveView): string {
  if (!lackOfFit) return "too few points at one place to tell whether its shape holds";
  const { p, groups } = lackOfFit;
  const chance = p < 0.001 ? "less than 0.001" : p.toPrecision(2);
  return p < TOLD
    ? `its shape does not hold: points at one place agree better than with the curve (p ${chance} over ${groups} places). Wind, drift or a fan that changed with the temperature bend it so`
    : `its shape holds (p ${chance} over ${groups} places)`;
}

function pulling(c: CurveView): string {
  const limit = highLeverage(c.residuals);
  const pull = c.residuals.filter((r) => r.leverage > limit).length;
  const far = c.residuals.filter((r) => Math.abs(r.residual) > 3 * c.residualSd).length;
  return [
    pull ? `; ${pull} point${pull > 1 ? "s" : ""} of high leverage` : "",
    far ? `; ${far} beyond three times its scatter` : "",
    ".",
  ].join("");
}

function residualChart(curves: readonly CurveView[], basis: "mean" | "inlet", system: "metric" | "us"): ChartSpec {
  const unit = displayUnit("reducedTemperature", system);
  const x = (si: number) => fromSi(si, unit);
  const worst = curves.map(
    (c) =>
      `${c.lane} at most ${(100 * Math.max(...c.residuals.map((r) => Math.abs(r.residual)))).toFixed(1)} points of efficiency`,
  );
  return {
    title: "Distance from the curve",
    summary: `${worst.join("; ")}.`,
    x: { title: `${basis === "mean" ? "(Tm − Ta)/G" : "(Tin − Ta)/G"}, ${unit.symbol}` },
    y: { title: "off its curve, %" },
    series: curves.map((c) => ({
      label: c.lane,
      lane: c.lane,
      kind: "points",
      points: c.residuals.map((r) => ({ x: x(r.x), y: 100 * r.residual, plusMinus: 100 * r.random })),
    })),
    lines: [{ y: 0, label: "" }],
    table: {
      columns: ["lane", "run", "window", `x, ${unit.symbol}`, "off its curve, %", "own noise ± (95 %), %", "leverage"],
      rows: curves.flatMap((c) =>
        c.residuals.map((r) => [
          c.lane,
          r.run,
          r.window + 1,
          Number(x(r.x).toFixed(5)),
          Number((100 * r.residual).toFixed(3)),
          Number((100 * r.random).toFixed(3)),
          Number(r.leverage.toFixed(3)),
        ]),
      ),
    },
  };
}
