import { parseNumber } from "../quantity/parseQuantity";
import { clearSky } from "../sun/clearSky";
import type { Place } from "../sun/position";

/** A month of an average year. */
export interface ClimateMonth {
  /** Mean daily irradiation on the horizontal, kWh/m². */
  globalKwhM2: number;
  meanC: number;
  /** Mean wind speed, m/s; null when not known. */
  windMs: number | null;
  /** Share of days clear enough to test, 0 to 1, when counted from hours; null: by Ångström's line. */
  clearShare: number | null;
}

export interface Climate {
  name: string;
  /** January first. */
  months: readonly ClimateMonth[];
  /** Where it comes from and what may be done with it. */
  source: string;
}

/** Ångström's (1924) line H/H_clear = 0.25 + 0.75·S: share of light under an overcast sky. */
const OVERCAST = 0.25;
const HOUR = 3600000;

/** Clear-sky irradiation of the horizontal on a day, kWh/m², in steps of 10 minutes. @param dayMs start of the day, UTC ms */
export function clearDayKwh(dayMs: number, place: Place, turbidity: number): number {
  let sum = 0;
  for (let t = 5; t < 24 * 60; t += 10) sum += clearSky(dayMs + t * 60000, place, turbidity).global / 6;
  return sum / 1000;
}

/** Middle of a month: the day that stands for it (Klein 1977 names days within five of it). */
export const middleOfMonth = (year: number, month: number): number => Date.UTC(year, month, 15);

/**
 * Chance that a day of the month is clear, 0 to 1: as counted, else the month's share of sunshine by Ångström (1924) from
 * its irradiation over that of clear days. 0 in polar night.
 */
export function clearShareOf(climate: Climate, month: number, place: Place, turbidity: number): number {
  const { clearShare, globalKwhM2 } = climate.months[month];
  if (clearShare !== null) return clearShare;
  const offset = (place.longitude / 15) * HOUR;
  const clear = clearDayKwh(middleOfMonth(2026, month) - offset, place, turbidity);
  if (clear < 0.05) return 0;
  return Math.max(0, Math.min(1, (globalKwhM2 / clear - OVERCAST) / (1 - OVERCAST)));
}

export type ClimateProblem =
  | { kind: "columns"; found: string[] }
  | { kind: "notANumber"; line: number; column: string; text: string }
  | { kind: "months"; found: number[] }
  | { kind: "range"; line: number; column: string; value: number; from: number; to: number }
  | { kind: "tooSunny"; month: number; value: number; clear: number };

const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
const COLUMNS: { key: keyof ClimateMonth; names: RegExp; range: [number, number] }[] = [
  { key: "globalKwhM2", names: /^(?:global|irradiation|ghi|sun|h\b)/i, range: [0, 14] },
  { key: "meanC", names: /^(?:mean|temp|ambient|air|t\b)/i, range: [-60, 50] },
  { key: "windMs", names: /^wind/i, range: [0, 40] },
  { key: "clearShare", names: /^clear/i, range: [0, 1] },
];

/**
 * Monthly climate from CSV: a heading with `month`, `global` (kWh/m² and day; Wh or MJ when the heading says so), `mean` temperature in °C,
 * and if known `wind` in m/s and `clear` share. Months as 1 to 12 or names; decimal comma with semicolons.
 * @param place and turbidity check that no month has more sun than its clear sky gives
 */
export function parseClimateCsv(
  text: string,
  name: string,
  check?: { place: Place; turbidity: readonly number[] },
): { ok: true; climate: Climate } | { ok: false; problem: ClimateProblem } {
  const lines = text
    .replace(/^\uFEFF/, "")
    .split(/\r?\n/)
    .map((l, i) => ({ line: i + 1, text: l.trim() }))
    .filter((l) => l.text && !l.text.startsWith("#"));
  const source = /^#\s*source:\s*(.*)$/im.exec(text)?.[1].trim() ?? "";
  const separator = [";", "\t"].find((mark) => lines[0]?.text.includes(mark)) ?? ",";
  const cells = (l: string) => l.split(separator).map((c) => c.trim().replace(/^"(.*)"$/, "$1"));
  const heading = cells(lines[0]?.text ?? "");
  const at = (names: RegExp) => heading.findIndex((h) => names.test(h));
  const where = COLUMNS.map((c) => ({ ...c, index: at(c.names) }));
  const monthAt = at(/^(?:month|mon\b|m\b)/i);
  if (monthAt < 0 || where[0].index < 0 || where[1].index < 0)
    return { ok: false, problem: { kind: "columns", found: heading } };
  const head = heading[where[0].index];
  const wattHours = /(?:^|[^k])Wh/.test(head) ? 0.001 : 1;
  const perUnit = /\bMJ/.test(head) ? 1 / 3.6 : wattHours;
  const months: (ClimateMonth | undefined)[] = Array(12).fill(undefined);
  for (const { line, text: row } of lines.slice(1)) {
    const c = cells(row);
    const word = (c[monthAt] ?? "").toLowerCase();
    const month = /^\d+$/.test(word) ? Number(word) - 1 : MONTHS.findIndex((m) => word.startsWith(m));
    if (month < 0 || month > 11)
      return { ok: false, problem: { kind: "notANumber", line, column: heading[monthAt], text: c[monthAt] ?? "" } };
    const out: ClimateMonth = { globalKwhM2: NaN, meanC: NaN, windMs: null, clearShare: null };
    for (const { key, index, range } of where) {
      if (index < 0 || (key !== "globalKwhM2" && key !== "meanC" && !c[index])) continue;
      const read = parseNumber(c[index] ?? "", separator === ";");
      if (!read.ok || read.rest.trim())
        return { ok: false, problem: { kind: "notANumber", line, column: heading[index], text: c[index] ?? "" } };
      const value = key === "globalKwhM2" ? read.value * perUnit : read.value;
      if (value < range[0] || value > range[1])
        return {
          ok: false,
          problem: { kind: "range", line, column: heading[index], value, from: range[0], to: range[1] },
        };
      out[key] = value;
    }
    months[month] = out;
  }
  const missing = months.flatMap((m, i) => (m ? [] : [i + 1]));
  if (missing.length) return { ok: false, problem: { kind: "months", found: missing } };
  const climate: Climate = { name, months: months as ClimateMonth[], source };
  if (check) {
    const offset = (check.place.longitude / 15) * HOUR;
    for (const [month, m] of climate.months.entries()) {
      const clear = clearDayKwh(middleOfMonth(2026, month) - offset, check.place, Math.min(2, check.turbidity[month]));
      if (m.globalKwhM2 > clear * 1.15 + 0.3)
        return { ok: false, problem: { kind: "tooSunny", month: month + 1, value: m.globalKwhM2, clear } };
    }
  }
  return { ok: true, climate };
}

/** The CSV that {@link parseClimateCsv} reads. */
export function climateCsv(climate: Climate): string {
  const rows = climate.months.map((m, i) =>
    [i + 1, m.globalKwhM2, m.meanC, m.windMs ?? "", m.clearShare ?? ""].join(","),
  );
  return (
    [
      ...(climate.source ? [`# source: ${climate.source}`] : []),
      "month,global kWh/m2 day,mean C,wind m/s,clear share",
      ...rows,
    ].join("\r\n") + "\r\n"
  );
}
