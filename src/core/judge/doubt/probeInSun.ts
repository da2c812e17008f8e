import type { DoubtFinder } from "./doubt";

export interface ProbeInSun {
  kind: "probeInSun";
  run: string;
  /** Lane of an inlet probe; "" for the outside probe. */
  lane: string;
  perHundred: number;
  effect: null;
}

/** A probe that follows the sun within a minute: it is not shaded. */
export const probeInSun: DoubtFinder<ProbeInSun> = {
  find: ({ placement }) =>
    placement.flatMap((r) =>
      r.spikes.map((s): ProbeInSun => ({
        kind: "probeInSun",
        run: r.run,
        lane: s.lane,
        perHundred: s.perHundred,
        effect: null,
      })),
    ),
};
