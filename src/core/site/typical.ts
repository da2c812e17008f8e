import { erbsDiffuseFraction, clearSky, transpose, type Irradiance } from "../sun/clearSky";
import { extraterrestrialNormal, sunPosition, type Plane, type SunPosition } from "../sun/position";
import { clearDayKwh, middleOfMonth, type Climate } from "./climate";
import { beamShare, skyShare } from "./shade";
import { middleOfBench, planeLight, surroundingsOf, type SiteWorld } from "./site";
import { startOfDay } from "../log/zone";

const HOUR = 3600000;
const { sin, max, min, PI } = Math;

/** Middle days of the months at a site: starts of the calendar days. */
export const monthDays = (site: SiteWorld, year: number): number[] =>
  Array.from({ length: 12 }, (_, m) => startOfDay(middleOfMonth(year, m) + 12 * HOUR, site.zone));

/**
 * The sky of an average day: the clear sky's hours scaled to the month's irradiation, split into beam and diffuse by Erbs. The day's
 * shape is the clear day's; single days differ. @param scale month's irradiation over the clear day's
 */
const averageSky =
  (site: SiteWorld, month: number, scale: number) =>
  (ms: number, sun: SunPosition): Irradiance => {
    const clear = clearSky(ms, site, site.detail.turbidity[month], sun);
    const global = clear.global * scale;
    const s = sin(max(0, sun.altitude) * (PI / 180));
    if (global <= 0 || s <= 0) return { global: 0, beamNormal: 0, diffuse: 0 };
    const diffuse = global * erbsDiffuseFraction(global / (extraterrestrialNormal(ms) * s));
    return { global, diffuse, beamNormal: min(clear.beamNormal, (global - diffuse) / s) };
  };

const scaleOf = (site: SiteWorld, climate: Climate | null, month: number, dayMs: number): number => {
  if (!climate) return 1;
  const clear = clearDayKwh(dayMs, site, site.detail.turbidity[month]);
  return clear > 0.05 ? climate.months[month].globalKwhM2 / clear : 0;
};

export interface HourMap {
  /** [month][local hour]: mean over the hour, W/m². */
  irradiance: number[][];
  /** [month][local hour]: at mid-hour, degrees; null with the sun down, behind the plane or behind skyline and obstacles. */
  incidence: (number | null)[][];
}

/** Light in the plane by month and local hour on the month's middle day: of a clear sky, or of an average day of the climate. Shade counts. */
export function hourMap(site: SiteWorld, plane: Plane, climate: Climate | null, year: number): HourMap {
  const receiver = middleOfBench(plane);
  const irradiance: number[][] = [];
  const incidence: (number | null)[][] = [];
  monthDays(site, year).forEach((dayMs, month) => {
    const scale = scaleOf(site, climate, month, dayMs);
    const light = planeLight(
      site,
      receiver,
      surroundingsOf(site, dayMs + 12 * HOUR),
      climate ? averageSky(site, month, scale) : undefined,
    );
    irradiance.push(
      Array.from(
        { length: 24 },
        (_, h) => [10, 30, 50].reduce((s, m) => s + light(dayMs + h * HOUR + m * 60000).total, 0) / 3,
      ),
    );
    incidence.push(
      Array.from({ length: 24 }, (_, h) => {
        const l = light(dayMs + (h + 0.5) * HOUR);
        return l.beamShare > 0 && l.incidence < 90 ? l.incidence : null;
      }),
    );
  });
  return { irradiance, incidence };
}

export interface TiltChoice {
  tilt: number;
  /** Mean daily irradiation in the plane over the months, kWh/m². */
  kwhM2: number;
}

/**
 * Irradiation against tilt over chosen months (0 to 11) for a plane of one azimuth, in steps of 1°, and the best of them. On
 * average days of the climate, or clear ones without; skyline and obstacles count.
 */
export function tiltCurve(
  site: SiteWorld,
  azimuth: number,
  months: readonly number[],
  climate: Climate | null,
  year: number,
): { curve: TiltChoice[]; best: TiltChoice } {
  const hours = months.flatMap((month) => {
    const dayMs = monthDays(site, year)[month];
    const sky = averageSky(site, month, scaleOf(site, climate, month, dayMs));
    const around = surroundingsOf(site, dayMs + 12 * HOUR);
    return Array.from({ length: 48 }, (_, i) => dayMs + (i + 0.5) * (HOUR / 2)).flatMap((ms) => {
      const sun = sunPosition(ms, site);
      if (sun.altitude <= 0) return [];
      const light = climate ? sky(ms, sun) : clearSky(ms, site, site.detail.turbidity[month], sun);
      return [{ ms, sun, month, light, share: beamShare(sun, middleOfBench({ tilt: 45, azimuth }), around), around }];
    });
  });
  // The view of the sky changes slowly with tilt: worked out at four tilts of the first month and joined by lines.
  const at = [0, 30, 60, 90];
  const seen = hours.length
    ? at.map((tilt) => skyShare(middleOfBench({ tilt, azimuth }), hours[0].around))
    : at.map(() => 1);
  const curve = Array.from({ length: 91 }, (_, tilt): TiltChoice => {
    const k = min(2, Math.floor(tilt / 30));
    const sky = seen[k] + ((seen[k + 1] - seen[k]) * (tilt - 30 * k)) / 30;
    const sum = hours.reduce(
      (s, h) =>
        s +
        transpose(h.light, {
          timeMs: h.ms,
          sun: h.sun,
          plane: { tilt, azimuth },
          groundReflectance: site.detail.groundReflectance[h.month],
          model: site.detail.skyModel,
          shading: { beam: h.share, sky },
        }).total,
      0,
    );
    return { tilt, kwhM2: sum / 2000 / max(1, months.length) };
  });
  return { curve, best: curve.reduce((a, b) => (b.kwhM2 > a.kwhM2 ? b : a)) };
}

/** Half the opening of the cone within which testing at normal incidence is possible, degrees. */
export const CONE = 30;

/** Directions of sun paths over the year's 21sts and the cone of incidence about the plane's normal, for a chart of altitude against azimuth. */
export function sunPaths(
  site: SiteWorld,
  year: number,
): { month: number; points: { ms: number; azimuth: number; altitude: number }[] }[] {
  return [11, 0, 1, 2, 3, 4, 5].map((month) => {
    const start = startOfDay(Date.UTC(year, month, 21, 12) - (site.longitude / 15) * HOUR, site.zone);
    const points = Array.from({ length: 145 }, (_, i) => start + i * 10 * 60000)
      .map((ms) => ({ ms, ...sunPosition(ms, site) }))
      .filter((p) => p.altitude > -1);
    return { month, points };
  });
}

/** Outline of the cone of {@link CONE} degrees about the plane's normal: directions above the horizontal and a little below. */
export function coneOutline(plane: Plane, half = CONE): { azimuth: number; altitude: number }[] {
  const rad = PI / 180;
  const h = 90 - plane.tilt;
  return Array.from({ length: 73 }, (_, i) => {
    const turn = i * 5 * rad;
    // A circle of the sphere about (azimuth, h): the law of cosines from its centre.
    const altitude = Math.asin(
      max(-1, min(1, sin(h * rad) * Math.cos(half * rad) + Math.cos(h * rad) * sin(half * rad) * Math.cos(turn))),
    );
    const dAz = Math.atan2(
      sin(turn) * sin(half * rad) * Math.cos(h * rad),
      Math.cos(half * rad) - sin(h * rad) * sin(altitude),
    );
    return { azimuth: plane.azimuth + dAz / rad, altitude: altitude / rad };
  });
}
