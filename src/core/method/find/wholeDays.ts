import { autocorrelatedMean } from "../../uncertainty/typeA";
import { coverageFactor } from "../../uncertainty/coverage";
import { combine, withSource, type Uncertain } from "../../uncertainty/uncertain";
import { dailyLine } from "../../analysis/dailyLine";
import { efficiencyShare, heatShare } from "./stated";
import { localDay } from "../../log/zone";
import {
  grouped,
  eachLane,
  type Finder,
  type FinderInput,
  type Finding,
  type GapReason,
  type MethodLane,
} from "./finding";
import { laneIn, minuteMs, type MethodSpan } from "./span";

/** W/m²: from here on the box is in the sun. */
const LIT = 200;
/** It gives heat when its rise is this share of the day's highest. */
const GIVES = 0.3;

interface LaneDay {
  heat: number;
  light: number;
  /** J/m² of the daylight in which the lane was known. */
  warmUpS: number | null;
  meanW: number;
  /** Standard shares as the instruments are stated: of heat, and of heat over light. */
  heatShare: number;
  efficiencyShare: number;
}

/** Whole days: heat against light as a line, how long the box takes in the morning, heat per metre of its pipe. */
export const wholeDays: Finder = (input) => eachLane(input, (lane) => daysOf(input, lane));

function daysOf({ spans }: FinderInput, { lane, pipeM }: MethodLane): Finding[] | GapReason {
  if (!spans.some((s) => s.minutes.irradiance && s.setup.sunSensor.mounting !== "modelled")) return "noSun";
  const days = spans.flatMap((s) => laneDays(s, lane));
  if (days.length === 0) return "fewDays";
  const base = { lane, hours: days.length * 8, days: days.length };
  const scattered = (
    name: "warmUp" | "perMetre",
    values: readonly number[],
    quantity: Finding["quantity"],
    share = 0,
  ): Finding[] => {
    const mean = autocorrelatedMean(values);
    if (values.length < 2) return [];
    const figure = withSource(mean.mean, mean.sd / Math.sqrt(values.length), {
      kind: "methodScatter",
      method: "wholeDays",
      figure: `${lane}/${name}`,
      owner: lane,
      dof: values.length - 1,
    });
    return [{ ...base, days: values.length, name, figure: withStated(figure, lane, share), quantity }];
  };
  return [
    ...lineOf(lane, days),
    ...scattered(
      "warmUp",
      days.flatMap((d) => d.warmUpS ?? []),
      "duration",
    ),
    ...(pipeM
      ? scattered(
          "perMetre",
          days.map((d) => d.meanW / pipeM),
          "heatPerLength",
          days[0].heatShare,
        )
      : []),
  ];
}

/** What the instruments are stated to comes to the scatter of days: all days are off by it alike. */
const withStated = (figure: Uncertain, lane: string, share: number): Uncertain =>
  combine(figure.value, [
    [1, figure],
    [
      figure.value,
      withSource(0, share, {
        kind: "methodScatter",
        method: "wholeDays",
        figure: `${lane}/stated`,
        owner: lane,
        dof: Infinity,
      }),
    ],
  ]);

/** Heat on light, day by day, as a line with its loss. */
function lineOf(lane: string, days: readonly LaneDay[]): Finding[] {
  const line = dailyLine(
    lane,
    days.map((d) => ({ irradiation: d.light, heat: d.heat })),
  );
  if (!line) return [];
  const dof = line.days - 2;
  const of = (value: number, expanded: number, figure: string) => {
    const source = {
      kind: "methodScatter" as const,
      method: "wholeDays",
      figure: `${lane}/${figure}`,
      owner: lane,
      dof,
    };
    return withStated(withSource(value, expanded / coverageFactor(dof), source), lane, days[0].efficiencyShare);
  };
  const base = { lane, hours: days.length * 8, days: days.length };
  return [
    { ...base, name: "slope", figure: of(line.slope, line.slopeExpanded, "slope"), quantity: "fraction" },
    { ...base, name: "dailyLoss", figure: of(line.loss, line.lossExpanded, "loss"), quantity: "energyPerArea" },
  ];
}

function laneDays(span: MethodSpan, letter: string): LaneDay[] {
  const own = laneIn(span, letter);
  const sun = span.minutes.irradiance;
  if (!own || !sun) return [];
  const stepS = span.minutes.stepMs / 1000;
  const cells = grouped([...own.heat.keys()], (i) => localDay(minuteMs(span, i), span.setup.zone));
  return [...cells.values()].flatMap((day) => {
    const known = day.filter((i) => sun[i] > 20 && !Number.isNaN(own.heat[i]));
    const lit = day.filter((i) => sun[i] > 20);
    // A day cut short is no day: its sums would stand lower on both axes and its loss too.
    if (lit.length * stepS < 5 * 3600 || known.length < 0.9 * lit.length) return [];
    const rise = (i: number) => own.outlet[i] - own.inlet[i];
    const highest = Math.max(...known.map(rise));
    const from = known.find((i) => sun[i] > LIT);
    const gives =
      from === undefined ? undefined : known.find((i) => i >= from && rise(i) > GIVES * highest && own.heat[i] > 0);
    const sum = (f: (i: number) => number) => known.reduce((s, i) => s + f(i), 0);
    const meanRiseK = sum(rise) / known.length;
    return [
      {
        heat: (sum((i) => own.heat[i]) * stepS) / own.lane.areaM2,
        light: sum((i) => sun[i]) * stepS,
        warmUpS: from !== undefined && gives !== undefined && from > known[0] ? (gives - from) * stepS : null,
        meanW: sum((i) => own.heat[i]) / known.length,
        heatShare: heatShare(own.lane, own.usualFlow, meanRiseK),
        efficiencyShare: efficiencyShare(own.lane, span.setup, own.usualFlow, meanRiseK),
      },
    ];
  });
}
