import { clearSky } from "../sun/clearSky";
import { sunPosition, type Plane } from "../sun/position";
import type { SiteWorld } from "../site/site";
import { mirrorBeam, sunFrom, type Opening, type Vector } from "./geometry";
import { mirrorPlace, type Mirror } from "./mirror";

const { asin, atan2, floor, hypot, max, min, round, PI } = Math;

const DAY = 86400000;
const MINUTE = 60000;

/** The solstice with the low sun of a hemisphere, in a year: 21 December or 21 June, noon. */
export const lowSolstice = (latitude: number, year: number): number => Date.UTC(year, latitude < 0 ? 5 : 11, 21, 12);

/** Year of the low solstice from which a list that holds now begins. */
export function listYear(latitude: number, nowMs: number): number {
  const year = new Date(nowMs).getUTCFullYear();
  return lowSolstice(latitude, year) > nowMs ? year - 1 : year;
}

interface Instant {
  sun: Vector;
  /** W/m² across the beam. */
  beam: number;
}

/** Quarter hours of a clear day with the sun before the plane. @param noonMs any instant near the day's noon */
function clearDay(site: SiteWorld, plane: Plane, noonMs: number): Instant[] {
  const month = new Date(noonMs).getUTCMonth();
  const noon = noonMs - (site.longitude / 15) * 3600000;
  const out: Instant[] = [];
  for (let m = -11 * 60; m <= 11 * 60; m += 15) {
    const ms = noon + m * MINUTE;
    const position = sunPosition(ms, site);
    if (position.altitude <= 1) continue;
    const sun = sunFrom(plane, position);
    const beam = clearSky(ms, site, site.detail.turbidity[month], position).beamNormal;
    if (beam > 0) out.push({ sun, beam });
  }
  return out;
}

/** Beam that a mirror adds on a clear day, kWh/m² of the opening, less what it shades. */
function added(box: Opening, plane: Plane, mirror: Mirror, reflectance: number, day: readonly Instant[]): number {
  const place = mirrorPlace(box, plane, mirror);
  let sum = 0;
  for (const { sun, beam } of day) {
    const { lit, cosine, shaded } = mirrorBeam(box, place, sun);
    sum += beam * (reflectance * lit * cosine - shaded * max(0, sun[2]));
  }
  return sum / 4000;
}

/** The same of a single day. @returns kWh/m² of the opening */
export const addedOfDay = (
  site: SiteWorld,
  plane: Plane,
  box: Opening,
  mirror: Mirror,
  reflectance: number,
  noonMs: number,
): number => added(box, plane, mirror, reflectance, clearDay(site, plane, noonMs));

export interface AngleChoice {
  angle: number;
  /** kWh/m² of the opening a clear day. */
  addedKwhM2: number;
}

export const ANGLES: readonly number[] = Array.from({ length: 66 }, (_, i) => 45 + 2 * i);

/** The angle of a mirror that adds most on a clear day, to half a degree; null where none adds anything. */
export function bestOfDay(
  site: SiteWorld,
  plane: Plane,
  box: Opening,
  mirror: Mirror,
  reflectance: number,
  noonMs: number,
): AngleChoice | null {
  const day = clearDay(site, plane, noonMs);
  const at = (angle: number): AngleChoice => ({
    angle,
    addedKwhM2: added(box, plane, { ...mirror, angle }, reflectance, day),
  });
  const best = (angles: readonly number[]) => angles.map(at).reduce((a, b) => (b.addedKwhM2 > a.addedKwhM2 ? b : a));
  // One hill over the angle: found in three strides.
  let found = best(ANGLES.filter((_, i) => i % 3 === 0));
  if (found.addedKwhM2 <= 1e-6) return null;
  for (const strides of [
    [-4, -2, 0, 2, 4],
    [-1.5, -1, -0.5, 0, 0.5, 1, 1.5],
  ])
    found = best(strides.map((d) => found.angle + d));
  return found;
}

export interface Adjustment {
  /** Day of the change, `YYYY-MM-DD`, and until the next. */
  from: string;
  until: string;
  /** null: it adds nothing in these weeks: lay it down. */
  angle: number | null;
  /** Most by which the day's best lies off the angle set, degrees. */
  offDeg: number;
  /** Of what turning it every day would add, the share this angle does. */
  share: number;
}

/**
 * When to turn a mirror to what, over a year from the low solstice on: an angle stays until the day's best lies further off than the
 * tolerance. The second half of the year is the first mirrored about the high solstice, as the sun's height is.
 * @param toleranceDeg above 0
 */
export function adjustmentList(
  site: SiteWorld,
  plane: Plane,
  box: Opening,
  mirror: Mirror,
  reflectance: number,
  toleranceDeg: number,
  year: number,
): Adjustment[] {
  if (!(toleranceDeg > 0)) throw new RangeError("a tolerance above nothing");
  const start = lowSolstice(site.latitude, year);
  const HALF = 183;
  const STEP = 4;
  const days = Array.from({ length: floor(HALF / STEP) + 1 }, (_, i) => {
    const noonMs = start + i * STEP * DAY;
    return {
      at: i * STEP,
      best: bestOfDay(site, plane, box, mirror, reflectance, noonMs),
      day: clearDay(site, plane, noonMs),
    };
  });
  const groups: Group[] = [];
  let k = 0;
  while (k < days.length) {
    const first = k;
    if (!days[k].best) {
      while (k < days.length && !days[k].best) k++;
      groups.push({ from: days[first].at, to: days[k - 1].at, angle: null, offDeg: 0, share: 1 });
      continue;
    }
    let [low, high] = [Infinity, -Infinity];
    while (k < days.length && days[k].best) {
      const { angle } = days[k].best!;
      if (max(high, angle) - min(low, angle) > 2 * toleranceDeg) break;
      [low, high] = [min(low, angle), max(high, angle)];
      k++;
    }
    const angle = round(low + high) / 2;
    const members = days.slice(first, k);
    const [got, could] = members.reduce(
      ([g, c], d) => [g + added(box, plane, { ...mirror, angle }, reflectance, d.day), c + d.best!.addedKwhM2],
      [0, 0],
    );
    groups.push({
      from: days[first].at,
      to: days[k - 1].at,
      angle,
      offDeg: max(high - angle, angle - low),
      share: could > 0 ? got / could : 1,
    });
  }
  return roundTheYear(groups, HALF, (offset) => new Date(start + offset * DAY).toISOString().slice(0, 10));
}

interface Group {
  from: number;
  to: number;
  angle: number | null;
  offDeg: number;
  share: number;
}

/** Half a year's groups and the way back; days from the low solstice become dates. */
function roundTheYear(groups: readonly Group[], half: number, date: (offset: number) => string): Adjustment[] {
  // Boundaries lie half a step past the last day that still fits; the way back is the way there.
  const edge = (i: number) => (i === groups.length - 1 ? half : round((groups[i].to + groups[i + 1].from) / 2));
  const there = groups.map((g, i) => ({ ...g, from: i === 0 ? 0 : edge(i - 1), to: edge(i) }));
  const back = there.map((g) => ({ ...g, from: 365 - g.to, to: 365 - g.from })).reverse();
  // The group at the high solstice is one, there and back.
  const all = [...there.slice(0, -1), { ...there[there.length - 1], to: back[0].to }, ...back.slice(1)];
  return all.map(({ from, to, angle, offDeg, share }) => ({ from: date(from), until: date(to), angle, offDeg, share }));
}

const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Normal of the side that shines, as long as the mirror is large: a free one's as it is turned, a hinged one's towards the opening. */
function frontOf(box: Opening, plane: Plane, mirror: Mirror): Vector {
  const { corner, along, across } = mirrorPlace(box, plane, mirror);
  const n: Vector = [
    along[1] * across[2] - along[2] * across[1],
    along[2] * across[0] - along[0] * across[2],
    along[0] * across[1] - along[1] * across[0],
  ];
  if (mirror.stand === "free") return n;
  const toBox = [box.widthM / 2, box.lengthM / 2, 0].map(
    (middle, k) => middle - corner[k] - (along[k] + across[k]) / 2,
  ) as unknown as Vector;
  const side = dot(n, toBox);
  // Laid into the plane of the box it looks where the box looks.
  const front = Math.abs(side) > 1e-9 ? side : n[2];
  return front >= 0 ? n : [-n[0], -n[1], -n[2]];
}

/** What a mirror throws past the box: where to and how steeply, when the sun stands so. Degrees; azimuth clockwise from north. */
export function thrownTo(
  box: Opening,
  plane: Plane,
  mirror: Mirror,
  position: { altitude: number; azimuth: number },
  world: (v: Vector) => Vector,
): { altitude: number; azimuth: number } | null {
  const sun = sunFrom(plane, position);
  const n = frontOf(box, plane, mirror);
  const size = hypot(...n);
  if (size < 1e-12 || position.altitude <= 0) return null;
  const facing = dot(sun, n) / size / size;
  // Its back is board or paint.
  if (facing <= 0) return null;
  const [east, north, up] = world([2 * facing * n[0] - sun[0], 2 * facing * n[1] - sun[1], 2 * facing * n[2] - sun[2]]);
  return {
    altitude: (asin(max(-1, min(1, up))) * 180) / PI,
    azimuth: ((atan2(east, north) * 180) / PI + 360) % 360,
  };
}

/** How much less a pressed acrylic lens bends red light than blue: n − 1 is 0.49, and differs by ± 0.015 over the sun's light. */
const BENDS = 0.49;
const COLOURS = 0.03;

/**
 * Spot of a lens: the sun's half degree at its focal length, widened by the lens's own error, of which a surface turned by ε bends
 * light by (n − 1)·ε, and by colour: at the rim, a share of the lens's own half width.
 */
export interface Lens {
  areaM2: number;
  focalM: number;
  /** Of its surface, milliradians to either side; a pressed sheet lens has 3 to 6 (typical values). */
  errorMrad: number;
  /** Share of the light that gets through and where it should. */
  efficiency: number;
}

/** @returns spot's diameter, m, irradiance there over the sun's, and its power at 1,000 W/m², W */
export function lensSpot({ areaM2, focalM, errorMrad, efficiency }: Lens): {
  spotM: number;
  times: number;
  powerW: number;
} {
  const halfM = Math.sqrt(areaM2 / PI);
  const spotM = focalM * (0.0093 + (2 * BENDS * errorMrad) / 1000) + 2 * COLOURS * halfM;
  const spot = (PI / 4) * spotM ** 2;
  return { spotM, times: (areaM2 * efficiency) / spot, powerW: 1000 * areaM2 * efficiency };
}
