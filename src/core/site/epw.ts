import { readCell, trimBlanks } from "../log/cell";
import type { Climate, ClimateMonth } from "./climate";

/**
 * Columns of an hourly record after year, month, day, hour, minute and flags, in the file's order: their missing marker, and
 * what is physically possible. 77777 and 88888 are ceilings without end and cirrus; visibility without end is 777.7 or more.
 */
export const EPW_FIELDS = [
  ["dryBulbC", 99.9, -90, 70],
  ["dewPointC", 99.9, -90, 70],
  ["relativeHumidity", 999, 0, 110],
  ["pressurePa", 999999, 31000, 120000],
  ["extraterrestrialHorizontal", 9999, 0, 1500],
  ["extraterrestrialNormal", 9999, 0, 1500],
  ["infraredSky", 9999, 0, 1000],
  ["globalHorizontal", 9999, 0, 1600],
  ["directNormal", 9999, 0, 1500],
  ["diffuseHorizontal", 9999, 0, 1200],
  ["globalIlluminance", 999999, 0, 250000],
  ["directIlluminance", 999999, 0, 250000],
  ["diffuseIlluminance", 999999, 0, 250000],
  ["zenithLuminance", 9999, 0, 100000],
  ["windDirection", 999, 0, 360],
  ["windSpeed", 999, 0, 80],
  ["totalSkyCover", 99, 0, 10],
  ["opaqueSkyCover", 99, 0, 10],
  ["visibilityKm", 9999, 0, 5000],
  ["ceilingM", 99999, 0, 88888],
  ["presentWeatherObservation", 9, 0, 9],
  ["presentWeatherCodes", NaN, NaN, NaN],
  ["precipitableWaterMm", 999, 0, 200],
  ["aerosolOpticalDepth", 0.999, 0, 3],
  ["snowDepthCm", 999, 0, 900],
  ["daysSinceSnow", 99, 0, 98],
  ["albedo", 999, 0, 1],
  ["rainMm", 999, 0, 500],
  ["rainHours", 99, 0, 24],
] as const;
export type EpwField = (typeof EPW_FIELDS)[number][0];

/** Heading lines, in the order of the format. */
export const EPW_HEADINGS = [
  "LOCATION",
  "DESIGN CONDITIONS",
  "TYPICAL/EXTREME PERIODS",
  "GROUND TEMPERATURES",
  "HOLIDAYS/DAYLIGHT SAVINGS",
  "COMMENTS 1",
  "COMMENTS 2",
  "DATA PERIODS",
] as const;

export interface EpwFile {
  city: string;
  region: string;
  country: string;
  dataSource: string;
  stationNumber: string;
  latitude: number;
  longitude: number;
  /** Hours east of UTC, standard time all year. */
  timeZoneH: number;
  altitudeM: number;
  /** Heading lines as they stood, the location apart: nothing of the file is lost. */
  headings: Record<Exclude<(typeof EPW_HEADINGS)[number], "LOCATION">, string>;
  /** Hour ending, as written: year, month 1–12, day, hour 1–24, minute. */
  stamps: { year: Int16Array; month: Uint8Array; day: Uint8Array; hour: Uint8Array; minute: Uint8Array };
  /** Data source and uncertainty flags, one text an hour. */
  flags: string[];
  /** One series a field; missing values are NaN. Weather codes are kept as text. */
  series: Record<Exclude<EpwField, "presentWeatherCodes">, Float64Array>;
  weatherCodes: string[];
  /** Present fields of each record: older files leave out the last ones. */
  fieldsPerRecord: number;
}

export type EpwProblem =
  | { kind: "notEpw"; firstLine: string }
  | { kind: "headingMissing"; heading: string; line: number }
  | { kind: "location"; field: string; text: string }
  | { kind: "cutShort"; records: number; lastLine: number; expected: number }
  | { kind: "fields"; line: number; found: number; expected: number }
  | { kind: "notANumber"; line: number; field: string; text: string }
  | { kind: "stamp"; line: number; text: string }
  | { kind: "order"; line: number };

/** How many values of each field were neither possible nor marked as missing. */
export type EpwSetAside = Partial<Record<EpwField, number>>;

const FIRST_DATA = 6;
const FEWEST = 27;

/** How far each number of a place may reach from 0, in the order of the file's first heading. */
const PLACE_LIMITS = [
  ["latitude", 90],
  ["longitude", 180],
  ["timeZoneH", 14],
  ["altitudeM", 9000],
] as const;

/**
 * A typical-weather file in EPW, whole: eight heading lines and 8,760 (or 8,784) hourly records of up to 29 quantities.
 * Ends of hour are kept as written (24 is midnight). A value that cannot be is left out and counted. Source: the published description of the format, auxiliary programs' manual.
 */
export function parseEpw(
  text: string,
): { ok: true; file: EpwFile; setAside: EpwSetAside } | { ok: false; problem: EpwProblem } {
  const lines = text.replace(/^\uFEFF/, "").split(/\r?\n/);
  while (lines.length && !lines[lines.length - 1].trim()) lines.pop();
  if (!/^LOCATION,/i.test(lines[0] ?? ""))
    return { ok: false, problem: { kind: "notEpw", firstLine: (lines[0] ?? "").slice(0, 60) } };
  for (const [i, heading] of EPW_HEADINGS.entries())
    if (!(lines[i] ?? "").toUpperCase().startsWith(heading))
      return { ok: false, problem: { kind: "headingMissing", heading, line: i + 1 } };
  const location = lines[0].split(",");
  const [latitude, longitude, timeZoneH, altitudeM] = location.slice(6, 10).map(Number);
  const place = { latitude, longitude, timeZoneH, altitudeM };
  for (const [i, [field, limit]] of PLACE_LIMITS.entries())
    if (!(Math.abs(place[field]) <= limit) || location[6 + i]?.trim() === "")
      return { ok: false, problem: { kind: "location", field, text: location[6 + i] ?? "" } };

  const first = EPW_HEADINGS.length;
  const n = lines.length - first;
  const leap = lines.slice(first).some((l) => /^\d+,0?2,29,/.test(l));
  const expected = leap ? 8784 : 8760;
  if (n < expected)
    return { ok: false, problem: { kind: "cutShort", records: Math.max(0, n), lastLine: lines.length, expected } };
  const stamps = {
    year: new Int16Array(n),
    month: new Uint8Array(n),
    day: new Uint8Array(n),
    hour: new Uint8Array(n),
    minute: new Uint8Array(n),
  };
  const numeric = EPW_FIELDS.flatMap(([name, missing, low, high], column) =>
    name === "presentWeatherCodes" ? [] : [{ name, missing, low, high, column }],
  );
  const setAside: EpwSetAside = {};
  const series = Object.fromEntries(
    numeric.map(({ name }) => [name, new Float64Array(n).fill(NaN)]),
  ) as EpwFile["series"];
  const flags: string[] = [];
  const weatherCodes: string[] = [];
  const codesAt = FIRST_DATA + EPW_FIELDS.findIndex(([name]) => name === "presentWeatherCodes");
  let fieldsPerRecord = 0;
  for (let i = 0; i < n; i++) {
    const line = first + i + 1;
    const cells = lines[first + i].split(",");
    const wanted = i === 0 ? FIRST_DATA + FEWEST - 1 : FIRST_DATA + fieldsPerRecord;
    if (cells.length < wanted || (i > 0 && cells.length > wanted))
      return i > 0 && i === n - 1 && cells.length < wanted
        ? { ok: false, problem: { kind: "cutShort", records: i, lastLine: line, expected } }
        : { ok: false, problem: { kind: "fields", line, found: cells.length, expected: wanted } };
    fieldsPerRecord = cells.length - FIRST_DATA;
    const stamp = readStamp(cells);
    if (!stamp) return { ok: false, problem: { kind: "stamp", line, text: cells.slice(0, 5).join(",").slice(0, 40) } };
    [stamps.year[i], stamps.month[i], stamps.day[i], stamps.hour[i], stamps.minute[i]] = stamp;
    if (i > 0 && hourOfYear(stamps, i) <= hourOfYear(stamps, i - 1))
      return { ok: false, problem: { kind: "order", line } };
    flags.push(cells[5]);
    weatherCodes.push(cells[codesAt] ?? "");
    for (const { name, missing, low, high, column } of numeric) {
      const cell = trimBlanks(cells[FIRST_DATA + column] ?? "");
      const read = readCell(cell, ".");
      if (read.kind === "missing") continue;
      if (read.kind !== "number")
        return { ok: false, problem: { kind: "notANumber", line, field: name, text: cell.slice(0, 20) } };
      if (name !== "presentWeatherObservation" && isMarker(cell, read.value, missing)) continue;
      if (read.value >= low && read.value <= high) series[name][i] = read.value;
      else setAside[name] = (setAside[name] ?? 0) + 1;
    }
  }
  const headings = Object.fromEntries(
    EPW_HEADINGS.slice(1).map((h, i) => [h, lines[i + 1].slice(h.length + 1)]),
  ) as EpwFile["headings"];
  const [, city, region, country, dataSource, stationNumber] = location.map((c) => c.trim());
  return {
    ok: true,
    setAside,
    file: {
      city,
      region,
      country,
      dataSource,
      stationNumber,
      ...place,
      headings,
      stamps,
      flags,
      series,
      weatherCodes,
      fieldsPerRecord,
    },
  };
}

/** Year, month, day, hour and minute of a record, whole numbers of an existing day; null for anything else. */
function readStamp(cells: readonly string[]): number[] | null {
  const five = cells.slice(0, 5).map((c) => c.trim());
  if (!five.every((c) => /^\d{1,4}$/.test(c))) return null;
  const [year, month, day, hour, minute] = five.map(Number);
  // 2024 had a 29 February, which a file of mixed years may carry under any year.
  const days = month >= 1 && month <= 12 ? new Date(Date.UTC(2024, month, 0)).getUTCDate() : 0;
  return day >= 1 && day <= days && hour >= 1 && hour <= 24 && minute <= 60 ? [year, month, day, hour, minute] : null;
}

/** Written for "not known": the field's own marker and above, any row of nines, and the large negative numbers some programs write. */
const isMarker = (cell: string, value: number, missing: number): boolean =>
  value >= missing || value <= -99 || (/^-?9{2,}(?:\.9*0*)?$/.test(cell) && Math.abs(value) >= missing / 10);

const hourOfYear = (s: EpwFile["stamps"], i: number) => (s.month[i] * 31 + s.day[i]) * 24 + s.hour[i];

/** A day is clear when it brings at least this share of the hours' own clear-day sum: broken days seldom pass 0.75. */
const CLEAR_DAY = 0.8;
/** Whole days a month's mean needs. */
const FEWEST_DAYS = 20;

/**
 * Twelve months from a file's hours. A clear day is one with at least 0.8 of the sunniest day's clearness of its month (light
 * over extraterrestrial light): counted, so that Ångström's line is not needed. null when hours of light are missing.
 */
export function epwClimate(file: EpwFile): Climate | null {
  const { globalHorizontal, extraterrestrialHorizontal, dryBulbC, windSpeed } = file.series;
  const months = Array.from({ length: 12 }, (_, m) => {
    const days = new Map<number, { global: number; outside: number }>();
    let temperature = 0,
      hours = 0,
      wind = 0,
      winds = 0;
    for (let i = 0; i < globalHorizontal.length; i++) {
      if (file.stamps.month[i] !== m + 1) continue;
      const day = days.get(file.stamps.day[i]) ?? { global: 0, outside: 0 };
      day.global += globalHorizontal[i];
      day.outside += extraterrestrialHorizontal[i];
      days.set(file.stamps.day[i], day);
      if (!Number.isNaN(dryBulbC[i])) {
        temperature += dryBulbC[i];
        hours++;
      }
      if (!Number.isNaN(windSpeed[i])) {
        wind += windSpeed[i];
        winds++;
      }
    }
    // A day with an hour missing is no day's sum: the others stand for it, as long as there are enough.
    const list = [...days.values()].filter((d) => !Number.isNaN(d.global));
    if (list.length < FEWEST_DAYS) return null;
    const clearness = list.map((d) => (d.outside > 0 ? d.global / d.outside : 0));
    const best = Math.max(...clearness);
    const clear = best > 0 ? clearness.filter((c) => c >= CLEAR_DAY * best).length / list.length : 0;
    return {
      globalKwhM2: list.reduce((s, d) => s + d.global, 0) / list.length / 1000,
      meanC: temperature / hours,
      windMs: winds ? wind / winds : null,
      clearShare: Number.isNaN(best) ? null : clear,
    };
  });
  if (!months.every((m): m is ClimateMonth => m !== null && !Number.isNaN(m.meanC))) return null;
  return {
    name: [file.city, file.country].filter(Boolean).join(", ") || "Typical weather",
    months,
    source: [file.dataSource, file.headings["COMMENTS 1"]].filter(Boolean).join("; ").slice(0, 300),
  };
}
