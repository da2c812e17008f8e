import type { Cause } from "../core/analysis/causes";
import type { Implausible } from "../core/analysis/slip";
import type { Spell } from "../core/analysis/spells";
import { formatNumber, quantityText } from "../core/quantity/format";
import type { UnitSystem } from "../core/quantity/quantities";
import { percent } from "./sources";
import { offsetWords } from "./layers";
import { clock, timeOfDay } from "./times";

export interface ImplausibleWords {
  title: string;
  detail: string;
  /** Likely causes first, then what to do. */
  remedy: string;
}

const day = (ms: number): string => new Date(ms).toISOString().slice(0, 10);
const time = (minutes: number): string =>
  minutes < 120 ? `${formatNumber(minutes, 0)}\u2009min` : `${formatNumber(minutes / 60, 1)}\u2009h`;

type WordsOf = {
  [K in Implausible["kind"]]: (found: Extract<Implausible, { kind: K }>, context: Context) => ImplausibleWords;
};
interface Context {
  zone: string;
  system: UnitSystem;
}

/** `: 12:10 to 13:00 and 2 more times`; nothing where the times are not known. */
function spellsWords(spells: readonly Spell[] | undefined, zone: string): string {
  if (!spells?.length) return "";
  const [first, ...more] = spells.slice(0, 3).map((s) => `${clock(s.fromMs, zone)} to ${timeOfDay(s.toMs, zone)}`);
  const rest = spells.length - 3;
  return `: ${[first, ...more].join(", ")}${rest > 0 ? ` and ${rest} more time${rest > 1 ? "s" : ""}` : ""}`;
}

const sun = (wm2: number, { system }: Context) => quantityText(wm2, "irradiance", { system });

/** `Likely: flow in L/s read as m³/h (then 55 %). `, or nothing where no slip explains it. */
function causesWords(causes: readonly Cause[] = []): string {
  if (causes.length === 0) return "";
  const one = (c: Cause): string => {
    const then = `(then ${percent(c.efficiency)})`;
    if (c.kind === "unit") return `flow in ${c.written} read as ${c.read} ${then}`;
    if (c.kind === "fahrenheit") return `temperatures in °F read as °C ${then}`;
    if (c.kind === "outsideInlet") return `the outside’s and the inlet’s columns exchanged ${then}`;
    if (c.kind === "radius") return `a duct’s radius taken for its diameter, or the other way about ${then}`;
    return `in and out exchanged ${then}`;
  };
  return `Likely: ${causes.map(one).join("; or ")}. `;
}

/** Each with its figures and its likely causes: one wording for the import and the verdict. */
const WORDS: WordsOf = {
  efficiencyBelowZero: (found, context) => ({
    title: `${found.lane} gives ${percent(found.efficiency)} in full sun`,
    detail: `The stream leaves ${quantityText(Math.abs(found.riseK), "temperatureDifference", { system: context.system, figures: 2 })} cooler than it enters, under ${sun(found.irradianceWm2, context)} at ${clock(found.atMs, context.zone)}.`,
    remedy: `${causesWords(found.causes)}In and out may be exchanged, or the flow runs backwards.`,
  }),
  lightLost: (found, context) => ({
    title: `${found.lane} gives ${percent(found.efficiency)}, and ${sun(found.lostWm2, context)} of the light is nowhere`,
    detail: `A dark box takes more, and at its temperatures it cannot lose that much; under ${sun(found.irradianceWm2, context)} at ${clock(found.atMs, context.zone)}.`,
    remedy: `${causesWords(found.causes)}Look at the unit of flow, the duct size and the area; or the box was shaded, or very pale.`,
  }),
  planeTurned: (found) => ({
    title: `The boxes seem to face ${formatNumber(found.azimuth, 0)}°, not the other way`,
    detail: `In clear hours the sensor shows ${percent(found.planeRatio)} of what a clear sky gives in the stated plane, and ${percent(found.turnedRatio)} of what one turned round gets.`,
    remedy: "Azimuth counts from north by east: 180° is south. Mend it at the site.",
  }),
  efficiencyAboveLimit: (found, context) => ({
    title: `${found.lane} gives ${percent(found.efficiency)}, more than its optics allow`,
    detail: `Glass and coating allow ${percent(found.limit)}; under ${sun(found.irradianceWm2, context)} at ${clock(found.atMs, context.zone)}.`,
    remedy: `${causesWords(found.causes)}Look at the unit of flow, the duct size, the area, and whether the sun sensor lies in the collector plane.`,
  }),
  efficiencyTiny: (found, context) => ({
    title: `${found.lane} gives only ${percent(found.efficiency)} in full sun`,
    detail: `Under ${sun(found.irradianceWm2, context)} at ${clock(found.atMs, context.zone)}, with flow; no working box gives so little.`,
    remedy: `${causesWords(found.causes)}Look at the unit of flow, the fluid, the duct size and the area.`,
  }),
  clocksApart: (found) => ({
    title: `Two loggers’ clocks disagree by ${offsetWords(Math.abs(found.slowMs)).replace(/ slow$/, "")}`,
    detail: `“${found.channels[1]}” follows “${found.channels[0]}” best when its clock is taken as ${offsetWords(found.slowMs)}, ± ${formatNumber((2 * found.standardMs) / 1000, 0)}\u2009s.`,
    remedy: "A clock was set wrong, or a zone differs by less than an hour. Move it, as a layer; the readings stay.",
  }),
  coolsByDay: (found, context) => ({
    title: `${found.lane} cools by day`,
    detail: `Its outlet is ${quantityText(-found.riseK, "temperatureDifference", { system: context.system, figures: 2 })} below its inlet over ${time(found.minutes)} of daylight.`,
    remedy: "In and out may be exchanged, or the clock’s zone turns day into night.",
  }),
  flowOdd: (found, context) => {
    const flow = (kg: number) => quantityText(kg, "massFlowPerArea", { system: context.system, figures: 2 });
    return {
      title: `Flow of ${found.lane} is ${found.flowPerArea < found.usual[0] ? "tiny" : "huge"} for its area`,
      detail: `${flow(found.flowPerArea)}; ${flow(found.usual[0])} to ${flow(found.usual[1])} is usual.`,
      remedy: "Look at the unit of flow, the duct size, the fluid and the area.",
    };
  },
  worldsApart: (found) => {
    const [more, less] = found.ratio > 1 ? found.lanes : [found.lanes[1], found.lanes[0]];
    return {
      title: `${more} gives ${formatNumber(Math.max(found.ratio, 1 / found.ratio), 1)} times the heat of ${less}`,
      detail: "Per area, side by side in the same hours; boxes that both work seldom differ so much.",
      remedy:
        "Units, duct, area or probes of one of them may be another than stated; or it was shaded, leaking or without flow.",
    };
  },
  heatAtNight: (found) => ({
    title: "Heat at night",
    detail: `As much as in a sunny hour, for ${time(60 * found.hours)} while the sun is below the horizon at this site.`,
    remedy: "The clock’s zone, the site or the order of day and month is wrong.",
  }),
  clockOff: (found) => ({
    title: `The clock seems ${time(Math.abs(found.lateMinutes))} ${found.lateMinutes > 0 ? "fast" : "slow"}`,
    detail: `${found.by === "sun" ? "The recorded sun" : "The lanes’ heat"} comes ${time(Math.abs(found.lateMinutes))} ${found.lateMinutes > 0 ? "after" : "before"} the sun over this site.`,
    remedy: "Look at the logger’s zone, at summer time, and at the site’s longitude.",
  }),
  clockNotChanged: (found, { zone }) => ({
    title: `The clock seems not to have been changed with summer time`,
    detail: `${found.wrong === "after" ? "After" : "Before"} ${clock(found.changedMs, zone)} ${found.by === "sun" ? "the recorded sun" : "the lanes’ heat"} comes ${time(Math.abs(found.lateMinutes))} ${found.lateMinutes > 0 ? "after" : "before"} the sun over this site; on the other side it fits.`,
    remedy: "The logger keeps one offset all year: give its zone as that offset (UTC+01:00, say), and import again.",
  }),
  sunMounting: (found) => ({
    title: `The sun sensor seems to lie ${found.mounted === "plane" ? "horizontal" : "in the collector plane"}`,
    detail: `In clear hours it shows ${percent(found.planeRatio)} of what a clear sky gives in the plane, and ${percent(found.horizontalRatio)} of what it gives on the horizontal.`,
    remedy: `It is stated as ${found.mounted === "plane" ? "in the plane" : "horizontal"}: say how it is mounted, or look at its unit.`,
  }),
  outsideOdd: (found, context) => ({
    title: `Outside it is ${quantityText(found.temperatureC, "temperature", { system: context.system, figures: 2 })}`,
    detail: "As the middle of the whole run.",
    remedy: "Look at the unit (°F taken for °C?) and at whether the probe hangs in the shade.",
  }),
  flowBackwards: (found) => ({
    title: `Flow of ${found.lane} runs backwards`,
    detail: `For ${time(found.minutes)} in the sun.`,
    remedy: "Turn the meter round, or check the fan.",
  }),
  sunShaded: (found, { zone }) => ({
    title: "The sun sensor was in the shade, and the boxes were not",
    detail: `For ${time(found.minutes)} it shows ${percent(found.share)} of the day’s clear light while all lanes give on${spellsWords(found.spells, zone)}: efficiency is too high there.`,
    remedy: "Set these minutes aside, and look what stands before the sensor at that hour.",
  }),
  noFlowInSun: (found, { zone }) =>
    found.cycles === undefined
      ? {
          title: `${found.lane} had no flow in the sun`,
          detail: `For ${time(found.minutes)}, ${percent(found.share)} of its sunny time${spellsWords(found.spells, zone)}.`,
          remedy: "Fan or pump stopped, the meter stuck, or another column. A stagnation test is meant so.",
        }
      : {
          title: `${found.lane}’s fan or pump goes on and off`,
          detail: `${found.cycles} stops in the sun, ${time(found.minutes)} in all, ${percent(found.share)} of its sunny time.`,
          remedy: "A thermostat does so. Heat is counted while it runs; a loose wire looks the same.",
        },
  riseByItself: (found) => ({
    title: `${found.lane}’s rise goes up and down by itself`,
    detail: `${found.jumps} jumps, by ${formatNumber(found.ratio, 1)} times and back, in ${time(60 * found.hours)} of steady sun, with its flow as if it ran through.`,
    remedy:
      "A fan or pump that goes on and off: log its state (1 or 0) or its power, then heat counts while it runs. A mirror that is turned, a door, or a loose probe in the sun looks the same.",
  }),
  besideClearSky: (found, context) => {
    const little = found.share < 0.5;
    return {
      title: `${found.lane} gives ${little ? "at most " : ""}${percent(found.share)} of a clear sky’s light`,
      detail: `Its best hour gives ${sun(found.heatWm2, context)}, at ${clock(found.atMs, context.zone)}; nobody measured the sun.`,
      remedy: `${causesWords(found.causes)}Look at the unit of flow, the duct size, the fluid and the area${little ? "; or no hour of these days was sunny" : ""}.`,
    };
  },
  waterFrozen: (found, context) => ({
    title: `${found.lane}’s water flows at ${quantityText(found.temperatureC, "temperature", { system: context.system, figures: 2 })}`,
    detail: `Below freezing for ${time(found.minutes)}, with flow.`,
    remedy:
      "It holds antifreeze: say glycol, the same flow and rise are then 2 to 12\u2009% less heat. Or a probe reads low, or °F was read as °C.",
  }),
  noRiseInSun: (found, context) => ({
    title: `${found.lane} warms nothing in the sun`,
    detail: `In and out differ by ${quantityText(found.riseK, "temperatureDifference", { system: context.system, figures: 2 })} over ${time(found.minutes)} of sun.`,
    remedy: "The same probe may be mapped to both ends, both may hang outside, or the cover is dark.",
  }),
  lanesAlike: (found) => ({
    title: `${found.lanes[0]} and ${found.lanes[1]} agree to the last digit`,
    detail: `${formatNumber(found.readings, 0)} ${found.channel} readings are the same.`,
    remedy: "One column may stand for both, or the file was copied.",
  }),
  outletsExchanged: (found) => ({
    title: `The outlets of ${found.lanes[0]} and ${found.lanes[1]} seem exchanged`,
    detail: `${found.lanes[0]}’s outlet follows ${found.lanes[1]}’s ${{ flow: "flow", inlet: "inlet", both: "inlet and flow" }[found.by]}, and the other way about: ${formatNumber(found.sure, 0)} times its uncertainty.`,
    remedy: "Give each column to the other lane, or look which probe hangs where.",
  }),
  constantSun: (found, context) => ({
    title: "The sun does not change",
    detail: `${sun(found.irradianceWm2, context)} for ${time(60 * found.hours)}.`,
    remedy: "A typed value, a stuck sensor or a lamp: efficiency follows it as it is.",
  }),
  sunTooStrong: (found, context) => ({
    title: "More sun than there is",
    detail: `Up to ${sun(found.irradianceWm2, context)} and above 1,450\u2009W/m² for ${time(found.minutes)}.`,
    remedy: "Look at the sensor’s unit and calibration, or whether a mirror lights it.",
  }),
  sunAtNight: (found, context) => ({
    title: "Sun at night",
    detail: `${sun(found.irradianceWm2, context)} for ${time(60 * found.hours)} while the sun is below the horizon at this site.`,
    remedy: "The clock’s zone, the site or the order of day and month is wrong.",
  }),
  pressureFar: (found, context) => ({
    title: "Air pressure does not fit the altitude",
    detail: `${quantityText(found.pressurePa, "pressure", { system: context.system })} logged; about ${quantityText(found.expectedPa, "pressure", { system: context.system })} is usual there.`,
    remedy:
      "The station may reduce to sea level, or the unit or the site’s altitude is wrong: density and heat follow it.",
  }),
  farApart: (found) => ({
    title: "Readings too far apart for one run",
    detail: `${formatNumber(found.readings, 0)} of them, ${day(found.fromMs)} to ${day(found.toMs)}, are left out of everything computed.`,
    remedy: "Import them as a run of their own, or look whether a clock was not set.",
  }),
  rowOff: (found, { zone, system }) => ({
    title: `${found.lane}’s row at ${clock(found.atMs, zone)} is unlike those around it`,
    detail: `It gives ${quantityText(found.heatW, "power", { system, figures: 3 })}; the rows before and after it say ${quantityText(found.expectedW, "power", { system, figures: 3 })}, and no other box saw a cloud.`,
    remedy: "Look at what was written down: a digit, the wrong end, the wrong box. Mend the row, or take it out.",
  }),
  oddArea: (found, context) => ({
    title: `${found.lane} has an area of ${quantityText(found.areaM2, "area", { system: context.system })}`,
    detail: "No collector that can be tested here is that size.",
    remedy: "Look at the unit of its width and length.",
  }),
};

/** What physics does not allow, in words. */
export const implausibleWords = (found: Implausible, context: Context): ImplausibleWords =>
  (WORDS[found.kind] as (found: Implausible, context: Context) => ImplausibleWords)(found, context);
