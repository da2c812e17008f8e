import { combine, exact, withSource, type Uncertain } from "../uncertainty/uncertain";
import { onlyParts, type EfficiencyPoint } from "../analysis/points";
import type { Curve } from "../analysis/curve";

/** Fewer windows than this make no mean with a scatter. */
const FEWEST = 3;

/**
 * A curve of measured level and predicted slope: η0 is what the windows' efficiencies come to when each is moved along the drawing's
 * a1. null for fewer than three windows.
 */
export function slopeCurve(points: readonly EfficiencyPoint[], a1: Uncertain): Curve | null {
  if (points.length < FEWEST) return null;
  const levels = points.map((p) => (p.efficiency.value + a1.value * p.reducedTemperature.value) / p.modifier.value);
  const mean = levels.reduce((s, v) => s + v, 0) / levels.length;
  const residuals = points.map((point, i) => ({ point, residual: levels[i] - mean, leverage: 1 / points.length }));
  const variance = residuals.reduce((s, r) => s + r.residual ** 2, 0) / (points.length - 1);
  const share = 1 / points.length;
  const x = points.map((p) => p.reducedTemperature.value);
  const systematic = combine(
    mean,
    points.flatMap((p) => [
      [share / p.modifier.value, onlyParts(p.efficiency, "systematic")] as const,
      [(share * p.reducedTemperature.value) / p.modifier.value, a1] as const,
    ]),
  );
  const scatter = withSource(0, Math.sqrt(variance * share), {
    kind: "curveFit",
    lane: points[0].lane,
    scatter: "window",
    row: 0,
    owner: points[0].lane,
    dof: points.length - 1,
  });
  return {
    lane: points[0].lane,
    eta0: combine(mean, [
      [1, systematic],
      [1, scatter],
    ]),
    a1,
    // The slope predicted holds the bend that the layers' own losses have.
    a2: exact(0),
    a5: null,
    points: points.length,
    days: new Set(points.map((p) => p.day)).size,
    xRange: [Math.min(...x), Math.max(...x)],
    irradiance: share * points.reduce((s, p) => s + p.irradiance.value, 0),
    residualSd: Math.sqrt(variance),
    scatterFrom: "own",
    predictionSd: Math.sqrt(variance),
    reducedChiSquare: 1,
    dof: points.length - 1,
    daysDiffer: false,
    residuals,
    lackOfFit: null,
  };
}
