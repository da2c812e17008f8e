import type { DoubtFinder } from "./doubt";

export interface ProbeLags {
  kind: "probeLags";
  run: string;
  lane: string;
  lagS: number;
  effect: null;
}

/** An inlet probe that comes later than the others: buried, thick, or in a dead corner. */
export const probeLags: DoubtFinder<ProbeLags> = {
  find: ({ placement }) =>
    placement.flatMap((r) =>
      r.lags.map((l): ProbeLags => ({ kind: "probeLags", run: r.run, lane: l.lane, lagS: l.lagS, effect: null })),
    ),
};
