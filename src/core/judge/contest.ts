import { coverageFactor } from "../uncertainty/coverage";
import { combine, effectiveDof, scaleSources, standardUncertainty, type Uncertain } from "../uncertainty/uncertain";
import { tailOf } from "./adjust";
import type { PairComparison } from "./pairs";

/** Two variants by the mean of their copies; null where no copies stood side by side. */
export function variantDifference(
  as: readonly string[],
  bs: readonly string[],
  all: readonly PairComparison[],
  smallest: number,
) {
  const found = as.flatMap((a) =>
    bs.flatMap((b) => {
      const pair = all.find((p) => (p.a === a && p.b === b) || (p.a === b && p.b === a));
      return pair ? [{ pair, sign: pair.a === a ? 1 : -1 }] : [];
    }),
  );
  if (found.length === 0) return null;
  const mean = combine(
    found.reduce((s, f) => s + f.sign * f.pair.difference.value, 0) / found.length,
    found.map((f) => [f.sign / found.length, f.pair.difference] as const),
  );
  const difference = commonScatter(
    mean,
    found.map((f) => f.pair),
  );
  const u = standardUncertainty(difference);
  const dof = effectiveDof(difference);
  const k = coverageFactor(dof);
  const k90 = coverageFactor(dof, 0.9);
  // One-sided, from the pairs themselves so that table and sentence agree where there is one pair.
  const z = u > 0 ? difference.value / u : Infinity;
  return {
    difference,
    expanded: k * u,
    expanded90: k90 * u,
    chanceWrong: tailOf(z, dof),
    dof,
    equal: Math.abs(difference.value) + k90 * u < smallest,
    swapped: found.every((f) => f.pair.swapped),
    days: Math.max(...found.map((f) => f.pair.days)),
    pairs: found.map((f) => f.pair),
  };
}

/**
 * Copies share the windows of their rival, so the scatters of A over B and D over B are not independent:
 * the mean keeps the larger of independent and fully shared scatter of the rival (half the variance is common).
 */
function commonScatter(mean: Uncertain, pairs: readonly PairComparison[]): Uncertain {
  if (pairs.length < 2) return mean;
  return scaleSources(mean, ({ kind }) =>
    kind === "dayScatter" || kind === "weather" || kind === "repeatability" ? Math.sqrt((pairs.length + 1) / 2) : 1,
  );
}
