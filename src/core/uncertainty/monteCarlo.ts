import { seededRandom } from "../random/seededRandom";

/** How an input is distributed about its value: by a standard uncertainty, or within a stated limit. */
export type InputDistribution =
  { kind: "normal"; value: number; standard: number } | { kind: "rectangular"; value: number; limit: number };

export interface MonteCarloResult {
  mean: number;
  standardUncertainty: number;
  /** Shortest interval that holds 95 % of the draws. */
  interval: [number, number];
}

/**
 * Propagates distributions through any model by drawing (GUM Supplement 1, JCGM 101:2008, clause 7; shortest interval 7.7).
 * The cross-check for the first-order arithmetic, and the way for models that are far from straight.
 *
 * @param model gives the result for one draw of the inputs, in their order
 * @param draws 10⁴ gives the interval's ends to about 2 % of its width
 */
export function monteCarlo(
  inputs: readonly InputDistribution[],
  model: (values: readonly number[]) => number,
  options: { draws: number; seed: number },
): MonteCarloResult {
  if (!(options.draws >= 100)) throw new RangeError("fewer than 100 draws tell nothing");
  const random = seededRandom(options.seed);
  const results = new Float64Array(options.draws);
  for (let d = 0; d < options.draws; d++) {
    results[d] = model(
      inputs.map((i) =>
        i.kind === "normal" ? i.value + i.standard * random.normal() : i.value + random.within(i.limit),
      ),
    );
  }
  const mean = results.reduce((s, v) => s + v, 0) / results.length;
  const variance = results.reduce((s, v) => s + (v - mean) ** 2, 0) / (results.length - 1);
  results.sort();
  const inside = Math.ceil(0.95 * results.length);
  let start = 0;
  for (let i = 1; i + inside <= results.length; i++)
    if (results[i + inside - 1] - results[i] < results[start + inside - 1] - results[start]) start = i;
  return { mean, standardUncertainty: Math.sqrt(variance), interval: [results[start], results[start + inside - 1]] };
}
