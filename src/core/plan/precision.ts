import { dayAnalysis, groupBy } from "../analysis/curve";
import { fitErrorLeft, laneHeats, scaleKind, type CompareInput } from "../judge/pairs";
import { fromLimit, subtract, type SourceKind } from "../uncertainty/uncertain";

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

const GROUP: Partial<Record<SourceKind, PlaceGroup>> = {
  probe: "probe",
  drift: "probe",
  speedMeter: "meter",
  volumeMeter: "meter",
  massMeter: "meter",
  profile: "profile",
  ductArea: "profile",
  station: "station",
};
const SCATTER: ReadonlySet<SourceKind> = new Set(["probeNoise", "speedNoise", "sunNoise", "otherNoise", "dayScatter"]);

export const placeVariance = (p: Precision): number => PLACE_GROUPS.reduce((s, g) => s + p.place[g] ** 2, 0);

/**
 * What past windows say about a difference of two lanes: systematic parts from the budgets of single windows (before any swap
 * cancels them), scatter from the windows themselves, days apart where they differ. null with fewer than three shared windows.
 */
export function pastPrecision(input: CompareInput, a: string, b: string, repeatability: number): Precision | null {
  const heats = laneHeats(input);
  const windowOf = (p: { run: string; window: number }) => `${p.run}/${p.window}`;
  const others = new Map((heats.get(b) ?? []).map((h) => [windowOf(h.point), h]));
  const shared = (heats.get(a) ?? []).flatMap((h) => {
    const other = others.get(windowOf(h.point));
    return other ? [{ a: h, b: other }] : [];
  });
  const keys = shared.map((s) => `${s.a.point.station}-${s.b.point.station}`);
  const arrangements = groupBy(keys);
  if (shared.length < 3 || shared.length <= arrangements.size) return null;
  const left = fitErrorLeft(
    shared.map((s) => s.a.heat),
    shared.map((s) => s.b.heat),
    keys,
  );
  const differences = shared.map((s) => scaleKind(subtract(s.a.heat, s.b.heat), "curveFit", left));
  const place: Record<PlaceGroup, number> = { probe: 0, meter: 0, profile: 0, station: 0 };
  // The curve that moves windows to the operating point was fitted to them: one error for all of them, which shrinks as they multiply.
  const fitMean = new Map<string, number>();
  // What stays acts on all windows at once, some more than others: its mean counts.
  const fixedMean = new Map<string, number>();
  for (const d of differences)
    for (const [key, { source, standard: part }] of d.parts) {
      const { kind } = source;
      if (SCATTER.has(kind)) continue;
      const group = GROUP[kind];
      if (group) place[group] += part ** 2;
      else if (kind === "curveFit") fitMean.set(key, (fitMean.get(key) ?? 0) + part / shared.length);
      else fixedMean.set(key, (fixedMean.get(key) ?? 0) + part / shared.length);
    }
  const n = shared.length;
  for (const g of PLACE_GROUPS) place[g] = Math.sqrt(place[g] / n);
  const centred = differences.map(
    (d, i) => d.value - meanOf(arrangements.get(keys[i])!.map((m) => differences[m].value)),
  );
  const scatter = dayAnalysis(centred, groupBy(shared.map((s) => s.a.point.day)), arrangements.size);
  return {
    place,
    fixed: lengthOf(fixedMean),
    window: Math.hypot(Math.sqrt(scatter.windowVariance), Math.sqrt(n) * lengthOf(fitMean)),
    day: Math.sqrt(scatter.dayVariance),
    repeatability,
  };
}

const lengthOf = (parts: ReadonlyMap<string, number>): number =>
  Math.sqrt([...parts.values()].reduce((s, v) => s + v * v, 0));

const meanOf = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

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
