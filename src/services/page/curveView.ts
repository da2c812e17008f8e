import { curveBands } from "../../core/analysis/alongCurve";
import type { Curve } from "../../core/analysis/curve";
import type { LackOfFit } from "../../core/analysis/lackOfFit";
import { onlyParts } from "../../core/analysis/points";
import { stagnationOf } from "../../core/analysis/textbook";
import { standardUncertainty } from "../../core/uncertainty/uncertain";
import { figure, type FigureView } from "./figureView";

export interface CurveView {
  lane: string;
  eta0: FigureView;
  a1: FigureView;
  a2: FigureView | null;
  /** Plate without flow by the curve, at 1,000 W/m² and 30 °C; null where it has no loss. */
  stagnation: FigureView | null;
  points: number;
  days: number;
  xRange: [number, number];
  residualSd: number;
  reducedChiSquare: number;
  /** Distance of each point from the curve, 1, with its own random ± (95 %). */
  residuals: { run: string; window: number; x: number; residual: number; random: number; leverage: number }[];
  lackOfFit: LackOfFit | null;
  band: { x: number; efficiency: number; confidence: number; prediction: number }[];
}

/** A curve as it is drawn and tabled, as far as the operating point. */
export function curveView(c: Curve, operatingX: number): CurveView {
  const [low, high] = c.xRange;
  const from = Math.min(0, low);
  const to = Math.max(high + 0.1 * (high - low), operatingX);
  const band = Array.from({ length: 41 }, (_, i) => {
    const x = from + ((to - from) * i) / 40;
    return { x, ...curveBands(c, x, c.irradiance) };
  });
  return {
    lane: c.lane,
    eta0: figure(c.eta0, "fraction"),
    a1: figure(c.a1, "lossCoefficient"),
    a2: c.a2 && figure(c.a2, "number"),
    stagnation: stagnationOf(c) && figure(stagnationOf(c)!, "temperature"),
    points: c.points,
    days: c.days,
    xRange: c.xRange,
    residualSd: c.residualSd,
    reducedChiSquare: c.reducedChiSquare,
    residuals: c.residuals.map(({ point, residual, leverage }) => ({
      run: point.run,
      window: point.window,
      x: point.reducedTemperature.value,
      residual,
      random: 2 * standardUncertainty(onlyParts(point.efficiency, "random")),
      leverage,
    })),
    lackOfFit: c.lackOfFit,
    band,
  };
}
