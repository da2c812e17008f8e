import { getPosition } from "suncalc";

const { sin, cos, acos, PI, exp, max, min } = Math;
const RAD = PI / 180;

export interface SunPosition {
  /** Apparent altitude above the horizon, degrees (refraction included). */
  altitude: number;
  /** Clockwise from north, degrees 0 to 360. */
  azimuth: number;
}

export interface Place {
  /** Degrees, north positive, −90 to 90. */
  latitude: number;
  /** Degrees, east positive, −180 to 180. */
  longitude: number;
  /** Metres above sea level. */
  altitudeM: number;
}

export interface Plane {
  /** Degrees from horizontal, 0 to 180. */
  tilt: number;
  /** Direction the plane faces, degrees clockwise from north (180 = south). */
  azimuth: number;
}

/** Sun at an instant (Meeus ch. 25 through suncalc, within about 0.01° where it stands above 1°; nearer the horizon refraction alone varies by more). @param timeMs UTC, milliseconds since 1970 @example sunPosition(Date.UTC(2026, 5, 21, 11), { latitude: 46.3, longitude: 9 }) // { azimuth: 165.0, altitude: 66.6 } */
export function sunPosition(timeMs: number, place: Pick<Place, "latitude" | "longitude">): SunPosition {
  return getPosition(new Date(timeMs), place.latitude, place.longitude);
}

/**
 * Angle between the sun's beam and the plane's normal, degrees 0 to 180.
 * cosθ = sin h·cos β + cos h·sin β·cos(γs − γ) (DB 1.6.3 written in altitude h and azimuths); holds in both hemispheres.
 *
 * @example incidenceAngle({ altitude: 90, azimuth: 0 }, { tilt: 30, azimuth: 180 }) // 30
 */
export function incidenceAngle(sun: SunPosition, plane: Plane): number {
  const cosine =
    sin(sun.altitude * RAD) * cos(plane.tilt * RAD) +
    cos(sun.altitude * RAD) * sin(plane.tilt * RAD) * cos((sun.azimuth - plane.azimuth) * RAD);
  return acos(max(-1, min(1, cosine))) / RAD;
}

/** The incidence angle split for tubes that run up the plane: of the beam seen along them and seen across them, degrees; 90 behind the plane. */
export function incidenceParts(sun: SunPosition, plane: Plane): { along: number; across: number } {
  const h = sun.altitude * RAD;
  const turn = (sun.azimuth - plane.azimuth) * RAD;
  const tilt = plane.tilt * RAD;
  const normal = sin(h) * cos(tilt) + cos(h) * sin(tilt) * cos(turn);
  if (normal <= 0) return { along: 90, across: 90 };
  const up = sin(h) * sin(tilt) - cos(h) * cos(tilt) * cos(turn);
  const side = cos(h) * sin(turn);
  return { along: Math.atan2(Math.abs(up), normal) / RAD, across: Math.atan2(Math.abs(side), normal) / RAD };
}

/** Relative optical air mass (Kasten & Young 1989, eq. 3); 1 at the zenith, 38 at the horizon, NaN below −2°. @param altitude apparent, degrees, up to 90 */
export function relativeAirMass(altitude: number): number {
  if (altitude < -2) return NaN;
  return 1 / (sin(altitude * RAD) + 0.50572 * (altitude + 6.07995) ** -1.6364);
}

/** Mean solar constant, W/m² (Kopp & Lean 2011, rounded). */
export const SOLAR_CONSTANT = 1361;

const J2000_MS = Date.UTC(2000, 0, 1, 12);
const CENTURY_MS = 36525 * 86400000;

/**
 * Distance of the sun in astronomical units, from the earth's anomaly and the equation of the centre (Meeus, *Astronomical
 * Algorithms*, 2nd ed., eqs. 25.3 to 25.5); within 0.0001 between 1900 and 2100. @param timeMs UTC, milliseconds since 1970
 */
export function sunDistance(timeMs: number): number {
  const T = (timeMs - J2000_MS) / CENTURY_MS;
  const M = (357.52911 + 35999.05029 * T - 0.0001537 * T * T) * RAD;
  const e = 0.016708634 - 0.000042037 * T;
  const centre = (1.914602 - 0.004817 * T) * sin(M) + (0.019993 - 0.000101 * T) * sin(2 * M) + 0.000289 * sin(3 * M);
  return (1.000001018 * (1 - e * e)) / (1 + e * cos(M + centre * RAD));
}

/** Extraterrestrial irradiance normal to the beam, W/m²: the solar constant over the square of the sun's distance; within 0.02 %. */
export const extraterrestrialNormal = (timeMs: number): number => SOLAR_CONSTANT / sunDistance(timeMs) ** 2;

/** Ratio of local to sea-level pressure by scale height, for air mass only: above the standard atmosphere's by 0.6 % at 2,000 m, 1.3 % at 3,000 m, 2.3 % at 4,000 m. @param altitudeM −400 to 5,000 */
export const pressureRatio = (altitudeM: number): number => exp(-altitudeM / 8434.5);
