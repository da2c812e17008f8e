import type { Implausible } from "../../analysis/implausible";
import type { DoubtFinder } from "./doubt";

export interface Impossible {
  kind: "impossible";
  run: string;
  found: Implausible;
  effect: null;
}

/** Readings that physics does not allow, found in a run as a whole: the same list that an import goes by. */
export const impossible: DoubtFinder<Impossible> = {
  grave: true,
  find: ({ implausible = [] }) =>
    implausible.map(({ run, found }) => ({ kind: "impossible", run, found, effect: null })),
};
