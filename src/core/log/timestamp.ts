import { trimBlanks } from "./cell";
import { fromWall } from "./zone";

/** How a file writes time. */
export type TimeFormat =
  | { kind: "calendar"; order: "ymd" | "dmy" | "mdy" }
  | { kind: "unix"; unit: "s" | "ms" }
  /** Time since the start of the file; `startMs` is the instant of zero. */
  | { kind: "elapsed"; unit: "s" | "min" | "h"; startMs: number };

export type ParsedTime =
  /** `pattern` names how it was written, as far as that decides what it means: a file keeps to one. */
  | { ok: true; utcMs: number; pattern: string; repeated?: [number, number] }
  | { ok: false; reason: "unreadable" | "noSuchDate" | "skippedHour" };

/** No time is longer; what is longer is not looked at. */
const LONGEST = 64;
/** A date of three numbers with one mark between them, a weekday before it if need be. */
const DATE = /^(?:\p{L}{2,10}\.?,? {1,2})?(\d{4}|\d{1,2})( ?[-/.] ?| )(\d{1,2})\2(\d{4}|\d{1,2})(?:,? {1,4}|T|$)/u;
/** What follows it, from its first to its last character. */
const CLOCK =
  /^(?<hour>\d{1,2})(?:[:h](?<minute>\d{1,2})|\.(?<dotted>\d{2}))(?:[:.](?<second>\d{1,2})(?:[.,](?<fraction>\d{1,9})|:(?<milli>\d{3}))?)? {0,2}(?:(?<half>[ap])\.?m\.? {0,2})?(?<zone>z|(?:utc|gmt)(?:[+\-−]\d{1,2}(?::?\d{2})?)?|[+\-−]\d{2}(?::?\d{2})?)?$/iu;
const OFFSET = /([+\-−])(\d{1,2}):?(\d{2})?$/;
const ELAPSED = /^[+\-−]?\d{1,15}(?:[.,]\d{0,9})?(?:e[+-]?\d{1,2})?$/i;
const COMPACT = /^(\d{4})(\d{2})(\d{2})[T ]?(\d{2})(\d{2})(\d{2})?$/;
/** Year, month and day of three numbers in the order they are written. */
const IN_ORDER = {
  ymd: (a: number, b: number, c: number) => [a, b, c],
  dmy: (a: number, b: number, c: number) => [c, b, a],
  mdy: (a: number, b: number, c: number) => [c, a, b],
};
const LAST_INSTANT = 8.64e15;
const UNIT_MS = { s: 1000, min: 60000, h: 3600000 } as const;

/**
 * Reads a column of times quickly. Rows of a log share their day, so the day is understood once and the clock behind it
 * read digit by digit; whatever does not fit (another layout, a day on which clocks change) goes the full way.
 */
export class TimestampReader {
  private prefix = "";
  private pattern = "";
  private midnightUtc = 0;

  constructor(
    private readonly format: TimeFormat,
    private readonly zone: string,
  ) {}

  /** The instant at a place in the text, when it is of the day and the layout read last; NaN for every other, which `read` then looks at. */
  quickAt(text: string, from: number, to: number): number {
    const { prefix } = this;
    if (prefix === "" || to - from !== prefix.length + 8 || !text.startsWith(prefix, from)) return NaN;
    const clock = clockMs(text, from + prefix.length);
    return clock >= 0 ? this.midnightUtc + clock : NaN;
  }

  /** How the times that `quickAt` reads are written. */
  get quickPattern(): string {
    return this.pattern;
  }

  read(text: string): ParsedTime {
    const n = text.length;
    const quick = this.quickAt(text, 0, n);
    if (!Number.isNaN(quick)) return { ok: true, utcMs: quick, pattern: this.pattern };
    const full = parseTimestamp(text, this.format, this.zone);
    if (full.ok && this.format.kind === "calendar" && n > 16 && /[ T]$/.test(text.slice(0, n - 8)))
      this.remember(text.slice(0, n - 8));
    return full;
  }

  private remember(prefix: string): void {
    const at = (clock: string) => parseTimestamp(prefix + clock, this.format, this.zone);
    const [first, noon, last] = [at("00:00:00"), at("12:00:00"), at("23:59:59")];
    const plain =
      first.ok &&
      noon.ok &&
      last.ok &&
      !first.repeated &&
      last.utcMs - first.utcMs === 86399000 &&
      noon.utcMs - first.utcMs === 43200000;
    this.prefix = plain ? prefix : "";
    if (!plain) return;
    this.midnightUtc = first.utcMs;
    this.pattern = first.pattern;
  }
}

/** `hh:mm:ss` at a place in the text, ms since midnight; −1 when it is not written so. */
function clockMs(text: string, at: number): number {
  if (text.charCodeAt(at + 2) !== 58 || text.charCodeAt(at + 5) !== 58) return -1;
  const two = (i: number) => {
    const tens = text.charCodeAt(i) - 48;
    const ones = text.charCodeAt(i + 1) - 48;
    return tens >= 0 && tens <= 9 && ones >= 0 && ones <= 9 ? tens * 10 + ones : NaN;
  };
  const [h, m, s] = [two(at), two(at + 3), two(at + 6)];
  return h < 24 && m < 60 && s < 60 ? ((h * 60 + m) * 60 + s) * 1000 : -1;
}

type Three = [number, number, number];

/** The three numbers of a date in the order written, and what follows them; null when it is no date. */
function splitDate(text: string): { numbers: Three; digits: Three; mark: string; rest: string } | null {
  const bare = trimBlanks(text);
  if (bare.length > LONGEST) return null;
  const trimmed = bare.replace(/^"(.*)"$/, "$1").replace(/[\t\u00a0\u2009\u202f]/g, " ");
  const compact = COMPACT.exec(trimmed);
  if (compact) {
    const [, y, mo, d, h, mi, s = "00"] = compact;
    return { numbers: [Number(y), Number(mo), Number(d)], digits: [4, 2, 2], mark: "", rest: `${h}:${mi}:${s}` };
  }
  const match = DATE.exec(trimmed);
  return (
    match && {
      numbers: [Number(match[1]), Number(match[3]), Number(match[4])],
      digits: [match[1].length, match[3].length, match[4].length],
      mark: match[2].trim(),
      rest: trimBlanks(trimmed.slice(match[0].length)),
    }
  );
}

/**
 * The instant a time cell means.
 *
 * @param text date and time, or Unix or elapsed number; a separate time column is appended with a space
 * @param zone zone of the logger's clock, used unless the text carries its own offset
 */
export function parseTimestamp(text: string, format: TimeFormat, zone: string): ParsedTime {
  const unreadable: ParsedTime = { ok: false, reason: "unreadable" };
  if (format.kind !== "calendar") {
    const trimmed = trimBlanks(text);
    if (!ELAPSED.test(trimmed)) return unreadable;
    const number = Number(trimmed.replace(",", ".").replace("−", "-"));
    const utcMs =
      format.kind === "elapsed"
        ? Math.round(format.startMs + number * UNIT_MS[format.unit])
        : Math.round(format.unit === "s" ? number * 1000 : number);
    // Beyond what a date can hold there is no such instant (ECMA-262, 8.64e15 ms).
    return Math.abs(utcMs) <= LAST_INSTANT
      ? { ok: true, utcMs, pattern: format.kind }
      : { ok: false, reason: "noSuchDate" };
  }
  const date = splitDate(text);
  if (!date) return unreadable;
  const [a, b, c] = date.numbers;
  // A four-digit first number can only be a year, whatever order the rest of the file uses.
  const order = a > 31 ? "ymd" : format.order;
  const [year, month, day] = IN_ORDER[order](a, b, c);
  // A year is written with two digits or four: `1-2-3` is no date.
  const digits = date.digits[order === "ymd" ? 0 : 2];
  if (digits < 2) return unreadable;
  const clock = date.rest === "" ? {} : CLOCK.exec(date.rest)?.groups;
  // A date with something behind it that is no time of day would be midnight without a word.
  if (!clock) return unreadable;
  let hour = Number(clock.hour ?? 0);
  if (clock.half) {
    if (hour < 1 || hour > 12) return { ok: false, reason: "noSuchDate" };
    hour = (hour % 12) + (clock.half.toLowerCase() === "p" ? 12 : 0);
  }
  const minute = Number(clock.minute ?? clock.dotted ?? 0);
  const second = Number(clock.second ?? 0);
  const milli = clock.milli ? Number(clock.milli) : Math.round(Number(`0.${clock.fraction ?? 0}`) * 1000);
  const fullYear = digits === 2 ? 2000 + year : year;
  const wall = Date.UTC(fullYear, month - 1, day, hour, minute, second) + milli;
  const back = new Date(Date.UTC(fullYear, month - 1, day));
  const late = hour > 24 || minute > 59 || second > 60 || (hour === 24 && (minute > 0 || second > 0));
  if (fullYear < 1000 || back.getUTCMonth() !== month - 1 || back.getUTCDate() !== day || late)
    return { ok: false, reason: "noSuchDate" };
  const hours = clock.half ? "12" : "24";
  const pattern = [order, date.mark, digits, date.rest && hours, clock.zone ? "offset" : ""].join(" ");
  if (clock.zone) return { ok: true, utcMs: wall - offsetMs(clock.zone), pattern };
  const local = fromWall(wall, zone);
  if (local.kind === "skipped") return { ok: false, reason: "skippedHour" };
  if (local.kind === "repeated") return { ok: true, utcMs: local.utcMs[0], pattern, repeated: local.utcMs };
  return { ok: true, utcMs: local.utcMs, pattern };
}

/** Offset written behind a time: `Z`, `+05:30`, `UTC+1`. */
function offsetMs(zone: string): number {
  const [, sign, hours = "0", minutes = "0"] = OFFSET.exec(zone) ?? [];
  return (sign && sign !== "+" ? -1 : 1) * (Number(hours) * 60 + Number(minutes)) * 60000;
}

export interface TimeGuess {
  format: TimeFormat;
  /** Both day-first and month-first fit every date seen: a person must say which. */
  ambiguous: boolean;
}

/** A few spoilt cells must not hide how the rest is written. */
const MOST = 0.9;

/** How these samples write time, or null when they do not look like time. */
export function guessTimeFormat(samples: readonly string[], header = ""): TimeGuess | null {
  const filled = samples.map((s) => s.trim()).filter(Boolean);
  if (filled.length === 0) return null;
  const most = <T>(items: readonly T[], test: (item: T) => boolean) =>
    items.filter(test).length >= MOST * filled.length;
  const numbers = filled.map((s) => (/^\d+(?:[.,]\d+)?$/.test(s) ? Number(s.replace(",", ".")) : NaN));
  if (most(numbers, (n) => n > 8e8 && n < 5e9)) return { format: { kind: "unix", unit: "s" }, ambiguous: false };
  if (most(numbers, (n) => n > 8e11 && n < 5e12)) return { format: { kind: "unix", unit: "ms" }, ambiguous: false };
  const dates = filled.map(splitDate).flatMap((d) => (d ? [d.numbers] : []));
  if (dates.length >= MOST * filled.length) return guessDateOrder(filled, dates, most);
  const rising = numbers.length > 2 && numbers.every((n, i) => Number.isFinite(n) && (i === 0 || n > numbers[i - 1]));
  if (rising && numbers[0] < 1e7 && /time|elapsed|sec|min|zeit|^t$|\bt\b/i.test(header)) {
    const hours = /\bh(ours?)?\b/i.test(header) ? "h" : "s";
    const unit = /\bmin/i.test(header) ? "min" : hours;
    return { format: { kind: "elapsed", unit, startMs: NaN }, ambiguous: false };
  }
  return null;
}

function guessDateOrder(
  filled: readonly string[],
  dates: readonly [number, number, number][],
  most: <T>(items: readonly T[], test: (item: T) => boolean) => boolean,
): TimeGuess | null {
  const ordered = (order: "ymd" | "dmy" | "mdy", ambiguous = false): TimeGuess => ({
    format: { kind: "calendar", order },
    ambiguous,
  });
  const day = (n: number) => n >= 1 && n <= 31;
  const month = (n: number) => n >= 1 && n <= 12;
  if (most(dates, ([a, b, c]) => a > 31 && month(b) && day(c))) return ordered("ymd");
  const dayFirst = most(dates, ([a, b]) => day(a) && month(b));
  const monthFirst = most(dates, ([a, b]) => month(a) && day(b));
  if (dayFirst && monthFirst) {
    // A tenth of the rows may be spoilt, but a 13 in one place only is more likely a date than a fault.
    const onlyDay = dates.some(([a, b]) => a > 12 && day(a) && month(b));
    const onlyMonth = dates.some(([a, b]) => b > 12 && day(b) && month(a));
    if (onlyDay !== onlyMonth) return ordered(onlyDay ? "dmy" : "mdy");
    // Points between the numbers are written only where the day comes first; 06/06 reads alike both ways.
    const points = most(filled, (s) => /^\D*\d{1,2}\.\d{1,2}\.\d{2,4}/.test(s));
    return ordered("dmy", !points && !dates.every(([a, b]) => a === b));
  }
  if (dayFirst) return ordered("dmy");
  return monthFirst ? ordered("mdy") : null;
}
