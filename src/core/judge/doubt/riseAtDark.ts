import { around, laneMean, type DoubtFinder, type Effect } from "./doubt";

export interface RiseAtDark {
  kind: "riseAtDark";
  run: string;
  lane: string;
  riseK: number;
  effect: Effect | null;
}

/** A rise shown in the dark is there by day too: ṁ·cp·ΔT per area, by the fluid the lane really held. */
export const riseAtDark: DoubtFinder<RiseAtDark> = {
  find: ({ placement, heats }) =>
    placement.flatMap((r) =>
      r.dark
        .filter((d) => d.beyondLimits)
        .map((d): RiseAtDark => {
          const perKelvin = laneMean(heats, d.lane, (p) => (p.massFlow.value * p.specificHeat.value) / p.area.value);
          const heat = Math.abs(perKelvin * d.riseK);
          return {
            kind: "riseAtDark",
            run: r.run,
            lane: d.lane,
            riseK: d.riseK,
            effect: Number.isFinite(heat) ? around(heat) : null,
          };
        }),
    ),
};
