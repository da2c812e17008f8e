import {
  reduceExperiment,
  type Reduction,
  type ReductionSettings,
  type RunInput,
} from "../../src/core/analysis/reduce";
import type { Judgement } from "../../src/core/judge/judge";
import { judgeReduction, type JudgeSettings } from "../../src/core/judge/judgeReduction";

/** A whole experiment from cleaned series to verdict in one call. */
export function analyseExperiment(
  inputs: readonly RunInput[],
  settings: ReductionSettings & JudgeSettings,
): Reduction & { judgement: Judgement } {
  const reduction = reduceExperiment(inputs, settings);
  return { ...reduction, judgement: judgeReduction(reduction, settings) };
}
