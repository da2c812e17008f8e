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

/** Names a doubt so that it can be dismissed: its kind and what it is about, without its sizes. */
export function doubtKey(d: Doubt): string {
  const about = Object.entries(d).flatMap(([name, value]): string[] => {
    if (name === "kind" || name === "effect") return [];
    if (typeof value === "string") return [value];
    if (Array.isArray(value))
      return value.map((v) => (typeof v === "string" ? v : ((v as { lane?: string }).lane ?? "")));
    if (name === "found" || name === "note") return [JSON.stringify(namesOf(value as object))];
    return [];
  });
  return [d.kind, ...about].join("/").slice(0, 160);
}

const namesOf = (of: object) => Object.fromEntries(Object.entries(of).filter(([, v]) => typeof v === "string"));

/** How far a doubt reaches, W/m²; null where its effect is not known. */
export const reachOf = ({ effect }: Doubt): number | null =>
  effect && Math.max(Math.abs(effect.low), Math.abs(effect.high));

/** Grown beyond this, what was dismissed is another doubt. */
const GROWN = 1.5;

/** A person has said why it does not count, and it has not grown since. Figures that cannot be right are not dismissed. */
export function isDismissed(d: Doubt, dismissed: Readonly<Record<string, { reach: number | null }>>): boolean {
  const known = dismissed[doubtKey(d)];
  if (!known || stopsVerdict(d)) return false;
  const reach = reachOf(d);
  return reach === null || (known.reach !== null && reach <= GROWN * known.reach);
}

/** No verdict stands on figures that cannot be right. */
export const stopsVerdict = (d: Doubt): boolean => (DOUBTS[d.kind] as DoubtFinder<Doubt>).stops?.(d) ?? false;

/** What weakens the answer, strongest first: each with its size in the answer's unit where it has one. */
export const findDoubts = (input: DoubtInput): Doubt[] =>
  Object.values(DOUBTS)
    .flatMap((finder): Doubt[] => finder.find(input))
    // Two grave ones keep their order: ∞ − ∞ is no number to sort by.
    .sort((a, b) => (sizeOf(a) === sizeOf(b) ? 0 : sizeOf(b) - sizeOf(a)));
