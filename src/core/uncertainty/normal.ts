import type { Measured } from "./uncertain";

/** Half-width of the 95 % interval of a normal distribution, in standard deviations. */
const NORMAL_95 = 1.959963984540054;

/**
 * Expanded uncertainty at 95 % of a figure whose sources are all stated, so that no degrees of freedom widen it: a prediction's.
 * Without the t distribution, and so without its library.
 *
 * @throws RangeError when the figure has finite degrees of freedom
 */
export function expandedStated(m: Measured): number {
  if (Number.isFinite(m.dof)) throw new RangeError("a figure from readings is widened by Student’s t");
  return NORMAL_95 * m.standardUncertainty;
}
