import { cleanChannel } from "../log/clean";
import { gridMean, medianInterval } from "../log/grid";
import { autocorrelatedMean } from "../uncertainty/typeA";
import { leastSquares } from "../numeric/leastSquares";
import { median } from "../numeric/middle";
import { coverageFactor } from "../uncertainty/coverage";
import { BATH_DEFAULTS, type BathOptions } from "./bathOptions";
import { correct, type Correction } from "./correction";

/** One probe's log in the bath. Times ms UTC ascending, values °C. */
export interface BathChannel {
  key: string;
  times: Float64Array;
  values: Float64Array;
}

export type BathProblem =
  | { kind: "tooFewProbes"; probes: number }
  | { kind: "duplicate"; key: string }
  | { kind: "tooShort"; readings: number; needed: number }
  | { kind: "referenceMissing"; key: string };

export type BathWarning =
  | { kind: "twoProbes" }
  | { kind: "constant"; spanK: number; atC: number }
  | { kind: "slopeRefused"; spanK: number; neededK: number }
  | { kind: "slopeLagMixed" }
  | { kind: "cooledTooFast"; rateKPerMin: number; lagSpreadS: number; errorK: number }
  | { kind: "missing"; key: string; share: number }
  | { kind: "outlier"; key: string; byK: number };

export interface ProbeCalibration {
  key: string;
  correction: Correction;
  /** Lag behind the reference, s, with its standard uncertainty; null where the bath does not tell. */
  lagS: number | null;
  lagStandardS: number | null;
  residualSdK: number;
  share: number;
  outlier: boolean;
  leftOut: boolean;
}

export interface BathResult {
  probes: ProbeCalibration[];
  model: "offset" | "line";
  /** Why this model and not the other. */
  reason: "asked" | "spanTooSmall" | "noSlopeFound" | "slopesFound";
  warnings: BathWarning[];
  spanC: [number, number];
  rateKPerMin: number;
  /** Common clock and, on it, reference and each probe before and after, °C. */
  timesMs: Float64Array;
  referenceC: Float64Array;
  before: Float64Array[];
  after: Float64Array[];
  /** Standard deviation between probes, K, raw and corrected. */
  spreadBeforeK: number;
  spreadAfterK: number;
}

export type BathCalibration = { ok: true; result: BathResult } | { ok: false; problem: BathProblem };

/** Below this span of the bath a slope is not fitted, K. */
export const SLOPE_SPAN = 10;
const NEEDED_CELLS = 10;
const MOST_CELLS = 4000;
/** A probe further from the middle of the others than this and than five times their spread is an outlier, K. */
const OUTLIER_LEAST = 1;
const CONSTANT_SPAN = 1;

/**
 * Co-location calibration: all probes in one stirred bath, logged together while it cools or warms. Each probe's difference from the
 * reference is fitted as an offset, or as an offset and a slope where the bath's span carries one; a lag behind the reference shows
 * as a difference that goes with the bath's rate. Uncertainties count the autocorrelation of the residuals and the bath's gradient.
 *
 * @returns one problem when nothing can be said; warnings beside a result
 */
export function calibrateBath(channels: readonly BathChannel[], options: BathOptions = BATH_DEFAULTS): BathCalibration {
  const seen = new Set<string>();
  for (const c of channels) {
    if (seen.has(c.key)) return { ok: false, problem: { kind: "duplicate", key: c.key } };
    seen.add(c.key);
  }
  if (channels.length < 2) return { ok: false, problem: { kind: "tooFewProbes", probes: channels.length } };
  const grid = commonGrid(channels, options.span);
  if (!grid)
    return {
      ok: false,
      problem: { kind: "tooShort", readings: Math.min(...channels.map((c) => c.times.length)), needed: NEEDED_CELLS },
    };
  const series = channels.map((c) => gridMean(c.times, c.values, cleanChannel(c.times, c.values, "inlet").codes, grid));
  const shares = series.map((s) => s.reduce((n, v) => n + (Number.isNaN(v) ? 0 : 1), 0) / s.length);
  const warnings: BathWarning[] = [];
  const usable = channels.map((c, i) => !options.leftOut.includes(c.key) && shares[i] * grid.count >= NEEDED_CELLS);
  channels.forEach((c, i) => {
    if (shares[i] < 0.9) warnings.push({ kind: "missing", key: c.key, share: 1 - shares[i] });
  });
  const outlier = findOutliers(series, usable);
  channels.forEach((c, i) => {
    if (outlier[i] !== null) warnings.push({ kind: "outlier", key: c.key, byK: outlier[i]! });
  });
  const good = usable.map((u, i) => u && outlier[i] === null);
  if (good.filter(Boolean).length < 2)
    return { ok: false, problem: { kind: "tooFewProbes", probes: good.filter(Boolean).length } };
  if (good.filter(Boolean).length === 2 && options.reference === "mean") warnings.push({ kind: "twoProbes" });
  const chosen = channels.findIndex((c) => c.key === options.reference);
  if (options.reference !== "mean" && (chosen < 0 || !usable[chosen]))
    return { ok: false, problem: { kind: "referenceMissing", key: options.reference } };
  const referenceC = options.reference === "mean" ? steadyMean(series, good) : series[chosen];
  return fit(channels, series, shares, usable, outlier, referenceC, grid, options, warnings);
}

interface BathGrid {
  startMs: number;
  stepMs: number;
  count: number;
}

function commonGrid(channels: readonly BathChannel[], span: [number, number] | null): BathGrid | null {
  const from = Math.max(span?.[0] ?? -Infinity, Math.min(...channels.map((c) => c.times[0] ?? Infinity)));
  const to = Math.min(
    span?.[1] ?? Infinity,
    Math.max(...channels.map((c) => c.times[c.times.length - 1] ?? -Infinity)),
  );
  const slowest = Math.max(...channels.map((c) => medianInterval(c.times)).filter((v) => Number.isFinite(v)));
  if (!(to > from) || !Number.isFinite(slowest)) return null;
  const stepMs = Math.max(slowest, (to - from) / MOST_CELLS);
  const count = Math.floor((to - from) / stepMs);
  return count < NEEDED_CELLS ? null : { startMs: from, stepMs, count };
}

/** Mean of the good probes whose membership never changes the level: each probe's own mean difference is taken out before averaging, so that a gap in one leaves no step. */
function steadyMean(series: readonly Float64Array[], good: readonly boolean[]): Float64Array {
  const chosen = series.filter((_, i) => good[i]);
  const middle = Float64Array.from(chosen[0], (_, t) => median(chosen.map((s) => s[t])));
  const shift = chosen.map((s) => autocorrelatedMean(Float64Array.from(s, (v, t) => v - middle[t])).mean);
  const level = shift.reduce((a, b) => a + b, 0) / shift.length;
  return Float64Array.from(middle, (_, t) => {
    let sum = 0;
    let n = 0;
    chosen.forEach((s, i) => {
      if (Number.isNaN(s[t])) return;
      sum += s[t] - shift[i];
      n++;
    });
    return n ? sum / n + level : NaN;
  });
}

function findOutliers(series: readonly Float64Array[], usable: readonly boolean[]): (number | null)[] {
  const used = series.filter((_, i) => usable[i]);
  if (used.length < 3) return series.map(() => null);
  const middle = Float64Array.from(used[0], (_, t) => median(used.map((s) => s[t])));
  const offsets = series.map((s) => median(s.map((v, t) => v - middle[t])));
  const own = offsets.filter((_, i) => usable[i]);
  const centre = median(own);
  const spread = 1.4826 * median(own.map((o) => Math.abs(o - centre)));
  return offsets.map((o, i) =>
    usable[i] && Math.abs(o - centre) > Math.max(OUTLIER_LEAST, 5 * spread) ? o - centre : null,
  );
}

/** Rate of the reference, K/s, over about a minute; NaN at gaps. */
export function rateOf(reference: Float64Array, stepMs: number): Float64Array {
  const half = Math.max(1, Math.round(30000 / stepMs));
  const rate = new Float64Array(reference.length).fill(NaN);
  for (let t = half; t + half < rate.length; t++)
    rate[t] = (reference[t + half] - reference[t - half]) / ((2 * half * stepMs) / 1000);
  return rate;
}

/** A probe whose readings no line fits: left out, and not corrected. */
const unfitted = (t0C: number, range: [number, number], atMs: number) => ({
  correction: { t0C, offsetK: 0, slope: 0, standardOffsetK: NaN, standardSlope: 0, covariance: 0, range, atMs },
  lagS: null,
  lagStandardS: null,
  residualSdK: NaN,
  leftOut: true,
});

/** Why a line or an offset was taken where nobody asked for one that can be had. */
function slopeReason(carries: boolean, significant: number) {
  if (!carries) return "spanTooSmall" as const;
  return significant > 0 ? ("slopesFound" as const) : ("noSlopeFound" as const);
}

function fit(
  channels: readonly BathChannel[],
  series: readonly Float64Array[],
  shares: readonly number[],
  usable: readonly boolean[],
  outlier: readonly (number | null)[],
  referenceC: Float64Array,
  grid: BathGrid,
  options: BathOptions,
  warnings: BathWarning[],
): BathCalibration {
  const known = [...referenceC].filter((v) => !Number.isNaN(v)).sort((a, b) => a - b);
  const spanC: [number, number] = [known[Math.floor(known.length * 0.01)], known[Math.ceil(known.length * 0.99) - 1]];
  const spanK = spanC[1] - spanC[0];
  const t0C = known.reduce((a, b) => a + b, 0) / known.length;
  if (spanK < CONSTANT_SPAN) warnings.push({ kind: "constant", spanK, atC: t0C });
  const rate = rateOf(referenceC, grid.stepMs);
  const rates = [...rate].filter((v) => !Number.isNaN(v)).map(Math.abs);
  const rateKPerMin = rates.length ? 60 * (rates.reduce((a, b) => a + b, 0) / rates.length) : 0;
  const one = new Float64Array(referenceC.length).fill(1);
  const above = referenceC.map((v) => v - t0C);
  const minusRate = rate.map((v) => -v);
  const carries = spanK >= SLOPE_SPAN;
  if (options.model === "line" && !carries) warnings.push({ kind: "slopeRefused", spanK, neededK: SLOPE_SPAN });
  const differences = series.map((s) => Float64Array.from(s, (v, t) => v - referenceC[t]));
  const lines = differences.map((d) =>
    carries ? (leastSquares(d, [one, above, minusRate]) ?? leastSquares(d, [one, above])) : null,
  );
  const significant = lines.filter(
    (l, i) =>
      l &&
      usable[i] &&
      Math.abs(l.beta[1]) > coverageFactor(Infinity) * Math.sqrt(l.covariance[1][1]) &&
      Math.abs(l.beta[1]) * spanK > 0.05,
  ).length;
  const sloped = carries && (options.model === "line" || (options.model === "auto" && significant > 0));
  const model = sloped ? ("line" as const) : ("offset" as const);
  const asked = options.model === "offset" || (options.model === "line" && carries);
  const reason = asked ? ("asked" as const) : slopeReason(carries, significant);
  let mixed = false;
  const probes = channels.map((c, i): ProbeCalibration => {
    const d = differences[i];
    const withLag =
      spanK >= CONSTANT_SPAN ? leastSquares(d, sloped ? [one, above, minusRate] : [one, minusRate]) : null;
    if (sloped && !withLag) mixed = true;
    const plain = leastSquares(d, sloped ? [one, above] : [one]);
    // A lag counts only when it shows; otherwise it would take the offset's place.
    const lagAt = sloped ? 2 : 1;
    const lagged =
      withLag !== null &&
      Math.abs(withLag.beta[lagAt]) > coverageFactor(Infinity) * Math.sqrt(withLag.covariance[lagAt][lagAt]);
    const used = lagged ? withLag : plain;
    const own = { key: c.key, share: shares[i], outlier: outlier[i] !== null };
    if (!used) return { ...own, ...unfitted(t0C, spanC, grid.startMs) };
    const variance = used.covariance[0][0] + options.gradientK ** 2;
    return {
      ...own,
      correction: {
        t0C,
        offsetK: used.beta[0],
        slope: sloped ? used.beta[1] : 0,
        standardOffsetK: Math.sqrt(variance),
        standardSlope: sloped ? Math.hypot(Math.sqrt(used.covariance[1][1]), options.gradientK / spanK) : 0,
        covariance: sloped ? used.covariance[0][1] : 0,
        range: spanC,
        atMs: grid.startMs + (grid.count * grid.stepMs) / 2,
      },
      lagS: withLag ? withLag.beta[lagAt] : null,
      lagStandardS: withLag ? Math.sqrt(withLag.covariance[lagAt][lagAt]) : null,
      residualSdK: used.sd,
      leftOut: options.leftOut.includes(c.key),
    };
  });
  if (mixed) warnings.push({ kind: "slopeLagMixed" });
  const lags = probes.flatMap((p) => (p.lagS !== null && !p.leftOut && p.lagStandardS! < 30 ? [p.lagS] : []));
  const lagSpreadS = lags.length > 1 ? Math.max(...lags) - Math.min(...lags) : 0;
  const errorK = (lagSpreadS * rateKPerMin) / 60;
  if (errorK > 0.05) warnings.push({ kind: "cooledTooFast", rateKPerMin, lagSpreadS, errorK });
  const after = series.map((s, i) => s.map((v) => correct(probes[i].correction, v)));
  const chosen = probes.map((p) => !p.leftOut && !p.outlier);
  return {
    ok: true,
    result: {
      probes,
      model,
      reason,
      warnings,
      spanC,
      rateKPerMin,
      timesMs: Float64Array.from({ length: grid.count }, (_, t) => grid.startMs + (t + 0.5) * grid.stepMs),
      referenceC,
      before: [...series],
      after,
      spreadBeforeK: spread(series, chosen),
      spreadAfterK: spread(after, chosen),
    },
  };
}

/** Standard deviation between probes at one time, root mean square over time, K. */
function spread(series: readonly Float64Array[], chosen: readonly boolean[]): number {
  const used = series.filter((_, i) => chosen[i]);
  let sum = 0;
  let n = 0;
  for (let t = 0; t < (used[0]?.length ?? 0); t++) {
    const values = used.map((s) => s[t]).filter((v) => !Number.isNaN(v));
    if (values.length < 2) continue;
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    sum += values.reduce((a, v) => a + (v - mean) ** 2, 0) / (values.length - 1);
    n++;
  }
  return n ? Math.sqrt(sum / n) : 0;
}
