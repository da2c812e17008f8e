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

/** Sun at an instant (Meeus ch. 25 through suncalc, within about 0.01°). @param timeMs UTC, milliseconds since 1970 */
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

/** Relative optical air mass (Kasten & Young 1989, eq. 3); 1 at the zenith, 38 at the horizon, NaN below −2°. */
export function relativeAirMass(altitude: number): number {
  if (altitude < -2) return NaN;
  return 1 / (sin(altitude * RAD) + 0.50572 * (altitude + 6.07995) ** -1.6364);
}

/** Mean solar constant, W/m² (Kopp & Lean 2011, rounded). */
export const SOLAR_CONSTANT = 1361;

/** Extraterrestrial irradiance normal to the beam, W/m² (DB 1.4.1b, Spencer 1971; within 0.01 %). */
export function extraterrestrialNormal(timeMs: number): number {
  const date = new Date(timeMs);
  const dayOfYear =
    (Date.UTC(date.getUTCFullYear(), date.getUTCMonth(), date.getUTCDate()) - Date.UTC(date.getUTCFullYear(), 0, 1)) /
    86400000;
  const B = (2 * PI * dayOfYear) / 365;
  const eccentricity = 1.00011 + 0.034221 * cos(B) + 0.00128 * sin(B) + 0.000719 * cos(2 * B) + 0.000077 * sin(2 * B);
  return SOLAR_CONSTANT * eccentricity;
}

/** Ratio of local to sea-level pressure by scale height, for air mass only (exact to 1 % below 3,000 m). */
export const pressureRatio = (altitudeM: number): number => exp(-altitudeM / 8434.5);
