import { flowPerGrossArea } from "../../analysis/points";
import { coverageFactor } from "../../uncertainty/coverage";
import { combine, effectiveDof, standardUncertainty, subtract } from "../../uncertainty/uncertain";
import { FLOW_SENSITIVITY, FLOW_TOLERANCE } from "./tolerances";
import { laneMean, type DoubtFinder, type DoubtInput, type Effect } from "./doubt";

export interface UnequalFlow {
  kind: "unequalFlow";
  lanes: { lane: string; flowPerArea: number }[];
  spread: number;
  effect: Effect | null;
}

/** Lanes that were not given the same flow. */
export const unequalFlow: DoubtFinder<UnequalFlow> = {
  find(input) {
    const { heats, ranking, lanes, way } = input;
    // Each moved to its operating flow by its drawing: what is left of it is in the difference.
    if (way === "point" && lanes.length > 0 && lanes.every((l) => l.move)) return [];
    const flows = ranking
      .map(({ lane }) => ({ lane, flowPerArea: laneMean(heats, lane, flowPerGrossArea) }))
      .filter((f) => f.flowPerArea > 0);
    if (flows.length < 2) return [];
    const mean = flows.reduce((s, f) => s + f.flowPerArea, 0) / flows.length;
    const spread = Math.max(...flows.map((f) => Math.abs(f.flowPerArea / mean - 1)));
    if (spread <= FLOW_TOLERANCE || isWithinMeters(input, flows)) return [];
    const flowOf = (lane: string) => flows.find((f) => f.lane === lane)?.flowPerArea ?? mean;
    const shift = (best: string, other: string) =>
      FLOW_SENSITIVITY * ((flowOf(other) - flowOf(best)) / mean) * (ranking[0]?.heat.value ?? 0);
    return [{ kind: "unequalFlow", lanes: flows, spread, effect: overRivals(input, shift) }];
  },
};

/** Benches with equal flows of which it is said nevertheless that they differ, at most. */
const NAMED_WITHOUT_CAUSE = 0.02;

/**
 * Meters and ducts alone explain it: lanes with the most and the least flow lie within the ± of their difference. They are the furthest apart of
 * all pairs, so each pair has its part of the chance (Bonferroni).
 */
function isWithinMeters({ heats }: DoubtInput, flows: UnequalFlow["lanes"]): boolean {
  const inOrder = [...flows].sort((a, b) => a.flowPerArea - b.flowPerArea);
  const flowOf = (lane: string) => {
    const own = heats.filter((p) => p.lane === lane);
    const scaled = own.map((p) => [1 / (own.length * (p.grossAreaM2 ?? p.area.value)), p.massFlow] as const);
    return combine(0, scaled);
  };
  const [least, most] = [inOrder[0], inOrder.at(-1)!];
  const u = subtract(flowOf(most.lane), flowOf(least.lane));
  const chance = NAMED_WITHOUT_CAUSE / ((flows.length * (flows.length - 1)) / 2);
  return most.flowPerArea - least.flowPerArea <= coverageFactor(effectiveDof(u), 1 - chance) * standardUncertainty(u);
}

/**
 * What a shift that differs from rival to rival may do to the answer: every comparison that the sentence makes counts, each by how much
 * nearer to nothing it already is than the leading one.
 */
function overRivals({ verdict, pairs, ranking }: DoubtInput, shift: (best: string, other: string) => number): Effect {
  const others = () => {
    if (verdict.kind === "winner" || verdict.kind === "cannotTell")
      return { best: verdict.best, rivals: ranking.map((r) => r.lane), lead: verdict.difference.value };
    if (verdict.kind === "tie")
      return { best: verdict.best, rivals: verdict.others.flat(), lead: verdict.difference.value };
    return { best: [] as string[], rivals: [] as string[], lead: 0 };
  };
  const { best, rivals, lead } = others();
  const became = best.flatMap((b) =>
    rivals.flatMap((r) => {
      if (best.includes(r)) return [];
      const pair = pairs.find((p) => [p.a, p.b].includes(b) && [p.a, p.b].includes(r));
      if (!pair) return [];
      const difference = pair.a === b ? pair.measured.value : -pair.measured.value;
      return [difference + shift(b, r) - lead];
    }),
  );
  return { low: Math.min(0, ...became), high: Math.max(0, ...became) };
}

/** How far two lanes' flows lie apart, as a share of their mean. */
export function flowsApart({ heats }: Pick<DoubtInput, "heats">, a: string, b: string): number {
  const [x, y] = [a, b].map((lane) => laneMean(heats, lane, flowPerGrossArea));
  return Math.abs(x - y) / ((x + y) / 2);
}
