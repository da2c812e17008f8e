import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { budget, effectiveDof, standardUncertainty, type BudgetLine, type Measured, type Uncertain } from "./uncertain";

/** Two-sided coverage factor: Student's t, degrees of freedom truncated down (GUM G.4.1); 1.96 for infinite. */
export function coverageFactor(dof: number, probability = 0.95): number {
  const upper = 1 - (1 - probability) / 2;
  // Rounding errors of a sum that makes 7 must not leave 6.
  return tQuantile(upper, Number.isFinite(dof) ? Math.max(1, dof < 2 ? dof : Math.floor(dof + 1e-9 * dof)) : 1e9);
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
