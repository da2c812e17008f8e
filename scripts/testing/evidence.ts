import { NOTHING_ELSE, type Evidence } from "../../src/core/judge/evidence";
import { LEVEL } from "../../src/core/judge/laneHeat";

/** Evidence of a bench of which nothing but its points is known. */
export const BARE_EVIDENCE: Omit<
  Evidence,
  "lanes" | "points" | "operatingPoint" | "basis" | "smallestDifference" | "stationShare"
> = {
  ...NOTHING_ELSE,
  seed: 3,
  level: LEVEL,
  weatherShare: 0.02,
  all: [],
  hours: [],
  rounds: [],
  someHeat: false,
  opticalLimits: new Map(),
  cleaning: [],
  modelledSun: [],
  placement: [],
  implausible: [],
  assumedFlows: [],
  assumed: [],
  fanShares: new Map(),
  leaks: [],
  winds: [],
  settling: null,
};
