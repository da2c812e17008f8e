/** A probe's error as a straight line about T0, found at a date: indicated − true = offset + slope·(T − T0). */
export interface Correction {
  t0C: number;
  offsetK: number;
  /** K per K; 0 for a pure offset. */
  slope: number;
  /** Of the offset at T0 and of the slope, standard, and their covariance; the probe's own, without the reference. */
  standardOffsetK: number;
  standardSlope: number;
  covariance: number;
  /** Span in which it was found, °C; outside, an offset is carried on and its uncertainty grows with the slope's. */
  range: [number, number];
  atMs: number;
}

/** What the probe should have shown. Linear: the correction of a mean is the mean of corrections. */
export const correct = (c: Pick<Correction, "t0C" | "offsetK" | "slope">, indicatedC: number): number =>
  indicatedC - c.offsetK - c.slope * (indicatedC - c.t0C);

/**
 * Typical error of cheap probes that an offset alone leaves per kelvin away from where it was found, standard, K/K: half a
 * percent (typical value of uncalibrated digital and thermistor probes).
 */
const UNKNOWN_SLOPE = 0.005;

/** Standard uncertainty of a corrected reading, K, without the reference's own. */
export function correctionUncertainty(c: Correction, temperatureC: number): number {
  const d = temperatureC - c.t0C;
  const outside = Math.max(0, c.range[0] - temperatureC, temperatureC - c.range[1]);
  const unknown = c.slope === 0 && c.standardSlope === 0 ? UNKNOWN_SLOPE * outside : 0;
  return Math.sqrt(
    Math.max(0, c.standardOffsetK ** 2 + 2 * d * c.covariance + (d * c.standardSlope) ** 2) + unknown ** 2,
  );
}

/** A correction at a date, and how much the probe may have drifted, standard, K. */
export interface DatedCorrection extends Correction {
  driftK: number;
}

/**
 * Correction at an instant between calibrations: the line between the one before and the one after, with their difference spread over a
 * rectangular distribution as drift (half the difference ÷ √3); outside of them the nearest, with the whole difference; with one
 * calibration only, its own and no known drift.
 *
 * @param corrections of one probe, any order, at least one
 */
export function correctionAt(corrections: readonly Correction[], timeMs: number): DatedCorrection {
  if (!corrections.length) throw new RangeError("a probe without calibration has no correction");
  const sorted = [...corrections].sort((a, b) => a.atMs - b.atMs);
  const after = sorted.findIndex((c) => c.atMs >= timeMs);
  if (sorted.length === 1) return { ...sorted[0], driftK: 0 };
  if (after <= 0) {
    const end = after === 0 ? [sorted[0], sorted[1]] : [sorted[sorted.length - 1], sorted[sorted.length - 2]];
    return { ...end[0], driftK: Math.abs(errorAt(end[0], end[0].t0C) - errorAt(end[1], end[0].t0C)) / Math.sqrt(3) };
  }
  const [a, b] = [sorted[after - 1], sorted[after]];
  const t = (timeMs - a.atMs) / (b.atMs - a.atMs);
  const t0C = a.t0C;
  const mix = (x: number, y: number) => x * (1 - t) + y * t;
  const rms = (x: number, y: number) => Math.sqrt(mix(x * x, y * y));
  return {
    t0C,
    atMs: timeMs,
    range: [Math.max(a.range[0], b.range[0]), Math.min(a.range[1], b.range[1])],
    offsetK: mix(errorAt(a, t0C), errorAt(b, t0C)),
    slope: mix(a.slope, b.slope),
    standardOffsetK: rms(correctionUncertainty(a, t0C), correctionUncertainty(b, t0C)),
    standardSlope: rms(a.standardSlope, b.standardSlope),
    covariance: mix(a.covariance, b.covariance),
    driftK: Math.abs(errorAt(b, t0C) - errorAt(a, t0C)) / 2 / Math.sqrt(3),
  };
}

/** Indicated less true, K. */
export const errorAt = (c: Correction, temperatureC: number): number => c.offsetK + c.slope * (temperatureC - c.t0C);
