import type { Fluid } from "../core/fluids/fluid";
import type { PairComparison } from "../core/judge/pairs";
import type { SpanUnit } from "../core/judge/tested";
import { pairWords, UNIT_WORDS } from "./judge";
import { fluidWords } from "./fluid";

/** What a working says beside its formula: titles, where each value is from, notes. */

export const WORKING_TITLES = {
  difference: "Heat of one lane over another at your point",
  verdict: "Heat of the leader over the next at your point",
  laneHeat: "Heat per area at your point",
  daylight: "Heat of the leader over the next at your point, by all daylight",
  turned: "Heat of one lane with a thing turned, less turned back",
  testedDifference: "Heat of one lane over another as tested",
  testedVerdict: "Heat of the leader over the next as tested",
  testedHeat: "Heat per area as tested",
  eta0: "Zero-loss efficiency",
  a1: "Loss coefficient",
  a2: "Curvature of the loss",
  stagnation: "Plate without flow, by the curve",
  crossing: "Where two curves cross",
  rise: "Temperature rise",
  massFlow: "Mass flow",
  heat: "Useful heat",
  efficiencyNow: "Efficiency now, as the sun stands",
  efficiency: "Efficiency at normal incidence",
} as const;

/** Where a value is from. */
export const ORIGINS = {
  point: "your operating point",
  pointFlow: "your operating point, all lanes alike",
  onCurve: "operating point on its curve",
  netOfSky: (sun: string) => `${sun}, less what the cold of the sky takes from a bare absorber`,
  stored: "heat the box stores while it drifts",
  windowsMean: "mean of its windows, shared errors included",
  spansMean: (unit: SpanUnit) => `mean of the shared ${UNIT_WORDS[unit][1]}, errors of all lanes included`,
  smallest: "smallest",
  largest: "largest",
  scatter: "scatter of windows about the curve",
  chiSquare: "per degree of freedom; 1 is noise alone",
  specificHeat: (fluid: Fluid) => `${fluid.kind === "air" ? "moist air" : fluidWords(fluid)} at the mean temperature`,
  wholeRun: "one figure for the whole run",
  fit: (points: number, days: number) => `steady fit of ${points} windows, ${days} days`,
  pair: (pair: PairOf, unit: SpanUnit) => `${pair.windows} ${UNIT_WORDS[unit][1]}, ${pair.days} days${pairWords(pair)}`,
  turned: ({ turned, back }: { turned: number; back: number }) =>
    `${turned} steady windows turned, ${back} turned back`,
  daylight: (hours: number, days: number) =>
    `fit through ${hours} h of changing light on ${days} days, errors of both lanes included`,
  windowsOn: (days: number) => `steady windows on ${days} days`,
  window: (run: string, window: number) => `run ${run}, window ${window + 1}`,
  newest: "mean of the newest minute",
  probe: (key: string, where: string) => `probe ${key}, ${where}`,
  sunSensor: (key: string, where: string) => `sun sensor ${key}, ${where}`,
  flowMeter: (key: string, at: string) => `flow meter ${key} at the ${at}`,
  meter: (kind: "speed" | "flow" | "mass flow", key: string) => `${kind} meter ${key}`,
  atMeter: (at: string) => `at the meter, in the ${at} stream`,
  duct: (profileFactor: number) => `duct section × profile factor ${profileFactor}`,
  area: (basis: string) => `${basis} area of the specimen`,
  modifier: (b0: number) => `incidence modifier, b₀ ${b0}`,
} as const;

/** What a difference is told of: how many windows of which days, and how the two stood. */
type PairOf = Pick<PairComparison, "windows" | "days" | "swapped" | "inTurn">;

const inTurnNote = ({ windows, days }: PairOf): string =>
  `${windows} windows on ${days} days, each lane over its own: they never ran at the same time. Instruments that served both cancel; weather from day to day is in the ±.`;

export const sharedWindowsNote = (pair: PairOf): string =>
  pair.inTurn
    ? inTurnNote(pair)
    : `${pair.windows} windows on ${pair.days} days had both lanes steady${pair.swapped ? "; each place counts alike, so what belongs to the places cancels" : "; the lanes never stood in each other's place"}.`;

export const sharedSpansNote = (unit: SpanUnit, pair: PairOf): string =>
  pair.inTurn
    ? inTurnNote(pair)
    : `${pair.windows} ${UNIT_WORDS[unit][1]} on ${pair.days} days, compared as they were: nothing is moved to another temperature or flow.${pair.swapped ? " Each place counts alike, so what belongs to the places cancels." : ""}`;

export const SHARED_ERRORS_NOTE =
  "Includes the errors all lanes share, so two lanes' bars may overlap although their difference is clear.";

export const fitNote = (stations: number, curved: boolean): string =>
  `Weighted least squares${stations > 1 ? `, each of ${stations} places counting alike` : ""}.${curved ? "" : " Curvature left out: the data do not show any."}`;

/** What lies between the raw readings and a figure, in words. */
export function layerWords(over: {
  rules: string;
  areaBasis: string;
  basis: "mean" | "inlet";
  cleaned: number;
  aside: number;
  calibrations: readonly { name: string; run: number }[];
}): string[] {
  const { rules, areaBasis, basis, cleaned, aside, calibrations } = over;
  return [
    `windows “${rules}”`,
    `${areaBasis} area`,
    `${basis === "mean" ? "mean fluid" : "inlet"} temperature`,
    cleaned ? `${cleaned} faulty readings left out` : "no faulty readings",
    ...(aside ? [`${aside} span${aside > 1 ? "s" : ""} set aside by you`] : []),
    ...new Set(calibrations.map((c) => `calibration “${c.name}” over run ${c.run}`)),
    "raw readings unchanged",
  ];
}

export const STAGNATION_NOTE =
  "The curve stretched to no heat at all, far beyond its points. What a box reaches in earnest is tested without flow.";

/** What stands behind η0 and a1 in the textbook. */
export const factorsWords = (optical: number, F1: number, F2: number, FR: number): string =>
  `With ${optical.toFixed(2)} let in and taken up, F′ is ${F1.toFixed(2)}; at the tested flow F″ ${F2.toFixed(2)}, F_R ${FR.toFixed(2)}.`;
