import { divide, subtract, type Uncertain } from "../uncertainty/uncertain";

const positive = (value: number, what: string) => {
  if (!(value > 0 && Number.isFinite(value))) throw new RangeError(`${what} is positive`);
};

/** Volume flow, m³/s, from the time a bag of known volume takes to fill. The bag must lie slack: back pressure slows the fan. @example bagFillFlow(0.1, 3) // 0.033 */
export function bagFillFlow(volumeM3: number, seconds: number): number {
  positive(volumeM3, "a bag's volume");
  positive(seconds, "the time to fill it");
  return volumeM3 / seconds;
}

/** Mass flow, kg/s, from the mass caught in a bucket in a time. Weighing needs no density. @example bucketFlow(10, 120) // 0.0833 */
export function bucketFlow(massKg: number, seconds: number): number {
  positive(massKg, "the mass caught");
  positive(seconds, "the time to catch it");
  return massKg / seconds;
}

/**
 * Volume flow, m³/s, from the time smoke takes through a path of known volume. An order of magnitude only: smoke
 * shows the fastest thread, which runs up to twice the mean, so the result is a ceiling. @returns estimate and its floor
 */
export function smokeTransitFlow(
  pathVolumeM3: number,
  seconds: number,
): { ceilingM3PerS: number; floorM3PerS: number } {
  positive(pathVolumeM3, "the path's volume");
  positive(seconds, "the transit time");
  const ceilingM3PerS = pathVolumeM3 / seconds;
  return { ceilingM3PerS, floorM3PerS: ceilingM3PerS / 2 };
}

/** Share of the mass flow that leaves or enters on the way: (ṁout − ṁin)/ṁin; negative for a leak outwards. */
export function leakShare(inletFlow: Uncertain, outletFlow: Uncertain): Uncertain {
  return divide(subtract(outletFlow, inletFlow), inletFlow);
}
