import { aboveOpticalLimit } from "./aboveOpticalLimit";
import { cleaned } from "./cleaned";
import { daysDiffer } from "./daysDiffer";
import type { DoubtFinder, DoubtInput } from "./doubt";
import { changedMidway } from "./changedMidway";
import { disturbed } from "./disturbed";
import { fanHeatUnknown } from "./fanHeatUnknown";
import { stratified } from "./stratified";
import { mirrorUncounted } from "./mirrorUncounted";
import { heatStored } from "./heatStored";
import { readEarly } from "./readEarly";
import { orderFlips } from "./orderFlips";
import { accuracyAssumed } from "./accuracyAssumed";
import { flowAssumed } from "./flowAssumed";
import { inletsDiffer } from "./inletsDiffer";
import { scatterUnexplained } from "./scatterUnexplained";
import { extrapolated } from "./extrapolated";
import { fewDays } from "./fewDays";
import { hottestIsNotBest } from "./hottestIsNotBest";
import { identicalPairApart } from "./identicalPairApart";
import { impossible } from "./impossible";
import { leak } from "./leak";
import { modelledSun } from "./modelledSun";
import { negativeFlow } from "./negativeFlow";
import { neverSwapped } from "./neverSwapped";
import { noIdenticalPair } from "./noIdenticalPair";
import { probeInSun } from "./probeInSun";
import { probeLags } from "./probeLags";
import { riseAtDark } from "./riseAtDark";
import { otherFlow } from "./otherFlow";
import { methodsApart } from "./methodsApart";
import { swapUnlike } from "./swapUnlike";
import { testedInTurn } from "./testedInTurn";
import { timeConstantAssumed } from "./timeConstantAssumed";
import { unequalFlow } from "./unequalFlow";
import { windApart } from "./windApart";
import { differenceUnlike } from "./differenceUnlike";
import { unlikePrediction } from "./unlikePrediction";

/** Every kind of doubt, in the order in which doubts of one size are told. */
export const DOUBTS = {
  aboveOpticalLimit,
  negativeFlow,
  impossible,
  unlikePrediction,
  scatterUnexplained,
  differenceUnlike,
  flowAssumed,
  accuracyAssumed,
  inletsDiffer,
  identicalPairApart,
  noIdenticalPair,
  neverSwapped,
  swapUnlike,
  methodsApart,
  unequalFlow,
  otherFlow,
  extrapolated,
  orderFlips,
  readEarly,
  heatStored,
  leak,
  windApart,
  timeConstantAssumed,
  changedMidway,
  disturbed,
  fanHeatUnknown,
  stratified,
  mirrorUncounted,
  testedInTurn,
  fewDays,
  daysDiffer,
  hottestIsNotBest,
  riseAtDark,
  probeInSun,
  probeLags,
  modelledSun,
  cleaned,
};

export type DoubtKind = keyof typeof DOUBTS;
/** @testing */
export const DOUBT_KINDS = Object.keys(DOUBTS) as DoubtKind[];
type FoundBy<F> = F extends DoubtFinder<infer D> ? D : never;
/** Something that weakens the answer, with its evidence and its effect. */
export type Doubt = FoundBy<(typeof DOUBTS)[DoubtKind]>;
export type DoubtOf<K extends DoubtKind> = Extract<Doubt, { kind: K }>;

function sizeOf(d: Doubt): number {
  if ((DOUBTS[d.kind] as DoubtFinder<Doubt>).grave) return Infinity;
  return d.effect ? Math.max(Math.abs(d.effect.low), Math.abs(d.effect.high)) : 0;
}

/** What weakens the answer, strongest first: each with its size in the answer's unit where it has one. */
export const findDoubts = (input: DoubtInput): Doubt[] =>
  Object.values(DOUBTS)
    .flatMap((finder): Doubt[] => finder.find(input))
    // Two grave ones keep their order: ∞ − ∞ is no number to sort by.
    .sort((a, b) => (sizeOf(a) === sizeOf(b) ? 0 : sizeOf(b) - sizeOf(a)));
