import { quantityText, formatNumber } from "../core/quantity/format";
import type { UnitSystem } from "../core/quantity/quantities";
import { ENOUGH_DAYS, FLOW_TOLERANCE } from "../core/judge/doubt/tolerances";
import type { Doubt, DoubtKind, DoubtOf } from "../core/judge/doubt/list";
import type { Assumed } from "../core/analysis/setup";
import { CHANGE_WORDS } from "./findings";
import { implausibleWords } from "./implausible";
import { cleanWords } from "./judge";
import { percent } from "./sources";
import { andWords, UNIT_WORDS } from "./judge";
import { clock } from "./times";

export interface DoubtWords {
  title: string;
  detail: string;
  remedy: string;
}

interface Context {
  zone: string;
  system: UnitSystem;
}

/** What may be left unstated. */
const ASSUMED_WORDS: Record<Assumed, string> = {
  probes: "probes",
  flowMeter: "flow meter",
  profile: "duct profile",
  duct: "duct size",
  sunSensor: "sun sensor",
  outside: "outside probe",
  area: "area",
};

/** Title, evidence and remedy of each kind of doubt. */
const DOUBT_WORDS: { [K in DoubtKind]: (doubt: DoubtOf<K>, context: Context) => DoubtWords } = {
  unequalFlow: (doubt, { system }) => {
    const list = doubt.lanes
      .map((l) => `${l.lane} ${quantityText(l.flowPerArea, "massFlowPerArea", { system })}`)
      .join(", ");
    return {
      title: `Flows differ by ${percent(doubt.spread)} from their mean`,
      detail: `${list}. More flow gives more heat and cooler air.`,
      remedy: `Balance the flows within ${percent(FLOW_TOLERANCE)}, then repeat.`,
    };
  },
  aboveOpticalLimit: (doubt) => ({
    title: `${doubt.lane} is above its optical limit`,
    detail: `${percent(doubt.efficiency)} in ${doubt.windows} window${doubt.windows > 1 ? "s" : ""}; glass and coating allow ${percent(doubt.limit)}. Area, flow or sun sensor must be wrong.`,
    remedy: "Check the duct size, the flow meter and the area before you trust any figure of this lane.",
  }),
  scatterUnexplained: (doubt) => ({
    title: `${doubt.lane}’s points lie on no curve`,
    detail: `They scatter by ${percent(doubt.residualSd)}, χ² ${formatNumber(doubt.reducedChiSquare, 0)} where 1 is noise alone.`,
    remedy: "Look in Read for shade, a moved probe or a changed flow in some of its windows, and set those aside.",
  }),
  flowAssumed: (doubt) => ({
    title: `Flow of ${doubt.lanes.map((l) => l.lane).join(", ")} was stated, not logged`,
    detail: `Its ± ${percent(Math.max(...doubt.lanes.map((l) => l.limitShare)))} is in every figure; a blocked duct or a slow fan would not show, and a fan’s rating is its flow into nothing.`,
    remedy: "Measure each lane’s flow at the start and the end of a day, or log it.",
  }),
  accuracyAssumed: (doubt) => ({
    title: `Accuracy not stated: ${doubt.what.map((w) => ASSUMED_WORDS[w]).join(", ")}`,
    detail: `Taken widely in run ${doubt.runs.join(", ")}, so every ± is larger than it may need to be.`,
    remedy: "State it from the makers’ sheets, or calibrate in Prove: the answer sharpens at once.",
  }),
  inletsDiffer: (doubt, { system }) => ({
    title: doubt.tanks
      ? `The tanks of ${doubt.a} and ${doubt.b} were not equally warm`
      : `${doubt.a} and ${doubt.b} had different inlets`,
    detail: `${quantityText(Math.abs(doubt.differenceK), "temperatureDifference", { system, figures: 2 })} apart on average: the warmer one loses more.`,
    remedy: inletsRemedy(doubt),
  }),
  neverSwapped: (doubt) => ({
    title: `${doubt.a} and ${doubt.b} never swapped places`,
    detail: "Draught, view and meters of the places stay in the difference.",
    remedy: `Swap ${doubt.a} and ${doubt.b} for as many days again.`,
  }),
  methodsApart: (doubt) => ({
    title: `${doubt.a} over ${doubt.b} is not the same by ${andWords(doubt.by.map((x) => UNIT_WORDS[x.unit][1]))}`,
    detail: `${doubt.by.map((x) => `by ${UNIT_WORDS[x.unit][1]} ${percent(x.share)} more (${percent(x.low)} to ${percent(x.high)})`).join("; ")}: further apart than their scatter allows.`,
    remedy:
      "Heat was stored, one lane was shaded or disturbed at hours that only one of them counts, or one of them saw the boxes at one place only: look at Heat per day and the traces in Read.",
  }),
  swapUnlike: (doubt, { zone }) => ({
    title:
      doubt.seenMs === null
        ? `The difference of ${doubt.a} and ${doubt.b} stayed with their places`
        : `${doubt.a} and ${doubt.b} seem to have changed places ${doubt.seenMs > doubt.notedMs ? "later" : "earlier"} than noted`,
    detail:
      doubt.seenMs === null
        ? `The swap is noted before ${clock(doubt.notedMs, zone)}; one place gives ${percent(doubt.share)} more before and after it, whichever box is said to stand there.`
        : `Noted before ${clock(doubt.notedMs, zone)}; the difference turns before ${clock(doubt.seenMs, zone)}, by ${percent(2 * doubt.share)}.`,
    remedy:
      doubt.seenMs === null
        ? "The boxes were not exchanged, or they are alike and the places’ instruments are not: look at the day sheet, then at flow meters and probes."
        : "Look at the day sheet. If the note is wrong, mend the swap’s time in Run.",
  }),
  testedInTurn: (doubt, { system }) => ({
    title: `${doubt.a} and ${doubt.b} ran one after another`,
    detail: `On ${doubt.days} days in all. What weather does to one box from day to day has ${quantityText(0, "heatFlux", { expanded: doubt.weather, system }).replace(/^0(\.0+)? /, "")} of the answer’s ±${doubt.modelledSun ? "; without a sun sensor the day’s haze is part of it" : ""}. What else changed between them is not in it.`,
    remedy: "Run both at once, or change boxes day by day: then their days are alike.",
  }),
  identicalPairApart: (doubt, { system }) => ({
    title: `Identical pair ${doubt.a} and ${doubt.b} differ`,
    detail: `By ${quantityText(doubt.difference, "heatFlux", { expanded: doubt.expanded, system })}, though they are alike. ${doubt.flowsApart === null ? "The bench is not as good as its parts." : `Their flows differ by ${percent(doubt.flowsApart)}: that alone makes them differ.`}`,
    remedy:
      doubt.flowsApart === null
        ? "Look for a leak, shade or a wrong probe in one of them."
        : `Balance their flows within ${percent(FLOW_TOLERANCE)} first, then look again.`,
  }),
  riseAtDark: (doubt, { system }) => ({
    title: `${doubt.lane} shows a rise in the dark`,
    detail: `${quantityText(doubt.riseK, "temperatureDifference", { system, figures: 2, signed: true })} before sunrise in run ${doubt.run}, more than both probes’ limits: by day it is there too.`,
    remedy: "Look for a probe in the wrong place, wet or mixed up; calibrate in Prove.",
  }),
  probeInSun: (doubt) => ({
    title: doubt.lane ? `${doubt.lane}’s inlet probe feels the sun` : "The outside probe feels the sun",
    detail: `It follows the sun by ${doubt.perHundred.toFixed(2)}\u2009K per 100\u2009W/m² within a minute (run ${doubt.run}).`,
    remedy: "Shade it with foil that does not touch it.",
  }),
  probeLags: (doubt) => ({
    title: `${doubt.lane}’s inlet probe comes late`,
    detail: `${Math.round(doubt.lagS)}\u2009s behind the other inlets in run ${doubt.run}: it is buried, too thick, or in a dead corner.`,
    remedy: "Move it into the stream; its lag is measured in a bath.",
  }),
  modelledSun: (doubt) => ({
    title: `No sun sensor in run ${doubt.runs.join(", ")}: modelled clear sky`,
    detail: "± 15 %, the same for all lanes; clouds and haze are not seen, and a cloudy hour counts as a sunny one.",
    remedy: "Set cloudy spans aside, rank by heat rather than efficiency, and log a sun sensor next time.",
  }),
  noIdenticalPair: () => ({
    title: "No identical pair",
    detail: "Nothing shows what two equal boxes would differ by on this bench.",
    remedy: "Build or lend a second specimen of one variant.",
  }),
  fewDays: (doubt) => ({
    title: `Only ${doubt.days === 1 ? "one day" : `${doubt.days} days`}`,
    detail: "Wind and haze of those days may favour one variant.",
    remedy: `Test on ${ENOUGH_DAYS} days or more.`,
  }),
  extrapolated: (doubt, { system }) => ({
    title: `${doubt.lane}'s curve is stretched to your point`,
    detail: `The point is at ${quantityText(doubt.x, "reducedTemperature", { system })}; the data cover ${quantityText(doubt.xRange[0], "reducedTemperature", { system })} to ${quantityText(doubt.xRange[1], "reducedTemperature", { system })}.`,
    remedy: "Warm the inlet towards your operating temperature and add windows.",
  }),
  daysDiffer: (doubt) => ({
    title: `${doubt.lanes.join(", ")} differ${doubt.lanes.length === 1 ? "s" : ""} from day to day`,
    detail: "More than from window to window: wind, dust or drift. The bands count days, not windows.",
    remedy: "Compare the days' points in Read; check cover and probes.",
  }),
  hottestIsNotBest: (doubt, { system }) => ({
    title: `${doubt.hottest} blows hotter air, ${doubt.best} gives more heat`,
    detail: `${quantityText(doubt.outletC, "temperature", { system })} against ${quantityText(doubt.bestOutletC, "temperature", { system })} at the outlet. Less flow makes hotter air and less heat.`,
    remedy: "Rank by heat; choose the flow afterwards.",
  }),
  impossible: (doubt, context) => {
    const words = implausibleWords(doubt.found, context);
    return { ...words, detail: `Run ${doubt.run}: ${words.detail}` };
  },
  unlikePrediction: (doubt, { system }) => {
    const eta = (e: { value: number; expanded: number }) =>
      quantityText(e.value, "fraction", { system, expanded: e.expanded });
    return {
      title: `${doubt.lane} measures ${eta(doubt.measured)}, its drawing says ${eta(doubt.expected)}`,
      detail: `At the same sun, flow and temperatures: ${doubt.apart.toFixed(0)} standard uncertainties apart, too far for chance.`,
      remedy:
        "Look at the flow’s unit and duct, the area and the sun sensor; if they are right, the drawing is not the box: mend it in Build.",
    };
  },
  differenceUnlike: ({ a, b, measured, predicted }, { system }) => {
    const flux = (e: { value: number; expanded: number }) =>
      quantityText(e.value, "heatFlux", { system, expanded: e.expanded });
    return {
      title: `${a} − ${b} measures ${flux(measured)}, their drawings say ${flux(predicted)}`,
      detail: "Straight on, under the sun of their windows. What both lanes share is not in this difference.",
      remedy: `Look whether ${a} or ${b} is built as drawn (coating, gaps, glazing, flow through both); if so, its material is not the drawing’s.`,
    };
  },
  otherFlow: (doubt, { system }) => {
    const flow = (si: number) => quantityText(si, "massFlowPerArea", { system, figures: 2 });
    const [first] = doubt.lanes;
    const moved = doubt.lanes.every((l) => l.moved);
    return {
      title: `Tested at another flow: ${doubt.lanes.map((l) => l.lane).join(", ")}`,
      detail: `${first.lane} at ${flow(first.tested)}, judged at ${flow(first.operating)}. ${
        moved
          ? "Moved there as the drawings say, with half of the move as its doubt."
          : "More flow takes heat off better, by how much nobody measured."
      }`,
      remedy: moved
        ? "Test at the flow you will run at to be free of it."
        : "Draw the boxes in Build, or test at the flow you will run at.",
    };
  },
  orderFlips: (doubt, { system }) => ({
    title: `${doubt.a} and ${doubt.b} change places near your point`,
    detail: `Their curves cross at ${quantityText(doubt.crossing, "reducedTemperature", { system, expanded: doubt.expanded })}; your point is at ${quantityText(doubt.x, "reducedTemperature", { system, figures: 2 })}, which that ± or 5 K more or less of inlet reaches.`,
    remedy: "Decide for how warm the collector will really run, and add windows there.",
  }),
  readEarly: (doubt) => ({
    title: `Read before it had settled: ${doubt.lanes.map((l) => l.lane).join(", ")}`,
    detail: `The rules wait ${doubt.lanes.map((l) => l.timeConstants.toFixed(1)).join(", ")} of the lane’s own time constants; after each change of the sun the slower box still lags.`,
    remedy: "Let it settle for four time constants in Read’s rules, or compare by all daylight.",
  }),
  heatStored: (doubt) => ({
    title: `Boxes were storing heat: ${doubt.lanes.map((l) => l.lane).join(", ")}`,
    detail: `Their outlets still moved within the windows: ${doubt.lanes.map((l) => `${l.lane} ${percent(l.share)}`).join(", ")} of the heat went into the box or came out of it.`,
    remedy: "Tighten the band of the inlet and of the sun in Read, or compare by all daylight, which counts it.",
  }),
  leak: (doubt) => ({
    title: `${doubt.lane}’s two flow meters do not agree`,
    detail: `The one at its other end sees ${percent(Math.abs(doubt.share))} ${doubt.share > 0 ? "less" : "more"}; both together may be off by ${percent(doubt.limitShare)}.`,
    remedy: "Look for a leak with smoke and tape it, or hold one meter against the other in one stream.",
  }),
  windApart: (doubt, { system }) => ({
    title: `The places of the bench have different wind in run ${doubt.run}`,
    detail: `${quantityText(doubt.low, "speed", { system, figures: 2 })} to ${quantityText(doubt.high, "speed", { system, figures: 2 })} on average between the anemometers.`,
    remedy: "Shield the windier place or swap the boxes; covers of one pane and bare boxes feel it most.",
  }),
  timeConstantAssumed: (doubt) => ({
    title: `Time constant of ${doubt.lanes.join(", ")} assumed`,
    detail: "Nobody measured it and the box is a sketch: windows may have begun before it had settled.",
    remedy: "Lay a cover on and take it off under a steady sun, and log it; or draw the box in Build.",
  }),
  changedMidway: (doubt, { zone }) => ({
    title: `${doubt.lane}: ${CHANGE_WORDS[doubt.what] ?? doubt.what} ${doubt.times > 1 ? `${doubt.times} times` : "in the middle"} ${doubt.times > 1 ? "in" : "of"} run ${doubt.run}`,
    detail:
      doubt.times > 1 && doubt.what === "mirror"
        ? `From ${clock(doubt.atMs, zone)}: ${doubt.after} spans turned and ${doubt.before} turned back are taken together${doubt.answered ? " in the ranking and the pairs; the answer takes them apart" : ""}.`
        : `${clock(doubt.atMs, zone)}: ${doubt.before} before it and ${doubt.after} after it are taken together.`,
    remedy: doubt.answered
      ? "Set one of the two states aside to rank the lanes by the other."
      : "See in Read, by other methods, what it changed; set one side aside if it matters.",
  }),
  disturbed: (doubt) => ({
    title: `${doubt.spans} of ${doubt.of} spans saw a door or a draught`,
    detail: "It was marked at the bench within a quarter of an hour before or during them.",
    remedy: "Set those minutes aside in Read, and look whether the answer stays.",
  }),
  fanHeatUnknown: (doubt) => ({
    title: `The fan warms the stream of ${doubt.lanes.join(", ")} by an unknown amount`,
    detail: "It stands between the probes and nobody measured or stated its power: its electricity counts as sun.",
    remedy: "State the fan’s watts in Run, or move it before the inlet probe.",
  }),
  stratified: (doubt, { system }) => ({
    title: `${doubt.lane}’s outlet is in layers`,
    detail: `Its probes stand ${quantityText(doubt.spreadK, "temperatureDifference", { system, figures: 2 })} from their mean, of a rise of ${quantityText(doubt.riseK, "temperatureDifference", { system, figures: 2 })}.`,
    remedy: "Mix the stream with a bend or a mesh before the probes, or measure over the whole section.",
  }),
  mirrorUncounted: (doubt) => ({
    title: `${doubt.with.join(", ")} with a mirror, ${doubt.without.join(", ")} without`,
    detail: "The sun sensor sees none of the mirror’s light: heat compares, efficiency and curves do not.",
    remedy: "Compare heat as tested; for efficiency put a second sensor into the mirror’s light.",
  }),
  negativeFlow: (doubt) => ({
    title: `Flow of ${doubt.lane} runs backwards`,
    detail: `In ${doubt.windows} window${doubt.windows > 1 ? "s" : ""} the flow is negative.`,
    remedy: "Turn the meter round, or check the fan.",
  }),
  cleaned: (doubt, { zone }) => {
    const { note } = doubt;
    return {
      title: `${note.channel}: ${cleanWords(note.reason)}`,
      detail: `${formatNumber(note.count, 0)} readings left out, ${clock(note.firstMs, zone)} to ${clock(note.lastMs, zone)}.`,
      remedy: "Check plug and probe; raw readings are kept.",
    };
  },
};

function inletsRemedy({ effect, tanks }: DoubtOf<"inletsDiffer">): string {
  if (effect === null) return "All daylight moves both to one inlet: its answer does not hang on it.";
  return tanks
    ? "Begin the days with both tanks at one temperature, or draw from the warmer one."
    : "Feed both from one place, or vary the inlet so that curves can be fitted.";
}

export const doubtWords = (doubt: Doubt, context: Context): DoubtWords =>
  (DOUBT_WORDS[doubt.kind] as (doubt: Doubt, context: Context) => DoubtWords)(doubt, context);
