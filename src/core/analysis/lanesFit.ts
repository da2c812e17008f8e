import fCdf from "@stdlib/stats-base-dists-f-cdf";
import { curveDrafter, type Curve, type DraftCurve, type FitFailure, type FitOptions } from "./curve";
import type { SharedScatter } from "./estimate";
import type { EfficiencyPoint } from "./points";
import { POOLING_LEVEL } from "./scatter";

/**
 * Curves of lanes that are to be compared. A bend is in for all of them or for none: two curves of unlike shape differ by their shapes.
 * It is in where some lane's points ask for it and every lane's can tell; scatter is shared where it is alike.
 */
export function fitLanes(
  lanes: readonly (readonly [lane: string, points: readonly EfficiencyPoint[]])[],
  curvature: "auto" | "never" = "auto",
): { curves: Map<string, Curve>; failures: FitFailure[] } {
  const drafters = lanes.map(([lane, points]) => ({ lane, draft: curveDrafter(points) }));
  const fitAll = (options: FitOptions) => drafters.map(({ lane, draft }) => ({ lane, fit: draft(options) }));
  const draftsOf = (fits: ReturnType<typeof fitAll>) => fits.flatMap(({ fit }) => (fit.ok ? [fit.draft] : []));
  const bent = (fits: ReturnType<typeof fitAll>) => draftsOf(fits).filter((d) => d.bent).length;
  let chosen: FitOptions["curvature"] = curvature;
  let fits = fitAll({ curvature: chosen });
  if (bent(fits) > 0 && bent(fits) < draftsOf(fits).length) {
    const all = fitAll({ curvature: "always" });
    chosen = bent(all) === draftsOf(all).length ? "always" : "never";
    fits = chosen === "always" ? all : fitAll({ curvature: chosen });
  }
  const shared = sharedScatter(draftsOf(fits));
  // With more degrees of freedom a bend would be asked for sooner: it stays as it was.
  if (shared) fits = fitAll({ curvature: bent(fits) > 0 ? "always" : "never", shared });
  return {
    curves: new Map(fits.flatMap(({ lane, fit }) => (fit.ok ? [[lane, fit.draft.curve()] as const] : []))),
    failures: fits.flatMap(({ lane, fit }) => (fit.ok ? [] : [{ ...fit.failure, lane }])),
  };
}

type Drafted = Omit<DraftCurve, "curve" | "bent">;

/**
 * Scatter of windows as one estimate over the lanes of a bench, where an F test permits (p ≥ 0.25 of the largest against the least).
 * What lanes' windows have in common makes their estimates alike: of k lanes with residuals correlated by ρ the degrees of freedom
 * add up only to Σν/(1 + (k − 1)·ρ²). null for fewer than two lanes that rest on their own scatter, or where they differ.
 */
export function sharedScatter(curves: readonly Drafted[]): SharedScatter | null {
  const own = curves.filter((c) => c.scatterFrom === "own" && !c.daysDiffer);
  if (own.length < 2) return null;
  const sorted = [...own].sort((a, b) => a.residualSd - b.residualSd);
  const [least, most] = [sorted[0], sorted[sorted.length - 1]];
  const ratio = (most.residualSd / least.residualSd) ** 2;
  if (!(1 - fCdf(ratio, most.dof, least.dof) >= POOLING_LEVEL)) return null;
  const free = own.reduce((sum, c) => sum + c.dof, 0);
  const alike = meanSquareCorrelation(own);
  return {
    variance: own.reduce((sum, c) => sum + c.dof * c.residualSd ** 2, 0) / free,
    dof: free / (1 + (own.length - 1) * alike),
  };
}

/** Mean over pairs of lanes of ρ² between their residuals in windows they share; 1, the careful end, where they share fewer than three. */
function meanSquareCorrelation(curves: readonly Drafted[]): number {
  const byWindow = curves.map((c) => new Map(c.points.map((p, i) => [`${p.run}/${p.window}`, c.residuals[i]])));
  let [sum, pairs] = [0, 0];
  for (let i = 0; i < curves.length; i++)
    for (let j = i + 1; j < curves.length; j++, pairs++) {
      const both = [...byWindow[i]].flatMap(([key, a]) => {
        const b = byWindow[j].get(key);
        return b === undefined ? [] : [[a, b]];
      });
      const of = (f: (r: number[]) => number) => both.reduce((s, r) => s + f(r), 0);
      const spread = of((r) => r[0] ** 2) * of((r) => r[1] ** 2);
      sum += both.length < 3 || spread === 0 ? 1 : of((r) => r[0] * r[1]) ** 2 / spread;
    }
  return sum / pairs;
}
