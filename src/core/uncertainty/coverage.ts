import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { budget, effectiveDof, standardUncertainty, type BudgetLine, type Measured, type Uncertain } from "./uncertain";

/** As good as infinite: Student's t is normal to nine digits. */
const MOST_DOF = 1e9;

/** Two-sided coverage factor: Student's t, degrees of freedom truncated down (GUM G.4.1); 1.96 for infinite. @example coverageFactor(4) // 2.776 */
export function coverageFactor(dof: number, probability = 0.95): number {
  const upper = 1 - (1 - probability) / 2;
  // The library's quantile is 0 from 1e18 on: a source that is nearly nothing makes so many, and its figure would look exact.
  const known = Math.min(dof, MOST_DOF);
  // Rounding errors of a sum that makes 7 must not leave 6.
  return tQuantile(upper, Math.max(1, known < 2 ? known : Math.floor(known + 1e-9 * known)));
}

/** Expanded uncertainty U at 95 %. */
export const expanded = (m: Measured, probability = 0.95): number =>
  m.standardUncertainty * coverageFactor(m.dof, probability);

export interface FigureBudget {
  /** Half-width at 95 %. */
  expanded: number;
  coverage: number;
  dof: number;
  lines: BudgetLine[];
}

/** Everything the working panel needs to show where a ± comes from. */
export function figureBudget(figure: Uncertain): FigureBudget {
  const dof = effectiveDof(figure);
  const coverage = coverageFactor(dof);
  return { expanded: coverage * standardUncertainty(figure), coverage, dof, lines: budget(figure) };
}
