import { addedOfDay, adjustmentList, ANGLES, bestOfDay, thrownTo, type Adjustment } from "../mirror/angles";
import { frameOf, type Opening, type Vector } from "../mirror/geometry";
import type { Mirror } from "../mirror/mirror";
import { incidenceModifier } from "../sun/clearSky";
import { sunPosition, type Plane } from "../sun/position";
import type { Candidate } from "./season";
import { effectiveLight, planeYear, type SeasonMirror } from "./light";
import { HOURS, MONTH_DAYS, monthOfHour, SEASON_YEAR, type WeatherYear } from "./weather";
import type { SiteWorld } from "../site/site";

/** A box with its mirrors at a place, and the curve that says what light is worth. */
export interface MirrorCase {
  site: SiteWorld;
  plane: Plane;
  box: Opening;
  mirrors: readonly SeasonMirror[];
  candidate: Candidate;
  /** What is heated stands so much above outside, K. */
  aboveK: readonly number[];
  toleranceDeg: number;
  /** Of the low solstice the list begins at. */
  listYear: number;
}

export interface MirrorYearView {
  /** [month][hour of standard time]: mean share of the opening lit while the sun is up, 0 to the number of mirrors; null without sun. */
  lit: (number | null)[][];
  /** Mean irradiance added, W/m²; less than nothing where mirrors shade more than they throw. */
  added: (number | null)[][];
  /** Light in the plane of a year, kWh/m², without mirrors and with them; by month too. */
  light: { without: number; with: number; months: { without: number; with: number }[] };
  /** Useful heat a year at each temperature, kWh/m². */
  heat: { aboveK: number; without: number; with: number; months: { without: number; with: number }[] }[];
  /** Most irradiance with the mirrors, over the most without. */
  strongest: { without: number; with: number };
  /** For the first mirror: light added in a clear year by its angle, the best single angle, and the best of each month. */
  angles: {
    curve: { angle: number; addedKwhM2: number }[];
    best: { angle: number; addedKwhM2: number } | null;
    months: ({ angle: number; addedKwhM2: number } | null)[];
    list: Adjustment[];
  } | null;
  /** Where light that misses goes near the horizon: towards which compass direction, in which months and hours. */
  glare: { azimuth: number; altitude: number; month: number; hour: number }[];
}

const UPRIGHT = Array.from({ length: 12 }, () => ({ without: 0, with: 0 }));

export function mirrorYearOf(c: MirrorCase, weather: WeatherYear): MirrorYearView {
  const receiver = { centre: [0, 0, 1] as const, plane: c.plane, widthM: 1, lengthM: 2 };
  const bare = planeYear(c.site, receiver, weather);
  const own = planeYear(c.site, receiver, weather, c.box, c.mirrors);
  const without = effectiveLight(bare, c.candidate);
  const mirrored = effectiveLight(own, c.candidate);
  const months = UPRIGHT.map((m) => ({ ...m }));
  const heat = c.aboveK.map((aboveK) => ({ aboveK, without: 0, with: 0, months: UPRIGHT.map((m) => ({ ...m })) }));
  const { eta0, a1, a2 } = c.candidate.curve;
  const grid = () => Array.from({ length: 12 }, () => Array<number>(24).fill(0));
  const [lit, added, sunny] = [grid(), grid(), grid()];
  const strongest = { without: 0, with: 0 };
  for (let h = 0; h < HOURS; h++) {
    const [m, clock] = [monthOfHour[h], h % 24];
    if (weather.global[h] <= 0) continue;
    const plain = bare.beam[h] + bare.sky[h] + bare.ground[h];
    const mirror = own.mirror!;
    const gain = mirror.beam[h] + mirror.diffuse[h] - mirror.shaded[h] * bare.beam[h];
    months[m].without += plain / 1000;
    months[m].with += Math.max(0, plain + gain) / 1000;
    sunny[m][clock]++;
    lit[m][clock] += mirror.lit[h];
    added[m][clock] += gain;
    strongest.without = Math.max(strongest.without, plain);
    strongest.with = Math.max(strongest.with, plain + gain);
    for (const at of heat) {
      const lost = a1 * at.aboveK + a2 * at.aboveK ** 2;
      at.months[m].without += Math.max(0, eta0 * without[h] - lost) / 1000;
      at.months[m].with += Math.max(0, eta0 * mirrored[h] - lost) / 1000;
    }
  }
  const total = (list: readonly { without: number; with: number }[]) => ({
    without: list.reduce((s, x) => s + x.without, 0),
    with: list.reduce((s, x) => s + x.with, 0),
  });
  const meanOf = (sums: number[][]) =>
    sums.map((row, m) => row.map((v, k) => (sunny[m][k] > 0 ? v / sunny[m][k] : null)));
  return {
    lit: meanOf(lit),
    added: meanOf(added),
    light: { ...total(months), months },
    heat: heat.map((at) => ({ ...at, ...total(at.months) })),
    strongest,
    angles: anglesOf(c),
    glare: glareOf(c),
  };
}

const noon = (month: number) => Date.UTC(SEASON_YEAR, month, 15, 12);

/** Of the first mirror: a clear day in the middle of each month stands for it. */
function anglesOf({ site, plane, box, mirrors, toleranceDeg, listYear }: MirrorCase): MirrorYearView["angles"] {
  const [first] = mirrors;
  if (!first || first.mirror.stand === "free") return null;
  const { mirror, reflectance } = first;
  const months = MONTH_DAYS.map((_, m) => bestOfDay(site, plane, box, mirror, reflectance, noon(m)));
  const curve = ANGLES.map((angle) => ({
    angle,
    addedKwhM2: clearYear({ site, plane, box, reflectance }, { ...mirror, angle }),
  }));
  const best = curve.reduce((a, b) => (b.addedKwhM2 > a.addedKwhM2 ? b : a));
  return {
    curve,
    best: best.addedKwhM2 > 0 ? best : null,
    months,
    list: adjustmentList(site, plane, box, mirror, reflectance, toleranceDeg, listYear),
  };
}

function clearYear(
  { site, plane, box, reflectance }: { site: SiteWorld; plane: Plane; box: Opening; reflectance: number },
  mirror: Mirror,
): number {
  return MONTH_DAYS.reduce((s, days, m) => s + days * addedOfDay(site, plane, box, mirror, reflectance, noon(m)), 0);
}

/** Light thrown within these degrees of the horizontal meets eyes and windows. */
const LOW = [-20, 12] as const;

function glareOf({ site, plane, box, mirrors }: MirrorCase): MirrorYearView["glare"] {
  const { right, up, out } = frameOf(plane);
  const world = (v: Vector): Vector =>
    [0, 1, 2].map((k) => v[0] * right[k] + v[1] * up[k] + v[2] * out[k]) as unknown as Vector;
  const found: MirrorYearView["glare"] = [];
  for (let month = 0; month < 12; month++)
    for (let hour = 4; hour <= 20; hour++) {
      const ms = Date.UTC(SEASON_YEAR, month, 15, hour) - (site.longitude / 15) * 3600000;
      const position = sunPosition(ms, site);
      if (position.altitude <= 2) continue;
      for (const { mirror } of mirrors) {
        const to = thrownTo(box, plane, mirror, position, world);
        if (!to || to.altitude < LOW[0] || to.altitude > LOW[1]) continue;
        // What goes back over the box's own shoulder into the hill behind it is meant for the box.
        const turn = Math.abs(((to.azimuth - plane.azimuth + 540) % 360) - 180);
        if (turn > 120) continue;
        found.push({ ...to, month, hour });
      }
    }
  return found;
}

/** Heat at an irradiance on a curve, W/m², never less than nothing. @param aboveK of what is heated over outside */
export function heatOf({ curve }: Candidate, light: number, aboveK: number): number {
  return Math.max(0, curve.eta0 * light - curve.a1 * aboveK - curve.a2 * aboveK ** 2);
}

/** What a clear noon asks of the fan: flow of one box that keeps the rise, kg/s, without and with its mirrors. */
export function flowForRise(
  candidate: Candidate,
  light: { without: number; with: number },
  aboveK: number,
  riseK: number,
  cp: number,
): { without: number; with: number } {
  const flow = (g: number) =>
    (heatOf(candidate, g * incidenceModifier(20, candidate.b0), aboveK) * candidate.areaM2) / (riseK * cp);
  return { without: flow(light.without), with: flow(light.with) };
}
