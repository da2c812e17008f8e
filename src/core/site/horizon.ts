import { parseNumber } from "../quantity/parseQuantity";

/** One corner of the skyline: azimuth clockwise from north, 0 to 360; altitude above the horizontal, degrees. */
export interface HorizonPoint {
  azimuth: number;
  altitude: number;
}

/** Corners of the skyline by azimuth; between them it runs straight, around north too. Empty: flat and free. */
export type Horizon = readonly HorizonPoint[];

/** Height of the skyline in a direction, degrees, by straight lines between corners. @example horizonAltitude([{ azimuth: 90, altitude: 10 }, { azimuth: 110, altitude: 0 }], 100) // 5 */
export function horizonAltitude(horizon: Horizon, azimuth: number): number {
  if (horizon.length === 0) return 0;
  if (horizon.length === 1) return horizon[0].altitude;
  const a = ((azimuth % 360) + 360) % 360;
  let next = horizon.findIndex((p) => p.azimuth >= a);
  if (next === -1) next = 0;
  const after = horizon[next];
  const before = horizon[(next - 1 + horizon.length) % horizon.length];
  const span = (after.azimuth - before.azimuth + 360) % 360;
  if (span === 0) return after.altitude;
  return before.altitude + ((after.altitude - before.altitude) * ((a - before.azimuth + 360) % 360)) / span;
}

export type HorizonProblem =
  | { kind: "notTwoNumbers"; line: number; text: string }
  | { kind: "azimuthRange"; line: number; value: number }
  | { kind: "altitudeRange"; line: number; value: number }
  | { kind: "sameAzimuth"; line: number; value: number };

/**
 * A skyline typed or pasted: two numbers a line, azimuth and altitude, separated by tab, semicolon, space or comma and space.
 * Lines of words (headings) and empty lines are passed over; the first bad line ends it. Sorted by azimuth.
 */
export function parseHorizon(
  text: string,
): { ok: true; horizon: HorizonPoint[] } | { ok: false; problem: HorizonProblem } {
  const points = new Map<number, number>();
  for (const [i, raw] of text.split(/\r?\n/).entries()) {
    const line = raw.trim();
    if (!line || /^[^\d+\-−.,]/.test(line)) continue;
    const between = [/\s*[\t;]\s*/, /,?\s+/].find((mark) => mark.test(line)) ?? ",";
    const cells = line.split(between).filter(Boolean);
    const numbers = cells.map((c) => parseNumber(c.replace(/°$/, ""), true));
    if (cells.length !== 2 || numbers.some((n) => !n.ok || n.rest.trim()))
      return { ok: false, problem: { kind: "notTwoNumbers", line: i + 1, text: line.slice(0, 60) } };
    const [azimuth, altitude] = numbers.map((n) => (n.ok ? n.value : NaN));
    if (azimuth < -180 || azimuth > 360)
      return { ok: false, problem: { kind: "azimuthRange", line: i + 1, value: azimuth } };
    if (altitude < -10 || altitude > 85)
      return { ok: false, problem: { kind: "altitudeRange", line: i + 1, value: altitude } };
    const turned = azimuth < 0 ? azimuth + 360 : azimuth % 360;
    // Lists often close the circle by giving north twice.
    if ((points.get(turned) ?? altitude) !== altitude)
      return { ok: false, problem: { kind: "sameAzimuth", line: i + 1, value: turned } };
    points.set(turned, altitude);
  }
  const horizon = [...points].map(([azimuth, altitude]) => ({ azimuth, altitude }));
  return { ok: true, horizon: horizon.sort((a, b) => a.azimuth - b.azimuth) };
}

export const horizonText = (horizon: Horizon): string =>
  horizon.map((p) => `${+p.azimuth.toFixed(1)}\t${+p.altitude.toFixed(1)}`).join("\n");

/** A mark on a panorama photo whose direction is known: a spire on the map, or the sun at a known time. Pixels from the top left. */
export interface PanoramaMark {
  x: number;
  y: number;
  azimuth: number;
  altitude: number;
}

export interface PanoramaFit {
  toDirection(x: number, y: number): HorizonPoint;
  degreesPerPixel: number;
  /** Root mean square misfit of the marks, degrees; 0 with two marks of consistent height. */
  misfit: number;
}

/**
 * Directions of a panorama photo from two marks or more. A panorama is taken as unrolled: azimuth grows evenly with x, and
 * a degree is as many pixels up as across (true of stitched panoramas; of a plain photo within 2° over the middle 40°).
 * null when marks are fewer than two or less than 5° or 20 px apart.
 */
export function fitPanorama(marks: readonly PanoramaMark[]): PanoramaFit | null {
  if (marks.length < 2) return null;
  const sorted = [...marks].sort((a, b) => a.x - b.x);
  // Azimuth grows to the right, through north if it must.
  const turned: number[] = [];
  for (const m of sorted) {
    let a = m.azimuth;
    while (turned.length && a < turned[turned.length - 1]) a += 360;
    turned.push(a);
  }
  const n = sorted.length;
  const meanX = sorted.reduce((s, m) => s + m.x, 0) / n;
  const meanA = turned.reduce((s, a) => s + a, 0) / n;
  const sxx = sorted.reduce((s, m) => s + (m.x - meanX) ** 2, 0);
  if (sorted[n - 1].x - sorted[0].x < 20 || turned[n - 1] - turned[0] < 5 || turned[n - 1] - turned[0] > 360)
    return null;
  const scale = sorted.reduce((s, m, i) => s + (m.x - meanX) * (turned[i] - meanA), 0) / sxx;
  const level = sorted.reduce((s, m) => s + m.altitude + scale * m.y, 0) / n;
  const toDirection = (x: number, y: number) => ({
    azimuth: (((meanA + scale * (x - meanX)) % 360) + 360) % 360,
    altitude: level - scale * y,
  });
  const squares = sorted.map(
    (m, i) => (meanA + scale * (m.x - meanX) - turned[i]) ** 2 + (level - scale * m.y - m.altitude) ** 2,
  );
  return { toDirection, degreesPerPixel: scale, misfit: Math.sqrt(squares.reduce((a, b) => a + b, 0) / n) };
}
