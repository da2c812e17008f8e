import { groundEquivalentAngle, ONE_GLASS, skyEquivalentAngle, type Slanted } from "../optics/covers";
import {
  extraterrestrialNormal,
  incidenceAngle,
  pressureRatio,
  relativeAirMass,
  sunPosition,
  type Place,
  type Plane,
  type SunPosition,
} from "./position";

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

/** Air mass with the sun 5° high. */
const LOW_SUN_AIR_MASS = 10.4;

const DARK: Irradiance = { global: 0, beamNormal: 0, diffuse: 0 };

/**
 * Cloudless-sky irradiance by Ineichen & Perez (2002), eqs. 7 and 8, with Linke turbidity
 * at air mass 2 (2 very clean mountain air, 3 clear, 5 hazy; range 1 to 8). Typical error 5 % with the sun above 20°. Below, more is
 * left out than arrives: at 10° up to a fifth in haze, at 2 to 3° two thirds.
 * Altitudes −400 to 5,000 m.
 */
export function clearSky(
  timeMs: number,
  place: Place,
  linkeTurbidity = 3,
  sun: SunPosition = sunPosition(timeMs, place),
): Irradiance {
  if (sun.altitude <= 0) return DARK;
  const sinAltitude = sin(sun.altitude * RAD);
  const airMass = relativeAirMass(sun.altitude) * pressureRatio(place.altitudeM);
  const I0 = extraterrestrialNormal(timeMs);
  const h = place.altitudeM;
  const fh1 = exp(-h / 8000);
  const fh2 = exp(-h / 1250);
  const cg1 = 5.09e-5 * h + 0.868;
  const cg2 = 3.92e-5 * h + 0.0387;
  // The formula's low-sun factor was fitted to air masses of some ten at most; beyond, it would give more light than arrives.
  const lowSun = exp(0.01 * min(airMass, LOW_SUN_AIR_MASS) ** 1.8);
  const global = max(0, cg1 * I0 * sinAltitude * exp(-cg2 * airMass * (fh1 + fh2 * (linkeTurbidity - 1))) * lowSun);
  const b = 0.664 + 0.163 / fh1;
  const beam = b * I0 * exp(-0.09 * airMass * (linkeTurbidity - 1));
  const ceiling = (global * (1 - (0.1 - 0.2 * exp(-linkeTurbidity)) / (0.1 + 0.882 / fh1))) / sinAltitude;
  const beamNormal = max(0, min(beam, ceiling));
  return { global, beamNormal, diffuse: max(0, global - beamNormal * sinAltitude) };
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

export const SKY_MODELS = ["isotropic", "hayDavies", "perez"] as const;
export type SkyModel = (typeof SKY_MODELS)[number];

/** Share of beam and of sky light that reaches the plane past skyline and obstacles, 0 to 1 each. */
export interface Shading {
  beam: number;
  sky: number;
}

/**
 * Irradiance on a tilted plane: isotropic sky (Liu & Jordan 1963; DB 2.15.1), Hay & Davies (1980; DB 2.16.4), which moves
 * the share beam/extraterrestrial of the diffuse to the sun's disc, or Perez et al. (1990; DB 2.16.8 to 2.16.14), which also
 * brightens the horizon. Circumsolar light counts with the beam and is shaded with it.
 */
export function transpose(
  irradiance: Irradiance,
  options: {
    timeMs: number;
    sun: SunPosition;
    plane: Plane;
    groundReflectance?: number;
    model?: SkyModel;
    shading?: Shading;
  },
): PlaneIrradiance {
  const { sun, plane, groundReflectance = 0.2, model = "hayDavies", shading } = options;
  const incidence = incidenceAngle(sun, plane);
  const tilted = max(0, cos(incidence * RAD));
  const { circumsolar, horizon } = diffuseParts(irradiance, options.timeMs, sun, model);
  // Near sunrise the ratio of cosines explodes; DB limits the sun to 5° or more above the horizon. What the limit takes
  // from the disc goes back to the dome, so that a horizontal plane still gets all of the diffuse light.
  const sinAltitude = sin(max(0, sun.altitude) * RAD);
  const disc = circumsolar * min(1, sinAltitude / sin(5 * RAD));
  const ratio = sinAltitude > 0 ? tilted / sinAltitude : 0;
  const skyView = (1 + cos(plane.tilt * RAD)) / 2;
  const groundView = (1 - cos(plane.tilt * RAD)) / 2;
  const beam = (irradiance.beamNormal * tilted + irradiance.diffuse * disc * ratio) * (shading?.beam ?? 1);
  const sky =
    max(0, irradiance.diffuse * ((1 - disc) * skyView + horizon * sin(plane.tilt * RAD))) * (shading?.sky ?? 1);
  const ground = irradiance.global * groundReflectance * groundView;
  return { beam, sky, ground, total: beam + sky + ground, incidence };
}

function diffuseParts(
  irradiance: Irradiance,
  timeMs: number,
  sun: SunPosition,
  model: SkyModel,
): { circumsolar: number; horizon: number } {
  if (model === "isotropic" || sun.altitude <= 0 || irradiance.diffuse <= 0) return { circumsolar: 0, horizon: 0 };
  if (model === "hayDavies")
    return { circumsolar: min(1, irradiance.beamNormal / extraterrestrialNormal(timeMs)), horizon: 0 };
  return perezCoefficients(irradiance, timeMs, sun);
}

/** Perez et al. (1990), table 6: upper bound of the clearness bin, then F11 F12 F13 F21 F22 F23 (DB table 2.16.1). */
const PEREZ: readonly (readonly number[])[] = [
  [1.065, -0.008, 0.588, -0.062, -0.06, 0.072, -0.022],
  [1.23, 0.13, 0.683, -0.151, -0.019, 0.066, -0.029],
  [1.5, 0.33, 0.487, -0.221, 0.055, -0.064, -0.026],
  [1.95, 0.568, 0.187, -0.295, 0.109, -0.152, -0.014],
  [2.8, 0.873, -0.392, -0.362, 0.226, -0.462, 0.001],
  [4.5, 1.132, -1.237, -0.412, 0.288, -0.823, 0.056],
  [6.2, 1.06, -1.6, -0.359, 0.264, -1.127, 0.131],
  [Infinity, 0.678, -0.327, -0.25, 0.156, -1.377, 0.251],
];

/** Circumsolar and horizon brightness shares F1 (0 to 1) and F2 of the diffuse light, from clearness ε and brightness Δ (Perez et al. 1990, eqs. 1 to 8). */
function perezCoefficients(
  irradiance: Irradiance,
  timeMs: number,
  sun: SunPosition,
): { circumsolar: number; horizon: number } {
  const zenith = (90 - sun.altitude) * RAD;
  const cube = 1.041 * zenith ** 3;
  const clearness = ((irradiance.diffuse + irradiance.beamNormal) / irradiance.diffuse + cube) / (1 + cube);
  const brightness = (relativeAirMass(sun.altitude) * irradiance.diffuse) / extraterrestrialNormal(timeMs);
  const [, f11, f12, f13, f21, f22, f23] = PEREZ.find(([upTo]) => clearness < upTo)!;
  return {
    circumsolar: max(0, min(1, f11 + f12 * brightness + f13 * zenith)),
    horizon: f21 + f22 * brightness + f23 * zenith,
  };
}

/** Clear-sky irradiance in the plane at an instant. */
export function clearSkyInPlane(timeMs: number, place: Place, plane: Plane, linkeTurbidity = 3): PlaneIrradiance {
  const sun = sunPosition(timeMs, place);
  return transpose(clearSky(timeMs, place, linkeTurbidity, sun), { timeMs, sun, plane });
}

/**
 * Incidence angle modifier K = 1 − b0(1/cosθ − 1) up to 60° (DB 6.17.10; ASHRAE 93), 1 at normal incidence; from there as the box's covers
 * let the light through (Fresnel), of which the straight line to 0 that DB recommends leaves out up to a fifth.
 * @param slanted left out: as one clear glass does @example incidenceModifier(60, 0.1) // 0.9
 */
export function incidenceModifier(incidence: number, b0: number, slanted: Slanted = ONE_GLASS): number {
  if (incidence >= 90) return 0;
  if (incidence <= 60) return 1 - b0 * (1 / cos(incidence * RAD) - 1);
  const place = (incidence - 60) / 5;
  const i = Math.floor(place);
  const share = (k: number): number => (k === 0 ? 1 : (slanted[k - 1] ?? 0));
  return (1 - b0) * (share(i) + (place - i) * (share(i + 1) - share(i)));
}

/** Round bodies that stand apart: once each shades the next they take all that comes to the plane, at every angle. */
const WHATEVER_ANGLE: Slanted = [1, 1, 1, 1, 1];

/** How a collector takes slanting light: b0, and for tubes that run up the plane another across them, negative where they stand apart. */
export interface Incidence {
  b0: number;
  b0Across?: number | null;
  /** Beyond 60°, by its covers; left out: as one clear glass. */
  slanted?: Slanted;
}

/**
 * Modifier of the beam. With another coefficient across the tubes K is the product of both directions' (ISO 9806:2017, 26.2), and may
 * exceed 1. @param parts as from {@link incidenceParts}; without them one coefficient serves for all directions
 */
export function beamModifier(
  incidence: number,
  { b0, b0Across, slanted }: Incidence,
  parts?: { along: number; across: number },
): number {
  if (b0Across == null || !parts) return incidenceModifier(incidence, b0, slanted);
  return incidenceModifier(parts.along, b0, slanted) * incidenceModifier(parts.across, b0Across, WHATEVER_ANGLE);
}

/**
 * Modifier of the whole light on a plane: beam at its angle, sky and ground light at the angles that stand for them
 * (DB 5.4), from all sides alike where tubes have two coefficients. Returns 1 with no light. @param tilt of the plane, degrees
 */
export function overallModifier(
  light: PlaneIrradiance,
  coefficients: Incidence,
  tilt: number,
  parts?: { along: number; across: number },
): number {
  if (light.total <= 0) return 1;
  const { b0, b0Across, slanted } = coefficients;
  const diffuse = (angle: number) => {
    const along = incidenceModifier(angle, b0, slanted);
    return b0Across == null ? along : (along + incidenceModifier(angle, b0Across, WHATEVER_ANGLE)) / 2;
  };
  const sky = light.sky * diffuse(skyEquivalentAngle(tilt));
  const ground = light.ground * diffuse(groundEquivalentAngle(tilt));
  return (light.beam * beamModifier(light.incidence, coefficients, parts) + sky + ground) / light.total;
}
