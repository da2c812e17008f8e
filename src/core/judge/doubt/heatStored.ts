import { around, leadingPair, measuredLanes, type DoubtFinder, type Effect } from "./doubt";

export interface HeatStored {
  kind: "heatStored";
  lanes: { lane: string; share: number }[];
  effect: Effect | null;
}

/** Share of the heat from which on what a box stores or gives back is named. */
const MUCH = 0.03;

/** Windows in which boxes were still warming or cooling, by a curve that does not count it: what they store looks like lost heat. */
export const heatStored: DoubtFinder<HeatStored> = {
  find(input) {
    const { points, lanes, ranking } = input;
    const found = measuredLanes(points).flatMap((lane) => {
      const own = points.filter((p) => p.lane === lane);
      if (lanes.find((l) => l.lane === lane)?.curve.a5) return [];
      const share =
        own.reduce((s, p) => s + (p.drift * p.heldGuess * p.area.value) / Math.max(1, p.heat.value), 0) / own.length;
      return Math.abs(share) > MUCH ? [{ lane, share }] : [];
    });
    if (found.length === 0) return [];
    const pair = leadingPair(input);
    const [a, b] = pair ? [pair.a, pair.b].map((l) => found.find((f) => f.lane === l)?.share ?? 0) : [0, 0];
    const half = Math.abs(a - b) * (ranking[0]?.heat.value ?? 0);
    return [{ kind: "heatStored", lanes: found, effect: half > 0 ? around(half) : null }];
  },
};
