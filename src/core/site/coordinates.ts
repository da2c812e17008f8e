import { zoneOffset } from "../log/zone";

export type CoordinateProblem =
  | { kind: "empty" }
  | { kind: "notUnderstood"; text: string }
  | { kind: "oneOnly"; text: string }
  | { kind: "outOfRange"; which: "latitude" | "longitude"; value: number; swapHelps: boolean }
  | { kind: "sixty"; text: string };

export type ParsedCoordinates =
  { ok: true; latitude: number; longitude: number } | { ok: false; problem: CoordinateProblem };

/** No place is written longer, words and all. */
const LONGEST = 200;

interface Angle {
  degrees: number;
  /** Axis named by a letter, when there was one. */
  axis: "latitude" | "longitude" | null;
}

/**
 * A place on the globe as people write it: `46.31, 9.05` · `46,31 9,05` · `46.31° N, 9.05° E` · `46°18'36"N 9°3'0"E` ·
 * `N46 18.6 E009 03.0` · `geo:46.31,9.05` · `9.05 E 46.31 N`. Without letters the first number is the latitude.
 *
 * @example parseCoordinates(`46°18'36"N 9°3'E`) // { ok: true, latitude: 46.31, longitude: 9.05 }
 */
export function parseCoordinates(text: string): ParsedCoordinates {
  const given = text.trim();
  if (given.length > LONGEST)
    return { ok: false, problem: { kind: "notUnderstood", text: `${given.slice(0, LONGEST)}…` } };
  const plain = given
    .replace(/^geo:/i, "")
    .replace(/;[a-z]+=.*$/i, "")
    .replace(/[−–]/g, "-");
  if (!plain) return { ok: false, problem: { kind: "empty" } };
  const parts = split(plain);
  if (parts === null) return { ok: false, problem: { kind: "notUnderstood", text: text.trim() } };
  if (parts.length === 1) return { ok: false, problem: { kind: "oneOnly", text: text.trim() } };
  const angles = parts.map(readAngle);
  for (const a of angles) if ("problem" in a) return { ok: false, problem: a.problem };
  const [first, second] = angles as [Angle, Angle];
  if (first.axis && first.axis === second.axis)
    return { ok: false, problem: { kind: "notUnderstood", text: text.trim() } };
  const reversed = first.axis === "longitude" || second.axis === "latitude";
  const latitude = (reversed ? second : first).degrees;
  const longitude = (reversed ? first : second).degrees;
  if (Math.abs(latitude) > 90)
    return {
      ok: false,
      problem: {
        kind: "outOfRange",
        which: "latitude",
        value: latitude,
        swapHelps: !first.axis && !second.axis && Math.abs(longitude) <= 90 && Math.abs(latitude) <= 180,
      },
    };
  if (Math.abs(longitude) > 180)
    return { ok: false, problem: { kind: "outOfRange", which: "longitude", value: longitude, swapHelps: false } };
  return { ok: true, latitude, longitude };
}

/** The two angles as text, or what there is of them. null when there are more than two or letters that mean nothing here. */
function split(text: string): string[] | null {
  if (
    /[a-z]/i.test(
      text
        .replace(/\b(?:north|south|east|west|lat(?:itude)?|lon(?:g(?:itude)?)?|deg(?:rees)?|min|sec)\b/gi, "")
        .replace(/[nsewod]/gi, ""),
    )
  )
    return null;
  const words = text
    .replace(/\b(?:lat(?:itude)?|lon(?:g(?:itude)?)?)\b[\s:=]*/gi, " ")
    .replace(/\b(north|south|east|west)\b/gi, (w) => w[0].toUpperCase())
    .replace(/\bdeg(?:rees)?\b|º|d(?=\s|\d)/gi, "°")
    .replace(/\bmin\b|[′’]/gi, "'")
    .replace(/\bsec\b|[″”“]|''/gi, '"')
    .trim();
  // Letters say where one angle ends: before them (46 N 9 E) or after (N46 E9).
  const letters = [...words.matchAll(/[nsewo]/gi)];
  if (letters.length === 2) {
    const leading = letters[0].index === 0;
    const cut = leading ? letters[1].index : letters[0].index + 1;
    return [words.slice(0, cut), words.slice(cut)].map((s) => s.replace(/^[\s,;/]+|[\s,;/]+$/g, ""));
  }
  if (letters.length > 0) return letters.length === 1 ? [words] : null;
  const semicolon = words.split(/\s*[;/\t]\s*/).filter(Boolean);
  if (semicolon.length === 2) return semicolon;
  const spaced = words.split(/\s+/).filter(Boolean);
  const comma = words.split(/\s*,\s*/).filter(Boolean);
  // `46,31 9,05` and `46,31, 9,05` have decimal commas; `46.31,9.05` has not.
  if (spaced.length === 2) return spaced.map((s) => s.replace(/,$/, ""));
  if (
    comma.length === 2 &&
    (/\./.test(words) || /,\s/.test(words) || /°/.test(words) || comma.every((c) => /^-?\d+$/.test(c)))
  )
    return comma;
  if (comma.length === 4 && comma.every((c) => /^-?\d+$/.test(c)))
    return [`${comma[0]}.${comma[1]}`, `${comma[2]}.${comma[3]}`];
  if (spaced.length === 4 || spaced.length === 6)
    return [spaced.slice(0, spaced.length / 2).join(" "), spaced.slice(spaced.length / 2).join(" ")].map((s) =>
      s.replace(/,$/, ""),
    );
  return spaced.length <= 1 ? [words] : null;
}

/** Degrees, minutes, seconds: one to three numbers, a sign before the first. */
const ANGLE = /^[+-]?\s*(?:\d+\.?\d*|\.\d+)(?:[°'"\s]+(?:\d+\.?\d*|\.\d+)){0,2}[°'"\s,]*$/;

const axisOf = (letter: string) => ("NS".includes(letter) ? ("latitude" as const) : ("longitude" as const));

function readAngle(text: string): Angle | { problem: CoordinateProblem } {
  const letter = /[nsewo]/i.exec(text)?.[0].toUpperCase() ?? null;
  const axis = letter === null ? null : axisOf(letter);
  // One sign at most, before the first number, and something between numbers: "-0+.01" was run together by somebody.
  const plain = text
    .replace(/(\d),(\d)/g, "$1.$2")
    .replace(/[nsewo]/i, " ")
    .trim();
  if (!ANGLE.test(plain)) return { problem: { kind: "notUnderstood", text: text.trim() } };
  const numbers = [...plain.matchAll(/\d+\.?\d*|\.\d+/g)].map((m) => Number(m[0]));
  const [degrees, minutes = 0, seconds = 0] = numbers;
  if (numbers.slice(1).some((n) => n >= 60)) return { problem: { kind: "sixty", text: text.trim() } };
  const negative = /^\s*[nsewo]?\s*-/i.test(text) || letter === "S" || letter === "W";
  const size = degrees + minutes / 60 + seconds / 3600;
  return { degrees: negative ? -size : size, axis };
}

/**
 * True when the place as written lies far from its clock and its mirror image would not: latitude and longitude were
 * probably exchanged. A zone may be political, so only 2 h or more count as far. Summer time does not count.
 *
 * @param atMs any instant of the year whose clocks are meant
 */
export function swapSuspected(latitude: number, longitude: number, zone: string, atMs: number): boolean {
  if (Math.abs(longitude) > 90) return false;
  const year = new Date(atMs).getUTCFullYear();
  const clock = Math.min(...[0, 6].map((month) => zoneOffset(Date.UTC(year, month, 1), zone))) / 3600000;
  const apart = (degrees: number) => Math.abs(((degrees / 15 - clock + 36) % 24) - 12);
  return apart(longitude) >= 2 && apart(latitude) < 1.5 && Math.abs(longitude - latitude) > 15;
}

/** `46° 18′ 36″ N, 9° 3′ 0″ E`, to the second (31 m of latitude). */
export function formatCoordinates(latitude: number, longitude: number): string {
  const one = (value: number, letters: string) => {
    const total = Math.round(Math.abs(value) * 3600);
    return `${Math.floor(total / 3600)}° ${Math.floor((total % 3600) / 60)}′ ${total % 60}″ ${letters[value < 0 ? 1 : 0]}`;
  };
  return `${one(latitude, "NS")}, ${one(longitude, "EW")}`;
}

/** Great-circle distance, km (haversine, on a sphere of 6,371 km: within 0.6 %). Degrees in. */
export function distanceKm(
  a: { latitude: number; longitude: number },
  b: { latitude: number; longitude: number },
): number {
  const rad = Math.PI / 180;
  const h =
    Math.sin(((b.latitude - a.latitude) * rad) / 2) ** 2 +
    Math.cos(a.latitude * rad) * Math.cos(b.latitude * rad) * Math.sin(((b.longitude - a.longitude) * rad) / 2) ** 2;
  return 2 * 6371 * Math.asin(Math.sqrt(Math.min(1, h)));
}
