import { autocorrelatedMean } from "../../uncertainty/typeA";
import { combine, fromLimit, withSource, type Uncertain } from "../../uncertainty/uncertain";

/** Mean of ratios that follow each other, with their scatter and what both instruments may be off by. @param meterShare ± limit of the ratio, share */
export function correlatedShare(
  ratios: readonly { value: number }[],
  { lane, method, meterShare }: { lane: string; method: string; meterShare: number },
): Uncertain {
  const { mean, standardError, effectiveSize } = autocorrelatedMean(ratios.map((r) => r.value));
  const source = { kind: "methodScatter", method, owner: lane } as const;
  return combine(mean, [
    [1, withSource(0, standardError, { ...source, figure: `${lane}/scatter`, dof: Math.max(1, effectiveSize - 1) })],
    [mean, withSource(0, fromLimit(meterShare), { ...source, figure: `${lane}/instruments`, dof: Infinity })],
  ]);
}
