import type { Implausible } from "../core/analysis/implausible";
import { formatNumber, quantityText } from "../core/quantity/format";
import type { UnitSystem } from "../core/quantity/quantities";
import { percent } from "./sources";
import { clock } from "./times";

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

const sun = (wm2: number, { system }: Context) => quantityText(wm2, "irradiance", { system });

/** Each with its figures and its likely causes: one wording for the import and the verdict. */
const WORDS: WordsOf = {
  efficiencyBelowZero: (found, context) => ({
    title: `${found.lane} gives ${percent(found.efficiency)} in full sun`,
    detail: `The stream leaves ${quantityText(Math.abs(found.riseK), "temperatureDifference", { system: context.system, figures: 2 })} cooler than it enters, under ${sun(found.irradianceWm2, context)} at ${clock(found.atMs, context.zone)}.`,
    remedy: "In and out may be exchanged, or the flow runs backwards.",
  }),
  efficiencyAboveLimit: (found, context) => ({
    title: `${found.lane} gives ${percent(found.efficiency)}, more than its optics allow`,
    detail: `Glass and coating allow ${percent(found.limit)}; under ${sun(found.irradianceWm2, context)} at ${clock(found.atMs, context.zone)}.`,
    remedy:
      "Look at the unit of flow, the duct size, the area, and whether the sun sensor lies in the collector plane.",
  }),
  flowBackwards: (found) => ({
    title: `Flow of ${found.lane} runs backwards`,
    detail: `For ${time(found.minutes)} in the sun.`,
    remedy: "Turn the meter round, or check the fan.",
  }),
  noFlowInSun: (found) => ({
    title: `${found.lane} had no flow in the sun`,
    detail: `For ${time(found.minutes)}, ${percent(found.share)} of its sunny time.`,
    remedy: "Fan or pump stopped, the meter stuck, or another column. A stagnation test is meant so.",
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
  oddArea: (found, context) => ({
    title: `${found.lane} has an area of ${quantityText(found.areaM2, "area", { system: context.system })}`,
    detail: "No collector that can be tested here is that size.",
    remedy: "Look at the unit of its width and length.",
  }),
};

/** What physics does not allow, in words. */
export const implausibleWords = (found: Implausible, context: Context): ImplausibleWords =>
  (WORDS[found.kind] as (found: Implausible, context: Context) => ImplausibleWords)(found, context);
