import type { HeatPoint } from "../../analysis/points";
import { laneMean, type DoubtFinder } from "./doubt";

export interface HottestIsNotBest {
  kind: "hottestIsNotBest";
  hottest: string;
  best: string;
  outletC: number;
  bestOutletC: number;
  effect: null;
}

/** Outlets closer than this are not told apart, K. */
const APART = 0.3;

/** Judging by the hottest air is the commonest mistake; said where the two orders disagree. */
export const hottestIsNotBest: DoubtFinder<HottestIsNotBest> = {
  find({ heats, ranking }) {
    if (ranking.length < 2) return [];
    const lanes = ranking.map((r) => r.lane);
    const byWindow = new Map<string, HeatPoint[]>();
    for (const p of heats) {
      const key = `${p.run}/${p.window}`;
      byWindow.set(key, [...(byWindow.get(key) ?? []), p]);
    }
    const complete = [...byWindow.values()].filter((ps) => lanes.every((l) => ps.some((p) => p.lane === l))).flat();
    const outlet = (lane: string) => laneMean(complete, lane, (p) => p.outlet.value);
    const hottest = lanes.reduce((a, b) => (outlet(b) > outlet(a) ? b : a));
    const best = ranking[0].lane;
    const tied = ranking.find((r) => r.lane === hottest)!.rank[0] === 1;
    if (hottest === best || tied || !(outlet(hottest) - outlet(best) > APART)) return [];
    return [
      { kind: "hottestIsNotBest", hottest, best, outletC: outlet(hottest), bestOutletC: outlet(best), effect: null },
    ];
  },
};
