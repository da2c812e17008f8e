import { groundEquivalentAngle, skyEquivalentAngle } from "../optics/covers";
import { extraterrestrialNormal, incidenceAngle, pressureRatio, relativeAirMass, sunPosition, type Place, type Plane, type SunPosition } from "./position";

const { sin, cos, exp, max, min, PI } = Math;
const RAD = PI / 180;

export interface Irradiance {
  /** On the horizontal, W/m². */
  global: number;
  /** Normal to the beam, W/m². */
  beamNormal: number;
  /** Diffuse on the horizontal, W/m². */
  diffuse: number;
}

const DARK: Irradiance = { global: 0, beamNormal: 0, diffuse: 0 };

/**
 * Cloudless-sky irradiance by Ineichen & Perez (2002), eqs. 7 and 8, with Linke turbidity
 * at air mass 2 (2 very clean mountain air, 3 clear, 5 hazy). Typical error 5 %.
 */
export function clearSky(timeMs: number, place: Place, linkeTurbidity = 3, sun: SunPosition = sunPosition(timeMs, place)): Irradiance {
  if (sun.altitude <= 0) return DARK;
  const sinAltitude = sin(sun.altitude * RAD);
  const airMass = relativeAirMass(sun.altitude) * pressureRatio(place.altitudeM);
  const I0 = extraterrestrialNormal(timeMs);
  const h = place.altitudeM;
  const fh1 = exp(-h / 8000);
  const fh2 = exp(-h / 1250);
  const cg1 = 5.09e-5 * h + 0.868;
  const cg2 = 3.92e-5 * h + 0.0387;
  const global = max(0, cg1 * I0 * sinAltitude * exp(-cg2 * airMass * (fh1 + fh2 * (linkeTurbidity - 1))) * exp(0.01 * airMass ** 1.8));
  const b = 0.664 + 0.163 / fh1;
  const beam = b * I0 * exp(-0.09 * airMass * (linkeTurbidity - 1));
  const ceiling = (global * (1 - (0.1 - 0.2 * exp(-linkeTurbidity)) / (0.1 + 0.882 / fh1))) / sinAltitude;
  const beamNormal = max(0, min(beam, ceiling));
  return { global, beamNormal, diffuse: max(0, global - beamNormal * sinAltitude) };
}

/** Clear-sky global irradiance of Haurwitz (1945), W/m²: 1098·sin h·exp(−0.059/sin h). A check only; knows no altitude. */
export function haurwitz(altitude: number): number {
  if (altitude <= 0) return 0;
  const s = sin(altitude * RAD);
  return 1098 * s * exp(-0.059 / s);
}

/** Diffuse share of horizontal irradiance, 0 to 1, by clearness index (Erbs et al. 1982; DB 2.10.1). */
export function erbsDiffuseFraction(clearness: number): number {
  const k = max(0, min(1, clearness));
  if (k <= 0.22) return 1 - 0.09 * k;
  if (k <= 0.8) return 0.9511 - 0.1604 * k + 4.388 * k ** 2 - 16.638 * k ** 3 + 12.336 * k ** 4;
  return 0.165;
}

export interface PlaneIrradiance {
  /** Beam, circumsolar included, W/m² in the plane. */
  beam: number;
  /** Sky diffuse, W/m². */
  sky: number;
  /** Reflected from the ground, W/m². */
  ground: number;
  total: number;
  /** Incidence angle of the beam, degrees. */
  incidence: number;
}

/**
 * Irradiance on a tilted plane: isotropic sky (Liu & Jordan 1963; DB 2.15.1) or Hay & Davies
 * (1980; DB 2.16.4), which moves the share beam/extraterrestrial of the diffuse to the sun's disc.
 */
export function transpose(
  irradiance: Irradiance,
  options: { timeMs: number; sun: SunPosition; plane: Plane; groundReflectance?: number; model?: "isotropic" | "hayDavies" },
): PlaneIrradiance {
  const { sun, plane, groundReflectance = 0.2, model = "hayDavies" } = options;
  const incidence = incidenceAngle(sun, plane);
  const tilted = max(0, cos(incidence * RAD));
  const anisotropy = model === "hayDavies" ? min(1, irradiance.beamNormal / extraterrestrialNormal(options.timeMs)) : 0;
  // Near sunrise the ratio of cosines explodes; DB limits the sun to 5° or more above the horizon.
  const ratio = sun.altitude > 0 ? tilted / max(sin(5 * RAD), sin(sun.altitude * RAD)) : 0;
  const skyView = (1 + cos(plane.tilt * RAD)) / 2;
  const groundView = (1 - cos(plane.tilt * RAD)) / 2;
  const beam = irradiance.beamNormal * tilted + irradiance.diffuse * anisotropy * ratio;
  const sky = irradiance.diffuse * (1 - anisotropy) * skyView;
  const ground = irradiance.global * groundReflectance * groundView;
  return { beam, sky, ground, total: beam + sky + ground, incidence };
}

/** Clear-sky irradiance in the plane at an instant. */
export function clearSkyInPlane(timeMs: number, place: Place, plane: Plane, linkeTurbidity = 3): PlaneIrradiance {
  const sun = sunPosition(timeMs, place);
  return transpose(clearSky(timeMs, place, linkeTurbidity, sun), { timeMs, sun, plane });
}

/**
 * Incidence angle modifier K = 1 − b0(1/cosθ − 1) for a glazed collector (DB 6.17.10; ASHRAE 93),
 * straight to 0 between 60° and 90° as DB recommends. 1 at normal incidence.
 */
export function incidenceModifier(incidence: number, b0: number): number {
  if (incidence >= 90) return 0;
  const at = (angle: number) => 1 - b0 * (1 / cos(angle * RAD) - 1);
  return incidence <= 60 ? at(incidence) : (at(60) * (90 - incidence)) / 30;
}

/**
 * Modifier of the whole light on a plane: beam at its angle, sky and ground light at the angles that stand for them
 * (DB 5.4). Returns 1 with no light. @param tilt of the plane, degrees
 */
export function overallModifier(light: PlaneIrradiance, b0: number, tilt: number): number {
  if (light.total <= 0) return 1;
  const sky = light.sky * incidenceModifier(skyEquivalentAngle(tilt), b0);
  const ground = light.ground * incidenceModifier(groundEquivalentAngle(tilt), b0);
  return (light.beam * incidenceModifier(light.incidence, b0) + sky + ground) / light.total;
}
