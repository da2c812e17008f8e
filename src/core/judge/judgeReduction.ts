import type { Reduction } from "../analysis/reduce";
import { evidenceOf, NOTHING_ELSE, type CompareSettings, type Facts } from "./evidence";
import { judge, testedOf, type Judgement, type TestedComparison } from "./judge";

/** What a verdict is asked for with. A fact that is not named is not known. */
export type JudgeSettings = CompareSettings & { seed: number } & Partial<Facts>;

/** From curves to the verdict at an operating point. */
export const judgeReduction = (
  reduction: Reduction,
  settings: JudgeSettings,
  known?: { tested: TestedComparison | null },
): Judgement => judge(evidenceOf(reduction, settings, { ...NOTHING_ELSE, ...factsIn(settings) }), known);

/** What of the verdict does not depend on the operating point. */
export const testedReduction = (reduction: Reduction, settings: JudgeSettings): TestedComparison | null =>
  testedOf(evidenceOf(reduction, settings, { ...NOTHING_ELSE, ...factsIn(settings) }));

/** Of settings that hold other things too, the facts. */
const factsIn = (settings: Partial<Facts>): Partial<Facts> =>
  Object.fromEntries(
    (Object.keys(NOTHING_ELSE) as (keyof Facts)[]).flatMap((key) =>
      settings[key] === undefined ? [] : [[key, settings[key]]],
    ),
  );
