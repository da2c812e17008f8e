import { flowPerGrossArea } from "../../analysis/points";
import { laneMean, type DoubtFinder, type Effect } from "./doubt";

export interface UnequalFlow {
  kind: "unequalFlow";
  lanes: { lane: string; flowPerArea: number }[];
  spread: number;
  effect: Effect | null;
}

/** Unequal flow beyond this share is named. */
export const FLOW_TOLERANCE = 0.05;
/** dη/η per dṁ/ṁ from F′ alone: (1 − F′)·0.8 with F′ near 0.8 (turbulent duct, h ∝ ṁ^0.8 as in the Dittus–Boelter form): an estimate of size, not a correction. */
export const FLOW_SENSITIVITY = 0.16;

/** Lanes that were not given the same flow. */
export const unequalFlow: DoubtFinder<UnequalFlow> = {
  find({ heats, ranking, lanes, way }) {
    // Each moved to its operating flow by its drawing: what is left of it is in the difference.
    if (way === "point" && lanes.length > 0 && lanes.every((l) => l.move)) return [];
    const flows = ranking
      .map(({ lane }) => ({ lane, flowPerArea: laneMean(heats, lane, flowPerGrossArea) }))
      .filter((f) => f.flowPerArea > 0);
    if (flows.length < 2) return [];
    const mean = flows.reduce((s, f) => s + f.flowPerArea, 0) / flows.length;
    const spread = Math.max(...flows.map((f) => Math.abs(f.flowPerArea / mean - 1)));
    if (spread <= FLOW_TOLERANCE) return [];
    const [first] = ranking;
    const second = ranking.find((r) => r.rank[0] > (first?.rank[1] ?? 0)) ?? ranking[1];
    const of = (lane?: string) => flows.find((f) => f.lane === lane)?.flowPerArea ?? mean;
    const shift =
      first && second ? FLOW_SENSITIVITY * ((of(second.lane) - of(first.lane)) / mean) * first.heat.value : 0;
    const effect = { low: Math.min(0, shift), high: Math.max(0, shift) };
    return [{ kind: "unequalFlow", lanes: flows, spread, effect }];
  },
};
