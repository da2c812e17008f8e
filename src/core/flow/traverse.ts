import { autocorrelatedMean } from "../uncertainty/typeA";

/**
 * Distances from the wall, as share of the diameter, at which a round duct is read so that the plain mean of the
 * readings is the mean speed (log-linear rule of ISO 3966; the tests check it against a power-law profile). By points on a diameter.
 */
const LOG_LINEAR: Record<4 | 6 | 10, readonly number[]> = {
  4: [0.043, 0.29, 0.71, 0.957],
  6: [0.032, 0.135, 0.321, 0.679, 0.865, 0.968],
  10: [0.019, 0.077, 0.153, 0.217, 0.361, 0.639, 0.783, 0.847, 0.923, 0.981],
};

export interface TraversePoint {
  /** Metres from one side, and from the top in a rectangular duct (0 in a round one). */
  xM: number;
  yM: number;
}

/**
 * Where to hold the probe along one diameter of a round duct.
 * @param points 4, 6 or 10
 * @example roundTraversePoints(0.1, 4).map((p) => p.xM) // [0.0043, 0.029, 0.071, 0.0957]
 */
export function roundTraversePoints(diameterM: number, points: 4 | 6 | 10 = 6): TraversePoint[] {
  if (!(diameterM > 0)) throw new RangeError("a duct's size is positive");
  return LOG_LINEAR[points].map((share) => ({ xM: share * diameterM, yM: 0 }));
}

/** Centres of equal rectangles, row by row. At least two each way; 16 points or more are usual. */
export function rectangularTraversePoints(widthM: number, heightM: number, columns = 4, rows = 4): TraversePoint[] {
  if (!(widthM > 0 && heightM > 0)) throw new RangeError("a duct's size is positive");
  if (!(columns >= 2 && rows >= 2)) throw new RangeError("a traverse has at least two points each way");
  return Array.from({ length: rows * columns }, (_, i) => ({
    xM: ((i % columns) + 0.5) * (widthM / columns),
    yM: (Math.floor(i / columns) + 0.5) * (heightM / rows),
  }));
}

/** What the rule itself may be wrong by on a real profile, standard, share of the mean: an assumption, about the rule's error on the power-law profile. */
const RULE_SHARE = 0.01;

export interface TraverseResult {
  meanSpeedMs: number;
  /** Mean ÷ the speed read at the usual place, to be used with later single readings there; null without that reading. */
  profileFactor: number | null;
  /** Standard uncertainty of the mean as share of it: the rule, and how the lines disagree. */
  standardShare: number;
  lines: number;
}

/**
 * Mean speed from a traverse along one or more lines (diameters, or rows of a grid).
 * Lines that disagree show a crooked profile; their scatter is part of the uncertainty.
 *
 * @param lines readings in m/s, one array a line, no negative values
 * @param usualPlaceMs what the meter reads where it will stay
 */
export function traverseMean(lines: readonly (readonly number[])[], usualPlaceMs?: number): TraverseResult {
  const all = lines.flat();
  if (all.length < 4) throw new RangeError("a traverse needs at least four readings");
  if (!all.every((v) => v >= 0 && Number.isFinite(v)))
    throw new RangeError("a traverse has no negative or missing speeds");
  const means = lines.map((l) => l.reduce((s, v) => s + v, 0) / l.length);
  const mean = all.reduce((s, v) => s + v, 0) / all.length;
  const disagreement = means.length > 1 ? autocorrelatedMean(means).sd / Math.sqrt(means.length) / mean : 0;
  return {
    meanSpeedMs: mean,
    profileFactor: usualPlaceMs && usualPlaceMs > 0 ? mean / usualPlaceMs : null,
    standardShare: Math.hypot(RULE_SHARE, disagreement),
    lines: lines.length,
  };
}
