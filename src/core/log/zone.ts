import { tabled } from "../numeric/table";

/**
 * Wall-clock time of a site to instants and back, with daylight-saving gaps and repeats.
 * A zone is an IANA name (`Europe/Zurich`) or a fixed offset (`UTC`, `UTC+01:00`).
 */
export type LocalResolution =
  | { kind: "single"; utcMs: number }
  /** The hour shown twice when clocks go back: both instants, earlier first. */
  | { kind: "repeated"; utcMs: [number, number] }
  /** The hour skipped when clocks go forward: this time never was. */
  | { kind: "skipped" };

const HOUR = 3600000;
const DAY = 24 * HOUR;
/** No clock on earth is further from UTC than 14 hours. */
const FIXED = /^UTC(?:([+\-−])(0?\d|1[0-4])(?::?([0-5]\d))?)?$/i;

const formatterOf = tabled(
  (zone: string) =>
    new Intl.DateTimeFormat("en-GB", {
      timeZone: zone,
      hourCycle: "h23",
      year: "numeric",
      month: "2-digit",
      day: "2-digit",
      hour: "2-digit",
      minute: "2-digit",
      second: "2-digit",
    }),
);
// Zones change offset at whole quarter hours, so the offset is constant within one.
const quartersOf = tabled((zone: string) => tabled((quarter: number) => computeOffset(quarter * (HOUR / 4), zone)));

/** True when the text names a zone this computer knows. */
export function isZone(zone: string): boolean {
  // No zone has a longer name.
  if (zone.length > 64) return false;
  if (FIXED.test(zone)) return true;
  try {
    formatterOf(zone);
    return true;
  } catch {
    return false;
  }
}

function computeOffset(utcMs: number, zone: string): number {
  const parts: Record<string, number> = {};
  for (const { type, value } of formatterOf(zone).formatToParts(utcMs)) parts[type] = Number(value);
  const wall = Date.UTC(parts.year, parts.month - 1, parts.day, parts.hour, parts.minute, parts.second);
  return wall - Math.floor(utcMs / 1000) * 1000;
}

/** Offset of the zone from UTC at an instant, ms (east positive). Throws RangeError for an unknown zone. @example zoneOffset(Date.UTC(2026, 6, 1), "Europe/Zurich") // 7200000 */
export function zoneOffset(utcMs: number, zone: string): number {
  const fixed = FIXED.exec(zone);
  if (fixed) {
    const sign = fixed[1] === "-" || fixed[1] === "−" ? -1 : 1;
    return sign * (Number(fixed[2] ?? 0) * 60 + Number(fixed[3] ?? 0)) * 60000;
  }
  return quartersOf(zone)(Math.floor(utcMs / (HOUR / 4)));
}

/** Wall clock of the zone, written as if it were UTC ms. */
export const toWall = (utcMs: number, zone: string): number => utcMs + zoneOffset(utcMs, zone);

/** Instant(s) at which the zone's wall clock shows `wallMs` (as if UTC). */
export function fromWall(wallMs: number, zone: string): LocalResolution {
  const before = zoneOffset(wallMs - DAY, zone);
  const after = zoneOffset(wallMs + DAY, zone);
  if (before === after && zoneOffset(wallMs - before, zone) === before)
    return { kind: "single", utcMs: wallMs - before };
  const instants = [...new Set([before, after])]
    .map((offset) => wallMs - offset)
    .filter((utc) => toWall(utc, zone) === wallMs)
    .sort((a, b) => a - b);
  if (instants.length === 2) return { kind: "repeated", utcMs: [instants[0], instants[1]] };
  return instants.length === 1 ? { kind: "single", utcMs: instants[0] } : { kind: "skipped" };
}

/** First instant of the zone's calendar day that contains `utcMs`. */
export function startOfDay(utcMs: number, zone: string): number {
  const wall = toWall(utcMs, zone);
  const midnight = fromWall(Math.floor(wall / DAY) * DAY, zone);
  if (midnight.kind === "single") return midnight.utcMs;
  // Where midnight itself is skipped or repeated, the day starts at the change.
  return midnight.kind === "repeated" ? midnight.utcMs[0] : utcMs - (wall % DAY) + HOUR;
}

/** Calendar day in the zone. @example localDay(Date.UTC(2026, 9, 5, 23), "Europe/Zurich") // "2026-10-06" */
export const localDay = (utcMs: number, zone: string): string =>
  new Date(toWall(utcMs, zone)).toISOString().slice(0, 10);

/** The instant at which the zone's clock shows so many minutes after midnight on a day; of two, the first, and of none, as long after midnight as the clock ran. @param dayStartMs start of the day */
export function atMinute(dayStartMs: number, minute: number, zone: string): number {
  const local = fromWall(Math.floor(toWall(dayStartMs, zone) / DAY) * DAY + minute * 60000, zone);
  if (local.kind === "single") return local.utcMs;
  return local.kind === "repeated" ? local.utcMs[0] : dayStartMs + minute * 60000;
}
