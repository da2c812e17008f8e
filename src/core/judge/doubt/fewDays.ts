import type { DoubtFinder } from "./doubt";
import { ENOUGH_DAYS } from "./tolerances";

export interface FewDays {
  kind: "fewDays";
  days: number;
  effect: null;
}

/** Wind and haze of one or two days may favour one variant. */
export const fewDays: DoubtFinder<FewDays> = {
  find({ heats }) {
    const days = new Set(heats.map((p) => p.day)).size;
    return days > 0 && days < ENOUGH_DAYS ? [{ kind: "fewDays", days, effect: null }] : [];
  },
};
