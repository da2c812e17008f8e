import type { DoubtFinder } from "./doubt";

export interface WindApart {
  kind: "windApart";
  run: string;
  /** Calmest and windiest place, m/s. */
  low: number;
  high: number;
  effect: null;
}

/** Anemometers this far apart stand in different wind: by share and by m/s. */
const SHARE = 1.3;
const APART_MS = 0.4;

/** The bench's places do not have one wind: boxes with little cover lose more in the windier one. */
export const windApart: DoubtFinder<WindApart> = {
  find: ({ winds }) =>
    winds.flatMap(({ run, meansMs }): WindApart[] => {
      const [low, high] = [Math.min(...meansMs), Math.max(...meansMs)];
      return meansMs.length > 1 && high > SHARE * low && high - low > APART_MS
        ? [{ kind: "windApart", run, low, high, effect: null }]
        : [];
    }),
};
