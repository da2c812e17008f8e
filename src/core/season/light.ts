import { sunFrom, frameOf, type MirrorPlace, type Opening } from "../mirror/geometry";
import { isUp, mirrorPlace, type Mirror } from "../mirror/mirror";
import { beamsOf, diffuseView, type DiffuseView } from "../mirror/several";
import { groundEquivalentAngle, skyEquivalentAngle } from "../optics/covers";
import { planeLight, surroundingsOf, type SiteWorld } from "../site/site";
import type { Receiver } from "../site/shade";
import { incidenceModifier, type Incidence } from "../sun/clearSky";
import { sunPosition, type Plane } from "../sun/position";
import { HOURS, MONTH_DAYS, monthOfHour, type WeatherYear } from "./weather";

const { acos, floor, max, min } = Math;

/** Light in a plane by hour, W/m². */
export interface PlaneYear {
  plane: Plane;
  beam: Float64Array;
  sky: Float64Array;
  ground: Float64Array;
  /** Of the beam, degrees. */
  incidence: Float64Array;
  mirror: MirrorYear | null;
}

/** What mirrors add and take, by hour. */
export interface MirrorYear {
  /** Share of the opening lit by one mirror or another, summed: 0 to the number of mirrors. */
  lit: Float64Array;
  /** Beam added, and its incidence in degrees. */
  beam: Float64Array;
  incidence: Float64Array;
  /** Share of the opening shaded by mirrors. */
  shaded: Float64Array;
  /** Diffuse light added, less what is hidden. */
  diffuse: Float64Array;
}

/** A mirror with what it gives back, and the months in which snow lies on it (0 to 11). */
export interface SeasonMirror {
  mirror: Mirror;
  reflectance: number;
  snow: readonly number[];
}

/** Snow throws light back to all sides (typical value of settled snow). */
const SNOW = 0.7;

/** Day of the month of every hour, 1 to 31. */
const dayOfHour: Uint8Array = Uint8Array.from(
  MONTH_DAYS.flatMap((days) => Array.from({ length: days * 24 }, (_, h) => 1 + floor(h / 24))),
);

/**
 * A year's light in a plane, skyline, obstacles and mirrors counted.
 * @param box opening that mirrors stand at; they are left out without
 */
export function planeYear(
  site: SiteWorld,
  receiver: Receiver,
  weather: WeatherYear,
  box: Opening | null = null,
  mirrors: readonly SeasonMirror[] = [],
): PlaneYear {
  const row = () => new Float64Array(HOURS);
  const { plane } = receiver;
  const out: PlaneYear = { plane, beam: row(), sky: row(), ground: row(), incidence: row().fill(90), mirror: null };
  let [month, light]: [number, ReturnType<typeof planeLight> | null] = [-1, null];
  let hour = 0;
  for (hour = 0; hour < HOURS; hour++) {
    if (weather.global[hour] <= 0) continue;
    if (monthOfHour[hour] !== month) {
      month = monthOfHour[hour];
      light = planeLight(site, receiver, surroundingsOf(site, weather.sunMs[hour]), () => ({
        global: weather.global[hour],
        diffuse: weather.diffuse[hour],
        beamNormal: weather.beamNormal[hour],
      }));
    }
    const l = light!(weather.sunMs[hour]);
    out.beam[hour] = l.beam;
    out.sky[hour] = l.sky;
    out.ground[hour] = l.ground;
    out.incidence[hour] = min(90, l.incidence);
    if (l.beamShare <= 0) out.beam[hour] = 0;
  }
  if (box && mirrors.length) out.mirror = mirrorYear(site, plane, weather, out, box, mirrors);
  return out;
}

function mirrorYear(
  site: SiteWorld,
  plane: Plane,
  weather: WeatherYear,
  base: PlaneYear,
  box: Opening,
  mirrors: readonly SeasonMirror[],
): MirrorYear {
  const row = () => new Float64Array(HOURS);
  const out: MirrorYear = { lit: row(), beam: row(), incidence: row().fill(90), shaded: row(), diffuse: row() };
  const places = mirrors.map(({ mirror }) => mirrorPlace(box, plane, mirror));
  const { right, up, out: outward } = frameOf(plane);
  const upward = [right[2], up[2], outward[2]] as const;
  const views = new Map<string, { places: MirrorPlace[]; own: SeasonMirror[]; view: DiffuseView }>();
  const standing = (month: number, day: number) => {
    const active = mirrors.map(({ mirror }) => isUp(mirror, month + 1, day));
    const key = active.join();
    let found = views.get(key);
    if (!found) {
      const kept = places.filter((_, i) => active[i]);
      found = { places: kept, own: mirrors.filter((_, i) => active[i]), view: diffuseView(box, kept, upward) };
      views.set(key, found);
    }
    return found;
  };
  for (let h = 0; h < HOURS; h++) {
    if (weather.global[h] <= 0) continue;
    const month = monthOfHour[h];
    const { places: now, own, view } = standing(month, dayOfHour[h]);
    if (now.length === 0) continue;
    const ground = weather.global[h] * site.detail.groundReflectance[month];
    let diffuse = -view.hiddenSky * weather.diffuse[h] - view.hiddenGround * ground;
    own.forEach((m, i) => {
      const { sky, ground: low } = view.shown[i];
      diffuse += m.snow.includes(month)
        ? (sky + low) * SNOW * weather.global[h]
        : m.reflectance * (sky * weather.diffuse[h] + low * ground);
    });
    out.diffuse[h] = max(diffuse, -(base.sky[h] + base.ground[h]));
    // The beam that skyline and obstacles leave; at the mirror it is taken as at the box beside it.
    const position = sunPosition(weather.sunMs[h], site);
    const reaches = beamReaches(base, h);
    if (weather.beamNormal[h] <= 0 || !reaches) continue;
    const beams = beamsOf(box, now, sunFrom(plane, position));
    out.shaded[h] = beams.shaded;
    let [sum, angle] = [0, 0];
    beams.mirrors.forEach(({ lit, cosine }, i) => {
      if (own[i].snow.includes(month)) return;
      const added = weather.beamNormal[h] * own[i].reflectance * lit * cosine;
      out.lit[h] += lit;
      sum += added;
      angle += added * acos(min(1, cosine));
    });
    out.beam[h] = sum * reaches;
    if (sum > 0) out.incidence[h] = ((angle / sum) * 180) / Math.PI;
  }
  return out;
}

/** Share of the beam that is not kept off by skyline or obstacles; with the sun behind the plane the box's own light does not tell, and it is taken whole. */
function beamReaches(base: PlaneYear, h: number): number {
  return base.incidence[h] >= 90 || base.beam[h] > 0 ? 1 : 0;
}

/** Light of a year for one collector: each part at its own angle's modifier; shade of mirrors taken off the beam. */
export function effectiveLight(year: PlaneYear, { b0, slanted }: Pick<Incidence, "b0" | "slanted">): Float64Array {
  const modifier = (angle: number) => incidenceModifier(angle, b0, slanted);
  const sky = modifier(skyEquivalentAngle(year.plane.tilt));
  const ground = modifier(groundEquivalentAngle(year.plane.tilt));
  const { mirror } = year;
  return Float64Array.from({ length: HOURS }, (_, h) => {
    const direct = year.beam[h] > 0 ? year.beam[h] * max(0, modifier(year.incidence[h])) : 0;
    const plain = sky * year.sky[h] + ground * year.ground[h];
    if (!mirror) return direct + plain;
    const thrown = mirror.beam[h] > 0 ? mirror.beam[h] * max(0, modifier(mirror.incidence[h])) : 0;
    return max(0, direct * (1 - mirror.shaded[h]) + thrown + plain + sky * mirror.diffuse[h]);
  });
}

/** Light as it falls, W/m². */
export const plainLight = (year: PlaneYear): Float64Array =>
  Float64Array.from({ length: HOURS }, (_, h) => {
    const { mirror } = year;
    const plain = year.beam[h] * (1 - (mirror?.shaded[h] ?? 0)) + year.sky[h] + year.ground[h];
    return plain + (mirror ? mirror.beam[h] + mirror.diffuse[h] : 0);
  });
