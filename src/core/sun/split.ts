import { clearSky, erbsDiffuseFraction, transpose, SKY_MODELS, type Irradiance, type SkyModel } from "./clearSky";
import {
  extraterrestrialNormal,
  pressureRatio,
  relativeAirMass,
  type Place,
  type Plane,
  type SunPosition,
} from "./position";

const { sin, exp, max, min, hypot, sqrt, PI } = Math;
const RAD = PI / 180;

/** Below this share of the vertical the sun is too low for a horizontal sensor to tell what a plane gets. */
const LOWEST_SINE = 0.05;
/** A clear sky's own split counts where so much of its light arrives, share. */
const CLEAR = [0.85, 1.12] as const;
/** What the ground before the boxes throws back, and what it may differ by from what is stated for it. */
export interface Ground {
  reflectance: number;
  range: readonly [low: number, high: number];
}

/** Grass, soil or pavement, where nobody says; snow too where it is cold enough to lie. */
const UNSAID: Ground = { reflectance: 0.2, range: [0.1, 0.35] };
const PERHAPS_SNOW: Ground = { reflectance: 0.2, range: [0.1, 0.75] };
/** Snow does not lie for long in warmer air, °C. */
const SNOW_LIES = 3;

/** The ground as stated, else as it may be in such air. @param ambientC mean outside; NaN where nobody knows */
export function groundOf(stated: number | null, ambientC: number): Ground {
  if (stated !== null) return { reflectance: stated, range: [max(0, stated - 0.1), min(0.95, stated + 0.1)] };
  return ambientC > SNOW_LIES ? UNSAID : PERHAPS_SNOW;
}

/** An instant at a place, and what a horizontal sensor shows then, W/m². */
export interface HorizontalReading {
  globalWm2: number;
  timeMs: number;
  sun: SunPosition;
  place: Place;
  linkeTurbidity: number;
}

/** Diffuse share by clearness alone, straight pieces (Orgill & Hollands 1977; DB 2.10.1, note). */
const orgillHollands = (k: number): number => {
  if (k < 0.35) return 1 - 0.249 * k;
  return k <= 0.75 ? 1.557 - 1.84 * k : 0.177;
};

/** By clearness and sun height (Reindl et al. 1990, reduced form). */
function reindl(k: number, sine: number): number {
  if (k <= 0.3) return min(1, 1.02 - 0.254 * k + 0.0123 * sine);
  if (k < 0.78) return min(0.97, max(0.1, 1.4 - 1.749 * k + 0.177 * sine));
  return max(0.1, 0.486 * k - 0.182 * sine);
}

/** By the beam that clearness and air mass leave (Maxwell 1987, DISC). */
function disc(k: number, airMass: number): number {
  const m = min(12, airMass);
  const clearest = 0.866 + m * (-0.122 + m * (0.0121 + m * (-0.000653 + m * 0.000014)));
  const [a, b, c] =
    k <= 0.6
      ? [0.512 + k * (-1.56 + k * (2.286 - 2.222 * k)), 0.37 + 0.962 * k, -0.28 + k * (0.932 - 2.048 * k)]
      : [
          -5.743 + k * (21.77 + k * (-27.49 + 11.56 * k)),
          41.4 + k * (-118.5 + k * (66.05 + 31.9 * k)),
          -47.01 + k * (184.2 + k * (-222 + 73.81 * k)),
        ];
  const beam = max(0, clearest - (a + b * exp(c * m)));
  return min(1, max(0.05, 1 - beam / k));
}

/**
 * Diffuse share of a horizontal reading, 0 to 1, as published splits see it: Erbs (1982), Orgill & Hollands (1977), Reindl (1990),
 * DISC (Maxwell 1987), and a clear sky's own (Ineichen & Perez 2002) where the light is that of a clear sky. Under a low winter sun the
 * first two take clear air for haze, as they know nothing of the air mass.
 */
export function diffuseShares({ globalWm2, timeMs, sun, place, linkeTurbidity }: HorizontalReading): number[] {
  const sine = sin(sun.altitude * RAD);
  const clearness = min(1, globalWm2 / (extraterrestrialNormal(timeMs) * sine));
  const airMass = relativeAirMass(sun.altitude) * pressureRatio(place.altitudeM);
  const shares = [
    erbsDiffuseFraction(clearness),
    orgillHollands(clearness),
    reindl(clearness, sine),
    disc(clearness, airMass),
  ];
  const clear = clearSky(timeMs, place, linkeTurbidity, sun);
  const ratio = globalWm2 / clear.global;
  if (ratio > CLEAR[0] && ratio < CLEAR[1]) shares.push(min(1, clear.diffuse / clear.global));
  return shares;
}

/** A plane, and the ground before it. */
export interface TransposedTo {
  plane: Plane;
  ground: Ground;
  model: SkyModel;
}

/** Whether a horizontal sensor tells what a plane gets: the sun stands high enough. */
export const tellsPlane = (sun: SunPosition): boolean => sin(sun.altitude * RAD) > LOWEST_SINE;

const splitBy = ({ globalWm2, sun }: HorizontalReading, share: number): Irradiance => {
  const diffuse = globalWm2 * share;
  return { global: globalWm2, diffuse, beamNormal: (globalWm2 - diffuse) / sin(sun.altitude * RAD) };
};

/**
 * Irradiance in a plane from a horizontal reading, W/m²: the middle of what the published splits give. Where the sun is too low the
 * reading itself.
 */
export function inPlaneOf(reading: HorizontalReading, to: TransposedTo): number {
  if (!(reading.globalWm2 > 0) || !tellsPlane(reading.sun)) return max(0, reading.globalWm2);
  const all = diffuseShares(reading);
  const share = (max(...all) + min(...all)) / 2;
  return transpose(splitBy(reading, share), {
    timeMs: reading.timeMs,
    sun: reading.sun,
    plane: to.plane,
    groundReflectance: to.ground.reflectance,
    model: to.model,
  }).total;
}

/**
 * Standard uncertainty of that as a share: what the published splits differ by, what the three skies differ by, and what the ground may
 * be; each the farthest of them over √3, a rectangular distribution (GUM 4.3.7). It is small on a plane that lies nearly flat and grows as the plane stands up, as the sun
 * sinks, and as the ground before it is not known. 0 where the reading itself is taken.
 */
export function transpositionShare(reading: HorizontalReading, to: TransposedTo): number {
  if (!(reading.globalWm2 > 0) || !tellsPlane(reading.sun)) return 0;
  const all = diffuseShares(reading);
  const ends = [min(...all), max(...all)];
  const middle = (ends[0] + ends[1]) / 2;
  const ground = to.ground.reflectance;
  const light = (share: number, model: SkyModel, groundReflectance: number): number =>
    transpose(splitBy(reading, share), {
      timeMs: reading.timeMs,
      sun: reading.sun,
      plane: to.plane,
      groundReflectance,
      model,
    }).total;
  const taken = light(middle, to.model, ground);
  // A limit is the farthest of what may be: what is taken need not stand in the middle.
  const standard = (values: readonly number[]) => max(...values.map((v) => Math.abs(v - taken))) / sqrt(3);
  const spread = hypot(
    standard(ends.map((share) => light(share, to.model, ground))),
    standard(SKY_MODELS.map((model) => light(middle, model, ground))),
    standard(to.ground.range.map((g) => light(middle, to.model, g))),
  );
  return spread / taken;
}
