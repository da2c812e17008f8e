import type { DoubtFinder } from "./doubt";

export interface FewDays {
  kind: "fewDays";
  days: number;
  effect: null;
}

/** Days from which on wind and haze of single days no longer decide. */
export const ENOUGH_DAYS = 3;

/** Wind and haze of one or two days may favour one variant. */
export const fewDays: DoubtFinder<FewDays> = {
  find({ heats }) {
    const days = new Set(heats.map((p) => p.day)).size;
    return days > 0 && days < ENOUGH_DAYS ? [{ kind: "fewDays", days, effect: null }] : [];
  },
};
