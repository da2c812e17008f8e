import { startOfDay } from "../log/zone";
import { sunPosition, type Place } from "./position";

/**
 * Altitude, as {@link sunPosition} gives it, at which the upper limb touches a flat horizon. Almanacs take the sun's middle to stand
 * 50′ below (34′ refraction, 16′ radius; Meeus ch. 15); the position's refraction does not grow below the horizon and is 29.06′ there.
 */
const LIMB = (29.06 - 50) / 60;
const STEP = 10 * 60000;

export interface SunDay {
  /** First and last instant of the zone's calendar day. */
  startMs: number;
  endMs: number;
  /** null when the sun does not cross the horizon that way on this day. */
  riseMs: number | null;
  setMs: number | null;
  /** Highest sun of the day. */
  noonMs: number;
  noonAltitude: number;
  kind: "rises" | "polarDay" | "polarNight";
}

/** First instant of the next calendar day: 23, 24 or 25 h on, as the clocks say. */
export const nextDay = (startMs: number, zone: string): number =>
  startOfDay(startOfDay(startMs, zone) + 36 * 3600000, zone);

/** Rise, noon and set over a flat horizon on the calendar day of an instant; to about a second of almanac times, which refraction of the day moves by half a minute and more. Throws RangeError for a zone nobody knows. */
export function sunDay(atMs: number, place: Place, zone: string): SunDay {
  const startMs = startOfDay(atMs, zone);
  const endMs = nextDay(startMs, zone);
  const altitude = (ms: number) => sunPosition(ms, place).altitude - LIMB;
  let riseMs: number | null = null;
  let setMs: number | null = null;
  let noonMs = startMs;
  let noon = -Infinity;
  for (let t = startMs; t < endMs; t += STEP) {
    const h = altitude(t);
    const next = altitude(Math.min(endMs, t + STEP));
    if (h > noon) [noon, noonMs] = [h, t];
    if (h < 0 && next >= 0) riseMs = crossing(altitude, t, Math.min(endMs, t + STEP));
    if (h >= 0 && next < 0) setMs = crossing(altitude, t, Math.min(endMs, t + STEP));
  }
  // The top is flat: golden section between the neighbours of the highest sample.
  let [a, b] = [noonMs - STEP, noonMs + STEP];
  for (let i = 0; i < 30; i++) {
    const third = (b - a) / 3;
    if (altitude(a + third) > altitude(b - third)) b -= third;
    else a += third;
  }
  noonMs = Math.max(startMs, Math.min(endMs, Math.round((a + b) / 2)));
  const polar = noon > 0 ? "polarDay" : "polarNight";
  return {
    startMs,
    endMs,
    riseMs,
    setMs,
    noonMs,
    noonAltitude: altitude(noonMs) + LIMB,
    kind: riseMs !== null || setMs !== null ? "rises" : polar,
  };
}

function crossing(f: (t: number) => number, from: number, to: number): number {
  let [a, b] = [from, to];
  const rising = f(a) < 0;
  while (b - a > 500) {
    const middle = (a + b) / 2;
    if (f(middle) < 0 === rising) a = middle;
    else b = middle;
  }
  return Math.round((a + b) / 2);
}
