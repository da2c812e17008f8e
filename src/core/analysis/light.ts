import { beamModifier, clearSky, overallModifier, transpose, type Incidence, type Irradiance } from "../sun/clearSky";
import { groundOf, inPlaneOf, transpositionShare } from "../sun/split";
import { localDay } from "../log/zone";
import { monthOf } from "../site/site";
import { incidenceAngle, incidenceParts, sunPosition } from "../sun/position";
import type { RunSetup } from "./setup";

/** What two sun sensors saw, W/m². */
export interface SunsSeen {
  planeWm2: number;
  horizontalWm2: number;
}

/**
 * The lanes' incidence modifier at an instant, by their coefficients, with light split between beam, sky and ground as two sun sensors
 * saw it, else as under a clear sky.
 * Steady windows are nearly always clear ones; under thin even cloud the beam's share, and so the correction, is taken too large.
 */
export function modifierFor(setup: RunSetup): (timeMs: number, incidence: Incidence, seen?: SunsSeen) => number {
  const lightAt = (timeMs: number, seen: SunsSeen | undefined) => {
    const sun = sunPosition(timeMs, setup.place);
    const sky = (seen && splitSky(seen, timeMs, setup)) ?? clearSky(timeMs, setup.place, setup.linkeTurbidity, sun);
    return {
      timeMs,
      seen,
      light: transpose(sky, { timeMs, sun, plane: setup.plane }),
      parts: incidenceParts(sun, setup.plane),
    };
  };
  // Lanes of one window are asked about one after another, each for several coefficients.
  let last: ReturnType<typeof lightAt> | null = null;
  return (timeMs, incidence, seen) => {
    if (last?.timeMs !== timeMs || last.seen !== seen) last = lightAt(timeMs, seen);
    return overallModifier(last.light, incidence, setup.plane.tilt, last.parts);
  };
}

/**
 * Beam and diffuse light as two sensors saw them, one in the plane, one horizontal: with diffuse D the plane gets
 * (G_h − D)·R_b + D·F_sky + G_h·ρ·F_ground (isotropic sky; DB 2.15.1), solved for D. null where both see nearly the same part of the
 * sky, so that the split would rest on their errors, and where it comes out beyond what can be.
 */
export function splitSky(
  { planeWm2, horizontalWm2 }: SunsSeen,
  timeMs: number,
  { place, plane, surroundings, zone, snow }: Pick<RunSetup, "place" | "plane" | "surroundings" | "zone" | "snow">,
): Irradiance | null {
  const sun = sunPosition(timeMs, place);
  const sinAltitude = Math.sin((sun.altitude * Math.PI) / 180);
  if (!(horizontalWm2 > 0) || !(planeWm2 > 0) || sinAltitude < 0.05) return null;
  const ratio = Math.max(0, Math.cos((incidenceAngle(sun, plane) * Math.PI) / 180)) / sinAltitude;
  const skyView = (1 + Math.cos((plane.tilt * Math.PI) / 180)) / 2;
  if (Math.abs(ratio - skyView) < 0.3) return null;
  const ofSite = surroundings?.groundReflectance[monthOf(timeMs, zone)] ?? 0.2;
  const ground = isSnow({ snow, zone }, timeMs) ? SNOW : ofSite;
  const diffuse = (horizontalWm2 * (ratio + ground * (1 - skyView)) - planeWm2) / (ratio - skyView);
  if (!(diffuse > -0.1 * horizontalWm2 && diffuse < 1.1 * horizontalWm2)) return null;
  const kept = Math.min(horizontalWm2, Math.max(0, diffuse));
  return { global: horizontalWm2, diffuse: kept, beamNormal: (horizontalWm2 - kept) / sinAltitude };
}

/** What a horizontal sensor's light is moved to the collector plane by. @param ambientC mean outside; NaN where nobody knows */
export function transposedIn(
  setup: Pick<RunSetup, "place" | "plane" | "surroundings" | "zone" | "groundReflectance" | "snow" | "linkeTurbidity">,
  ambientC: number,
): { at(globalWm2: number, timeMs: number): number; shareAt(globalWm2: number, timeMs: number): number } {
  const { place, plane, surroundings, zone, linkeTurbidity } = setup;
  const reading = (globalWm2: number, timeMs: number) => ({
    globalWm2,
    timeMs,
    sun: sunPosition(timeMs, place),
    place,
    linkeTurbidity,
  });
  const to = (timeMs: number) => {
    const site = surroundings?.groundReflectance[monthOf(timeMs, zone)];
    // A site that was never asked holds grass in every month.
    const ofSite = site === undefined || site === UNASKED_GROUND ? null : site;
    return {
      plane,
      model: surroundings?.skyModel ?? "hayDavies",
      ground: groundOf(isSnow(setup, timeMs) ? SNOW : (setup.groundReflectance ?? ofSite), ambientC),
    };
  };
  return {
    at: (globalWm2, timeMs) => inPlaneOf(reading(globalWm2, timeMs), to(timeMs)),
    shareAt: (globalWm2, timeMs) => transpositionShare(reading(globalWm2, timeMs), to(timeMs)),
  };
}

/** Of snow some days old (typical value; fresh 0.8, old 0.5 to 0.6). */
const SNOW = 0.7;

const isSnow = ({ snow, zone }: Pick<RunSetup, "snow" | "zone">, timeMs: number): boolean => {
  if (!snow) return false;
  const day = localDay(timeMs, zone);
  return snow.from <= day && day <= snow.until;
};

/** As a new site is made. */
const UNASKED_GROUND = 0.2;

/** Beam's incidence factor on the grid, for the windows' limit: of the lane it is farthest from 1 for. */
export function modifierSeries(setup: RunSetup, startMs: number, stepMs: number, count: number): Float64Array {
  const out = new Float64Array(count);
  const modifier = (i: number) => {
    const timeMs = startMs + (i + 0.5) * stepMs;
    const sun = sunPosition(timeMs, setup.place);
    if (clearSky(timeMs, setup.place, setup.linkeTurbidity, sun).global <= 0) return 0;
    const parts = incidenceParts(sun, setup.plane);
    const angle = incidenceAngle(sun, setup.plane);
    if (angle >= 90) return 0;
    const far = setup.lanes.map((lane) => Math.abs(beamModifier(angle, lane, parts) - 1));
    return 1 - Math.max(0, ...far);
  };
  // The sun moves a quarter of a degree a minute: every fifth minute and straight between is exact enough.
  const stride = Math.max(1, Math.round(300000 / stepMs));
  let a = modifier(0);
  for (let i = 0; i < count; i += stride) {
    const b = modifier(i + stride);
    for (let k = 0; k < stride && i + k < count; k++) out[i + k] = a + ((b - a) * k) / stride;
    a = b;
  }
  return out;
}
