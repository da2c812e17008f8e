import { fromLimit } from "../uncertainty/uncertain";

/** Standard uncertainties of a difference of two lanes' heat per area, W/m², by how they can be brought down. */
export interface Precision {
  /** What stays with a place on the bench and cancels when lanes swap: by group, of two lanes that never swap. */
  place: Record<PlaceGroup, number>;
  /** What neither swaps nor repetition remove: sun, area, specimens' own. */
  fixed: number;
  /** Scatter of one window's difference. */
  window: number;
  /** Scatter of days, beyond that of their windows. */
  day: number;
  /** Bench repeatability from an identical pair, beyond its own uncertainty. */
  repeatability: number;
}

export const PLACE_GROUPS = ["probe", "meter", "profile", "station"] as const;
export type PlaceGroup = (typeof PLACE_GROUPS)[number];

export const placeVariance = (p: Precision): number => PLACE_GROUPS.reduce((s, g) => s + p.place[g] ** 2, 0);

/** What a bench's makers' limits promise, before any run. */
export interface StatedBench {
  /** Expected heat per area, W/m², and rise of the fluid, K. */
  heatWm2: number;
  riseK: number;
  /** ± limits: of each probe, K; of meters and of the profile, shares. */
  probeLimitK: number;
  meterLimitShare: number;
  profileLimitShare: number;
  /** Standard share by which stations differ. */
  stationShare: number;
  /** Standard shares by which single windows and whole days scatter. */
  windowShare: number;
  dayShare: number;
}

/** Where nothing was run yet: cheap probes, a vane in the duct, a bench in the open. Typical values, to be replaced by one's own. */
export const TYPICAL_BENCH: StatedBench = {
  heatWm2: 450,
  riseK: 22,
  probeLimitK: 0.5,
  meterLimitShare: 0.03,
  profileLimitShare: 0.05,
  stationShare: 0.004,
  windowShare: 0.015,
  dayShare: 0.006,
};

/**
 * Precision of a difference from stated limits: two probes a lane for the rise, one meter and one duct each. The shared sun cancels but for its part in the difference itself.
 * @param sunShare ± limit of the sun sensor, and @param differenceWm2 the difference it scales
 */
export function statedPrecision(b: StatedBench, sunShare = 0.03, differenceWm2 = 0): Precision {
  if (!(b.riseK > 0 && b.heatWm2 > 0)) throw new RangeError("heat and rise are positive");
  const pair = Math.SQRT2 * b.heatWm2;
  return {
    place: {
      probe: (pair * Math.SQRT2 * fromLimit(b.probeLimitK)) / b.riseK,
      meter: pair * fromLimit(b.meterLimitShare),
      profile: pair * fromLimit(b.profileLimitShare),
      station: pair * b.stationShare,
    },
    fixed: Math.abs(differenceWm2) * fromLimit(sunShare),
    window: b.heatWm2 * b.windowShare,
    day: b.heatWm2 * b.dayShare,
    repeatability: 0,
  };
}
