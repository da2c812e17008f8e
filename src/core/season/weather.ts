import { zoneOffset } from "../log/zone";
import { seededRandom } from "../random/seededRandom";
import type { Climate } from "../site/climate";
import type { EpwFile } from "../site/epw";
import type { SiteWorld } from "../site/site";
import { clearSky, erbsDiffuseFraction } from "../sun/clearSky";
import { extraterrestrialNormal, sunPosition } from "../sun/position";

const { sin, cos, acos, tan, exp, log, max, min, sqrt, PI } = Math;
const RAD = PI / 180;
const HOUR = 3600000;

/** Hours of a year without 29 February. */
export const HOURS = 8760;
export const MONTH_DAYS: readonly number[] = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
/** The year whose sun is used: no leap year. */
export const SEASON_YEAR = 2026;

/** A year of weather, hour by hour, January first in standard time. */
export interface WeatherYear {
  source: "monthly" | "hours";
  /** Start of the first hour, UTC ms. */
  startMs: number;
  /** Instant that stands for the hour's sun, UTC ms: the middle of its lit part. */
  sunMs: Float64Array;
  /** On the horizontal, mean of the hour, W/m². */
  global: Float64Array;
  diffuse: Float64Array;
  /** Such that times the sine of the sun's altitude at `sunMs` it is global − diffuse, W/m². */
  beamNormal: Float64Array;
  ambientC: Float64Array;
  windMs: Float64Array;
  /** 0 to 1; NaN where not known. */
  humidity: Float64Array;
}

/** Month of an hour of the year, 0 to 11. */
export const monthOfHour: Uint8Array = Uint8Array.from(
  MONTH_DAYS.flatMap((days, m) => Array<number>(days * 24).fill(m)),
);

/** Standard time of a zone, ms east of UTC: without summer time. */
export const standardOffset = (zone: string): number =>
  min(zoneOffset(Date.UTC(SEASON_YEAR, 0, 15), zone), zoneOffset(Date.UTC(SEASON_YEAR, 6, 15), zone));

const STEPS = 6;

interface SunHours {
  startMs: number;
  sunMs: Float64Array;
  /** Sine of the sun's altitude at `sunMs`. */
  sine: Float64Array;
  /** Extraterrestrial on the horizontal, mean of the hour, W/m². */
  outside: Float64Array;
  /** The same weighted with Collares-Pereira & Rabl's profile, in any scale. */
  profile: Float64Array;
}

function sunHours(site: SiteWorld, startMs: number): SunHours {
  const out: SunHours = {
    startMs,
    sunMs: new Float64Array(HOURS),
    sine: new Float64Array(HOURS),
    outside: new Float64Array(HOURS),
    profile: new Float64Array(HOURS),
  };
  for (let h = 0; h < HOURS; h++) {
    const from = startMs + h * HOUR;
    const normal = extraterrestrialNormal(from);
    const { declination, equationMin } = yearAngle(from);
    const sunset = -tan(site.latitude * RAD) * tan(declination);
    const setting = acos(max(-1, min(1, sunset)));
    const a = 0.409 + 0.5016 * sin(setting - 60 * RAD);
    const b = 0.6609 - 0.4767 * sin(setting - 60 * RAD);
    let [lit, weighted] = [0, 0];
    for (let k = 0; k < STEPS; k++) {
      const ms = from + ((k + 0.5) / STEPS) * HOUR;
      const solar = ((ms / HOUR + site.longitude / 15 + equationMin / 60) % 24) - 12;
      const omega = solar * 15 * RAD;
      const sine =
        sin(site.latitude * RAD) * sin(declination) + cos(site.latitude * RAD) * cos(declination) * cos(omega);
      if (sine <= 0) continue;
      lit++;
      weighted += ms;
      out.outside[h] += (normal * sine) / STEPS;
      out.profile[h] += (sine * max(0, a + b * cos(omega))) / STEPS;
    }
    out.sunMs[h] = lit ? weighted / lit : from + HOUR / 2;
    out.sine[h] = max(0, sin(sunPosition(out.sunMs[h], site).altitude * RAD));
  }
  return out;
}

/** Declination and equation of time (Spencer 1971; DB 1.6.1b, 1.5.3), within 0.05° and 0.5 min. */
function yearAngle(ms: number): { declination: number; equationMin: number } {
  const day = (ms - Date.UTC(SEASON_YEAR, 0, 1)) / 86400000;
  const B = (2 * PI * day) / 365;
  return {
    declination:
      0.006918 -
      0.399912 * cos(B) +
      0.070257 * sin(B) -
      0.006758 * cos(2 * B) +
      0.000907 * sin(2 * B) -
      0.002697 * cos(3 * B) +
      0.00148 * sin(3 * B),
    equationMin:
      229.2 * (0.000075 + 0.001868 * cos(B) - 0.032077 * sin(B) - 0.014615 * cos(2 * B) - 0.04089 * sin(2 * B)),
  };
}

/**
 * Daily clearness of a month at equal steps of its distribution, lowest first (Bendt et al. 1981 after Liu & Jordan 1960; DB 2.9.6):
 * an exponential between 0.05 and the clearest day by Hollands & Huget (1983; DB 2.9.5). Their mean is the month's.
 * @param mean monthly clearness, 0 to 1 @param days in the month
 */
export function clearnessDays(mean: number, days: number): number[] {
  const least = min(0.05, mean / 2);
  const most = max(mean + 0.02, min(0.85, 0.6313 + 0.267 * mean - 11.9 * (mean - 0.75) ** 8));
  const slope = exponent(mean, least, most);
  const [a, b] = [exp(slope * least), exp(slope * most)];
  const quantile = (f: number) => (Math.abs(slope) < 1e-6 ? least + f * (most - least) : log(a - f * (a - b)) / slope);
  const raw = Array.from({ length: days }, (_, i) => quantile((i + 0.5) / days));
  const sum = raw.reduce((s, k) => s + k, 0);
  return raw.map((k) => (k * mean * days) / sum);
}

/** Slope of an exponential density on an interval with a given mean, by bisection: the equation Bendt's tables solve. */
function exponent(mean: number, least: number, most: number): number {
  const meanOf = (g: number) => {
    if (Math.abs(g) < 1e-6) return (least + most) / 2;
    const [a, b] = [exp(g * (least - most)), 1];
    return ((least - 1 / g) * a - (most - 1 / g) * b) / (a - b);
  };
  let [low, high] = [-200, 200];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (meanOf(middle) < mean) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** How one day's clearness goes with the day before (Graham et al. 1988). */
const DAY_TO_DAY = 0.29;
/** Of daily mean temperatures about the month's, K, and from day to day: typical of inland places (Knight et al. 1991). */
const WARM_DAYS = { sd: 3, lag: 0.7 };

/**
 * A year from monthly means: each month's days by {@link clearnessDays}, in an order with memory from a fixed seed; hours by
 * Collares-Pereira & Rabl (1979; DB 2.13.2); diffuse by Erbs et al. (1982); temperature with Erbs' daily swing (1983) and days that
 * wander. Irradiation and mean temperature of each month are the climate's.
 */
export function monthlyYear(site: SiteWorld, climate: Climate, seed = 1): WeatherYear {
  const startMs = Date.UTC(SEASON_YEAR, 0, 1) - standardOffset(site.zone);
  const sun = sunHours(site, startMs);
  const year = emptyYear("monthly", startMs, sun);
  const random = seededRandom(seed);
  let [memory, warmth, first] = [random.normal(), random.normal(), 0];
  const middles = monthlyMiddles(climate.months.map((m) => m.meanC));
  for (let month = 0; month < 12; month++) {
    const days = MONTH_DAYS[month];
    const outside = Array.from({ length: days }, (_, d) => sumOf(sun.outside, first + d * 24));
    const wanted = climate.months[month].globalKwhM2 * 1000;
    const meanOutside = outside.reduce((s, x) => s + x, 0) / days;
    const clearness = meanOutside > 1 ? min(0.82, wanted / meanOutside) : 0;
    // Ranks of a process with memory say in which order the month's days come.
    const process = Array.from({ length: days }, () => {
      memory = DAY_TO_DAY * memory + sqrt(1 - DAY_TO_DAY ** 2) * random.normal();
      return memory;
    });
    const ranked = clearnessDays(clearness, days);
    const order = process.map((_, i) => i).sort((p, q) => process[p] - process[q]);
    const ofDay = Array<number>(days);
    order.forEach((day, rank) => (ofDay[day] = ranked[rank]));
    const light = ofDay.map((k, d) => k * outside[d]);
    const scale =
      wanted > 0
        ? (wanted * days) /
          max(
            1e-9,
            light.reduce((s, x) => s + x, 0),
          )
        : 0;
    const wander = Array.from({ length: days }, () => {
      warmth = WARM_DAYS.lag * warmth + sqrt(1 - WARM_DAYS.lag ** 2) * random.normal();
      return WARM_DAYS.sd * warmth;
    });
    const meanWander = wander.reduce((s, x) => s + x, 0) / days;
    const swing = max(0, 25.8 * clearness - 5.21);
    for (let d = 0; d < days; d++)
      fillDay(year, sun, first + d * 24, { daily: light[d] * scale, solarOffset: site.longitude / 15 }, (hour) => ({
        ambientC: middles(month, d) + wander[d] - meanWander + swing * dailySwing(hour),
        windMs: climate.months[month].windMs ?? NaN,
      }));
    trimMean(year.ambientC, first, days * 24, climate.months[month].meanC);
    first += days * 24;
  }
  return year;
}

const emptyYear = (source: WeatherYear["source"], startMs: number, sun: SunHours): WeatherYear => ({
  source,
  startMs,
  sunMs: sun.sunMs,
  global: new Float64Array(HOURS),
  diffuse: new Float64Array(HOURS),
  beamNormal: new Float64Array(HOURS),
  ambientC: new Float64Array(HOURS),
  windMs: new Float64Array(HOURS),
  humidity: new Float64Array(HOURS).fill(NaN),
});

const sumOf = (values: Float64Array, from: number): number => {
  let sum = 0;
  for (let h = from; h < from + 24; h++) sum += values[h];
  return sum;
};

function trimMean(values: Float64Array, from: number, count: number, mean: number): void {
  let sum = 0;
  for (let h = from; h < from + count; h++) sum += values[h];
  for (let h = from; h < from + count; h++) values[h] += mean - sum / count;
}

function fillDay(
  year: WeatherYear,
  sun: SunHours,
  first: number,
  { daily, solarOffset }: { daily: number; solarOffset: number },
  air: (solarHour: number) => { ambientC: number; windMs: number },
): void {
  const shape = sumOf(sun.profile, first);
  for (let h = first; h < first + 24; h++) {
    const { ambientC, windMs } = air((year.startMs / HOUR + h + 0.5 + solarOffset) % 24);
    year.ambientC[h] = ambientC;
    year.windMs[h] = windMs;
    const global = shape > 0 ? (daily * sun.profile[h]) / shape : 0;
    split(year, sun, h, global);
  }
}

/** Beam and diffuse of an hour's global light by Erbs. */
function split(year: WeatherYear, sun: SunHours, h: number, global: number): void {
  const clearness = sun.outside[h] > 0 ? global / sun.outside[h] : 0;
  year.global[h] = global;
  year.diffuse[h] = global * erbsDiffuseFraction(clearness);
  setBeam(year, sun, h);
}

/** Horizontal beam that the file's direct light and its global less diffuse may differ by, W/m² and share, before they are taken to contradict. */
const [CLOSES_WM2, CLOSES_SHARE] = [30, 0.15];

/**
 * Light as a file states it: its diffuse light, and its direct normal where that agrees with the difference of global and diffuse, which
 * under a low sun is divided by nearly nothing. Without diffuse it is what the direct light leaves; without both, Erbs'.
 */
function setStated(
  year: WeatherYear,
  sun: SunHours,
  h: number,
  global: number,
  { diffuse, direct }: { diffuse: number; direct: number },
): void {
  const beam = direct * max(0, sun.sine[h]);
  if (Number.isNaN(diffuse)) {
    if (Number.isNaN(beam)) return split(year, sun, h, global);
    year.global[h] = global;
    year.diffuse[h] = max(0, global - beam);
    return setBeam(year, sun, h);
  }
  year.global[h] = global;
  year.diffuse[h] = min(global, diffuse);
  setBeam(year, sun, h);
  const left = global - year.diffuse[h];
  if (sun.sine[h] > 0.01 && Math.abs(left - beam) <= CLOSES_WM2 + CLOSES_SHARE * left)
    year.beamNormal[h] = min(direct, 0.8 * extraterrestrialNormal(year.sunMs[h]));
}

/** A sun that barely clears the horizon would need a beam beyond the sun's own: what it cannot bring is diffuse. */
function setBeam(year: WeatherYear, sun: SunHours, h: number): void {
  const beam = max(0, year.global[h] - year.diffuse[h]);
  const most = 0.8 * extraterrestrialNormal(year.sunMs[h]);
  year.beamNormal[h] = sun.sine[h] > 0.01 ? min(most, beam / sun.sine[h]) : 0;
  year.diffuse[h] = year.global[h] - year.beamNormal[h] * sun.sine[h];
}

/** Hourly temperature about the day's mean over the day's swing (Erbs et al. 1983). @param hour solar, 0 to 24 */
function dailySwing(hour: number): number {
  const t = (2 * PI * (hour - 1)) / 24;
  return (
    0.4632 * cos(t - 3.805) + 0.0984 * cos(2 * t - 0.36) + 0.0168 * cos(3 * t - 0.822) + 0.0138 * cos(4 * t - 3.513)
  );
}

/** Daily means on straight lines between the months' middles; each month's mean is trimmed afterwards. */
function monthlyMiddles(means: readonly number[]): (month: number, day: number) => number {
  return (month, day) => {
    const share = (day + 0.5) / MONTH_DAYS[month] - 0.5;
    const other = means[(month + (share < 0 ? 11 : 1)) % 12];
    return means[month] + Math.abs(share) * (other - means[month]);
  };
}

export type WeatherProblem =
  | { kind: "records"; found: number }
  | { kind: "missing"; field: string; hours: number }
  | { kind: "hemisphere"; file: number; site: number }
  | { kind: "far"; degrees: number };

/** What keeps the hours of a file from being this place's year. Far off by a degree or more is said, not refused. */
export function epwProblems(file: EpwFile, site: Pick<SiteWorld, "latitude" | "longitude">): WeatherProblem[] {
  const problems: WeatherProblem[] = [];
  if (file.flags.length < HOURS) problems.push({ kind: "records", found: file.flags.length });
  for (const field of ["dryBulbC", "globalHorizontal"] as const) {
    const hours = file.series[field].reduce((n, v) => n + (Number.isNaN(v) ? 1 : 0), 0);
    if (hours > 240) problems.push({ kind: "missing", field, hours });
  }
  if (Math.sign(file.latitude) !== Math.sign(site.latitude) && Math.abs(file.latitude - site.latitude) > 5)
    problems.push({ kind: "hemisphere", file: file.latitude, site: site.latitude });
  else {
    const degrees = Math.hypot(
      file.latitude - site.latitude,
      (file.longitude - site.longitude) * cos(site.latitude * RAD),
    );
    if (degrees > 1) problems.push({ kind: "far", degrees });
  }
  return problems;
}

/** The hours of a typical-weather file as a year at the site; 29 February is left out, single missing hours carry on the last one. */
export function epwYear(file: EpwFile, site: SiteWorld): WeatherYear {
  const startMs = Date.UTC(SEASON_YEAR, 0, 1) - file.timeZoneH * HOUR;
  const sun = sunHours(site, startMs);
  const year = emptyYear("hours", startMs, sun);
  const { month, day } = file.stamps;
  let h = 0;
  let [air, wind] = [0, NaN];
  for (let i = 0; i < file.flags.length && h < HOURS; i++) {
    if (month[i] === 2 && day[i] === 29) continue;
    const { dryBulbC, windSpeed, relativeHumidity, globalHorizontal, diffuseHorizontal, directNormal } = file.series;
    if (!Number.isNaN(dryBulbC[i])) air = dryBulbC[i];
    if (!Number.isNaN(windSpeed[i])) wind = windSpeed[i];
    year.ambientC[h] = air;
    year.windMs[h] = wind;
    year.humidity[h] = relativeHumidity[i] / 100;
    const global = Number.isNaN(globalHorizontal[i]) ? clearSky(sun.sunMs[h], site, 3).global / 2 : globalHorizontal[i];
    const stated = { diffuse: diffuseHorizontal[i], direct: directNormal[i] };
    // Of an hour without its own global light nothing else of it is taken.
    if (Number.isNaN(globalHorizontal[i])) split(year, sun, h, global);
    else setStated(year, sun, h, global, stated);
    h++;
  }
  return year;
}

/** Monthly means of a year, as a climate holds them: kWh/m² a day and °C. */
export function monthsOf(year: WeatherYear): { globalKwhM2: number; meanC: number }[] {
  return MONTH_DAYS.map((days, m) => {
    let [light, air] = [0, 0];
    for (let h = 0; h < HOURS; h++)
      if (monthOfHour[h] === m) {
        light += year.global[h];
        air += year.ambientC[h];
      }
    return { globalKwhM2: light / 1000 / days, meanC: air / days / 24 };
  });
}
