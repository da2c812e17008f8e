import { coverageFactor } from "../uncertainty/coverage";
import {
  combine,
  divide,
  effectiveDof,
  standardUncertainty,
  withSource,
  type Uncertain,
} from "../uncertainty/uncertain";
import type { Curve } from "./curve";
import type { EfficiencyPoint } from "./points";

/** Bend a collector's losses may have though its points did not show it, standard, W/(m²·K²): makers' flat ones state 0.01 to 0.02 (typical values). */
const UNSEEN_BEND = 0.008;

/**
 * What a curve may be off by at x beyond its points: a bend a2 between their ends makes a2·G·(x − x1)·(x − x2) outside, and
 * nothing that counts within.
 */
export function unseenBend(curve: Pick<Curve, "lane" | "a2" | "xRange">, x: number, irradianceWm2: number): Uncertain {
  const [low, high] = curve.xRange;
  // A slope that was predicted holds the bend of its layers' losses; one that was fitted saw none beyond its points, bent or not.
  const predicted = curve.a2 !== null && curve.a2.parts.size === 0;
  const outside = predicted ? 0 : Math.max(0, (x - low) * (x - high));
  return withSource(0, UNSEEN_BEND * irradianceWm2 * outside, {
    kind: "unseenBend",
    lane: curve.lane,
    owner: curve.lane,
    dof: Infinity,
  });
}

/** Efficiency on the curve at x, K·m²/W, and irradiance G, W/m². */
function curveEfficiency(curve: Curve, x: number, irradianceWm2: number): Uncertain {
  const bend = irradianceWm2 * x * x;
  const value = curve.eta0.value - curve.a1.value * x - (curve.a2?.value ?? 0) * bend;
  return combine(value, [
    [1, curve.eta0],
    [-x, curve.a1],
    ...(curve.a2 ? [[-bend, curve.a2] as const] : []),
    [1, unseenBend(curve, x, irradianceWm2)],
  ]);
}

/** A window's efficiency as it would be straight on: η + η0·(1 − K) with its curve's η0, as only the light is less; without a curve η/K. */
export function atNormal(point: EfficiencyPoint, eta0: Uncertain | undefined): Uncertain {
  if (!eta0) return divide(point.efficiency, point.modifier);
  const missing = 1 - point.modifier.value;
  return combine(point.efficiency.value + eta0.value * missing, [
    [1, point.efficiency],
    [missing, eta0],
    [-eta0.value, point.modifier],
  ]);
}

/** Half-widths at 95 % at x: of the curve itself, and of a further point */
export function curveBands(
  curve: Curve,
  x: number,
  irradianceWm2: number,
): { efficiency: number; confidence: number; prediction: number } {
  const at = curveEfficiency(curve, x, irradianceWm2);
  const u = standardUncertainty(at);
  const k = coverageFactor(effectiveDof(at));
  return { efficiency: at.value, confidence: k * u, prediction: k * Math.hypot(u, curve.predictionSd) };
}

/** Where two curves cross (straight parts), K·m²/W, or null when they are parallel. */
export function crossingPoint(a: Curve, b: Curve): Uncertain | null {
  const slope = a.a1.value - b.a1.value;
  if (Math.abs(slope) < 1e-9) return null;
  const x = (a.eta0.value - b.eta0.value) / slope;
  return combine(x, [
    [1 / slope, a.eta0],
    [-1 / slope, b.eta0],
    [-x / slope, a.a1],
    [x / slope, b.a1],
  ]);
}
