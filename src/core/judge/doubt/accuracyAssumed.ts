import { ASSUMABLE, type Assumed } from "../../analysis/setup";
import type { DoubtFinder } from "./doubt";

export interface AccuracyAssumed {
  kind: "accuracyAssumed";
  runs: string[];
  what: Assumed[];
  effect: null;
}

/** Accuracies nobody stated are taken widely: every ± is larger than it might be, and none is smaller than it should be. */
export const accuracyAssumed: DoubtFinder<AccuracyAssumed> = {
  find({ assumed }) {
    const what = ASSUMABLE.filter((a) => assumed.some((r) => r.what.includes(a)));
    return what.length ? [{ kind: "accuracyAssumed", runs: assumed.map((r) => r.run), what, effect: null }] : [];
  },
};
