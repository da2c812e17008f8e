import { toWall } from "../core/log/zone";

/** How moments are written: always on the clock of the site they belong to. */
const in24 = { hour: "2-digit", minute: "2-digit" } as const;
// On the zone's wall clock, written as UTC: a fixed offset such as UTC+01:00 is a zone here, and none for the platform.
const text = (ms: number, zone: string, options: Intl.DateTimeFormatOptions): string =>
  new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", ...options }).format(toWall(ms, zone));

/** Day and time of day at a site: `6 Oct, 12:40`. */
export const clock = (ms: number, zone: string): string => text(ms, zone, { day: "numeric", month: "short", ...in24 });

/** The same with its year: `6 Oct 2026, 12:40`. */
export const dated = (ms: number, zone: string): string =>
  text(ms, zone, { day: "numeric", month: "short", year: "numeric", ...in24 });

/** To the second: `6 Oct 2026, 12:40:10`. */
export const exact = (ms: number, zone: string): string => text(ms, zone, { dateStyle: "medium", timeStyle: "medium" });

/** Time of day at a site: `12:40`. */
export const timeOfDay = (ms: number, zone: string): string => text(ms, zone, in24);

/** Day of a moment at a site: `6 Oct 2026`. */
export const dayOf = (ms: number, zone: string): string =>
  text(ms, zone, { day: "numeric", month: "short", year: "numeric" });

/** `Tue 6 Oct`, or with `long` names `Tuesday 6 October`, at a site. */
export const weekdayOf = (ms: number, zone: string, month: "short" | "long" = "short", weekday = month): string =>
  text(ms, zone, { weekday, day: "numeric", month });

/** `Tue 6 Oct`. @param date `2026-10-06` */
export const dayText = (date: string): string => weekdayOf(Date.parse(`${date}T12:00:00Z`), "UTC");
