import { expose } from "comlink";
import { quickHeatModel, type QuickReading } from "../core/analysis/quickReading";
import { monteCarlo, type MonteCarloResult } from "../core/uncertainty/monteCarlo";
import { isBought, type Design } from "../core/collector/design";
import { flowAdvice, type FlowAdvice } from "../core/collector/flowAdvice";
import type { Operating } from "../core/collector/prediction";
import { studyDesign, type Study } from "../core/collector/study";
import { designProblems } from "../core/collector/validate";

/** The collector model off the page's thread: figures move while the person types. */
const api = {
  study: (design: Design, op: Operating, lowestC: number): Study => studyDesign(design, op, lowestC),
  advice: (design: Design, op: Operating, electricityWeight: number): FlowAdvice | null =>
    designProblems(design).length || isBought(design) ? null : flowAdvice(design, op, electricityWeight),
  /** A quick reading's heat by drawing its inputs, to check the first-order ±. */
  drawQuick: (r: QuickReading): MonteCarloResult =>
    monteCarlo(
      [
        { kind: "rectangular", value: r.inletC, limit: r.probeLimitK },
        { kind: "rectangular", value: r.outletC, limit: r.probeLimitK },
        { kind: "rectangular", value: r.speedMs, limit: r.speedMs * r.speedLimitShare },
        { kind: "rectangular", value: r.profileFactor, limit: r.profileLimit },
      ],
      quickHeatModel(r),
      { draws: 20000, seed: 1 },
    ),
};

export type CollectorApi = typeof api;

expose(api);
