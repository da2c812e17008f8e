/**
 * Mean of a series and its type A standard uncertainty when neighbours resemble each other.
 *
 * The effective sample size is n(1−ρ)/(1+ρ) with the lag-one autocorrelation ρ of the
 * series (first-order autoregression; Bayley & Hammersley 1946), ρ clipped to [0, 0.99].
 * ρ estimated from n values is biased low by about (1+3ρ)/n (Kendall 1954), corrected here.
 * NaN values are skipped. Returns NaN mean for no values and an uncertainty of NaN for one.
 */
export function autocorrelatedMean(values: ArrayLike<number>): {
  mean: number;
  standardError: number;
  effectiveSize: number;
  sd: number;
  count: number;
} {
  let count = 0;
  let mean = 0;
  for (let i = 0; i < values.length; i++) {
    if (Number.isNaN(values[i])) continue;
    mean += (values[i] - mean) / ++count;
  }
  if (count === 0) return { mean: NaN, standardError: NaN, effectiveSize: 0, sd: NaN, count };
  let square = 0;
  let product = 0;
  let previous = NaN;
  for (let i = 0; i < values.length; i++) {
    if (Number.isNaN(values[i])) {
      previous = NaN;
      continue;
    }
    const d = values[i] - mean;
    square += d * d;
    if (!Number.isNaN(previous)) product += d * previous;
    previous = d;
  }
  if (count === 1) return { mean, standardError: NaN, effectiveSize: 1, sd: NaN, count };
  const raw = square > 0 ? product / square : 0;
  const rho = Math.min(0.99, Math.max(0, raw + (1 + 3 * raw) / count));
  const effectiveSize = Math.max(1, (count * (1 - rho)) / (1 + rho));
  const sd = Math.sqrt(square / (count - 1));
  return { mean, standardError: sd / Math.sqrt(effectiveSize), effectiveSize, sd, count };
}
