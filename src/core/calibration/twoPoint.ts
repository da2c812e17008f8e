import { saturationPressure } from "../fluids/moistAir";
import type { Correction } from "./correction";

/** Boiling point of water, °C, at a pressure, Pa, 50 to 110 kPa (the saturation formula of moistAir turned round). */
export function boilingPoint(pressurePa: number): number {
  if (!(pressurePa >= 50000 && pressurePa <= 110000))
    throw new RangeError(`a pressure of ${pressurePa} Pa is outside 50 to 110 kPa`);
  let [low, high] = [75, 105];
  for (let i = 0; i < 50; i++) {
    const middle = (low + high) / 2;
    if (saturationPressure(middle) < pressurePa) low = middle;
    else high = middle;
  }
  return low;
}

/**
 * Correction from two fixed points: stirred ice water at 0 °C and boiling water at the local pressure.
 *
 * @param iceC and @param boilC as the probe showed them
 * @param pressurePa local, not reduced to sea level; @param standardK of each point as made: 0.1 K is careful work (typical value)
 */
export function twoPointCorrection(
  iceC: number,
  boilC: number,
  pressurePa: number,
  standardK: number,
  atMs: number,
): Correction {
  const boiling = boilingPoint(pressurePa);
  if (Math.abs(iceC) > 10 || Math.abs(boilC - boiling) > 15)
    throw new RangeError("these readings are too far from ice and boiling water to be them");
  const errors = [iceC, boilC - boiling];
  const t0C = boiling / 2;
  return {
    t0C,
    offsetK: (errors[0] + errors[1]) / 2,
    slope: (errors[1] - errors[0]) / boiling,
    standardOffsetK: standardK / Math.SQRT2,
    standardSlope: (standardK * Math.SQRT2) / boiling,
    covariance: 0,
    range: [0, boiling],
    atMs,
  };
}
