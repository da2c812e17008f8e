const { asin, cos, exp, sin, tan, PI } = Math;
const RAD = PI / 180;

/** One sheet of a cover. Clear sheets only: light passes or is absorbed, it is not scattered. */
export interface Cover {
  /** Refractive index: glass 1.526, acrylic 1.49, polycarbonate 1.60, fluoropolymer film 1.37 to 1.45 (DB table 5.1.1). */
  index: number;
  /** Extinction coefficient × thickness, dimensionless: 0.0125 for 3 mm of low-iron glass (4 1/m), 0.1 for 3 mm of greenish glass (32 1/m). */
  extinction: number;
}

/** Three millimetres of low-iron glass. @testing */
export const CLEAR_GLASS: Cover = { index: 1.526, extinction: 0.0125 };

interface Share {
  transmitted: number;
  reflected: number;
}

/** What becomes of unpolarised light on a cover system, shares of 1. */
export interface CoverOptics extends Share {
  absorbed: number;
}

/** Angle inside the sheet, degrees (Snell; DB 5.1.4). @param incidence 0 to 90 */
export const refractionAngle = (incidence: number, index: number): number => asin(sin(incidence * RAD) / index) / RAD;

/**
 * Reflectance of one surface for the two polarisations (Fresnel; DB 5.1.1 and 5.1.2): perpendicular and parallel
 * to the plane of incidence. At normal incidence both are ((n−1)/(n+1))² (DB 5.1.5).
 */
export function surfaceReflectance(incidence: number, index: number): { perpendicular: number; parallel: number } {
  if (incidence < 0.01) {
    const r = ((index - 1) / (index + 1)) ** 2;
    return { perpendicular: r, parallel: r };
  }
  if (incidence >= 90) return { perpendicular: 1, parallel: 1 };
  const a = incidence * RAD;
  const b = refractionAngle(incidence, index) * RAD;
  return { perpendicular: (sin(b - a) / sin(b + a)) ** 2, parallel: (tan(b - a) / tan(b + a)) ** 2 };
}

/** One sheet for one polarisation, all inner reflections counted (DB 5.3.1 and 5.3.2). */
function sheet(r: number, passed: number): Share {
  const transmitted = (passed * (1 - r) ** 2) / (1 - (r * passed) ** 2);
  return { transmitted, reflected: r * (1 + passed * transmitted) };
}

/** An outer system and an inner one as one, seen from outside (DB 5.3.7 and 5.3.8, reflection from both sides of the outer alike). */
function stack(outer: Share, inner: Share): Share {
  const between = 1 / (1 - outer.reflected * inner.reflected);
  return {
    transmitted: outer.transmitted * inner.transmitted * between,
    reflected: outer.reflected + outer.transmitted ** 2 * inner.reflected * between,
  };
}

/**
 * Transmittance, reflectance and absorptance of 0 to 3 covers of any materials, outermost first (DB chapter 5.1 to 5.3).
 * Systems of unlike sheets are slightly different seen from inside; that difference (below 0.01) is left out.
 *
 * @param incidence degrees, 0 to 90; from 90 on nothing passes
 * @example coverOptics([{ index: 1.526, extinction: 0 }], 0).transmitted // 0.917
 */
export function coverOptics(covers: readonly Cover[], incidence: number): CoverOptics {
  if (covers.length === 0) return { transmitted: 1, reflected: 0, absorbed: 0 };
  if (incidence >= 90) return { transmitted: 0, reflected: 1, absorbed: 0 };
  for (const { index, extinction } of covers) {
    if (!(index >= 1 && index < 4 && extinction >= 0))
      throw new RangeError("a cover's index lies between 1 and 4, its extinction is not negative");
  }
  const along = (polarisation: "perpendicular" | "parallel"): Share =>
    covers
      .map(({ index, extinction }) =>
        sheet(
          surfaceReflectance(incidence, index)[polarisation],
          exp(-extinction / cos(refractionAngle(incidence, index) * RAD)),
        ),
      )
      .reduceRight((inner, outer) => stack(outer, inner));
  const [s, p] = [along("perpendicular"), along("parallel")];
  const transmitted = (s.transmitted + p.transmitted) / 2;
  const reflected = (s.reflected + p.reflected) / 2;
  return { transmitted, reflected, absorbed: 1 - transmitted - reflected };
}

/** Angle at which beam passes covers as sky light does, degrees (Brandemuehl & Beckman 1980; DB 5.4.2). @param tilt degrees, 0 to 90 */
export const skyEquivalentAngle = (tilt: number): number => 59.7 - 0.1388 * tilt + 0.001497 * tilt ** 2;

/** The same for light from the ground (DB 5.4.1). */
export const groundEquivalentAngle = (tilt: number): number => 90 - 0.5788 * tilt + 0.002693 * tilt ** 2;

/**
 * Transmittance–absorptance product: light that passes, is absorbed, or is thrown back and caught again by the inner
 * side of the cover (DB 5.5.1). @param innerReflectance of the covers for diffuse light from below
 */
export function transmittanceAbsorptance(transmittance: number, absorptance: number, innerReflectance: number): number {
  return (transmittance * absorptance) / (1 - (1 - absorptance) * innerReflectance);
}

/** Reflectance of covers for diffuse light from below: at the equivalent 60° (DB 5.5). */
export const innerReflectance = (covers: readonly Cover[]): number => coverOptics(covers, 60).reflected;

/** Absorptance of flat black paint at an angle over that at normal incidence (DB 4.11.1, for 0 to 80°). */
export function blackPaintRatio(incidence: number): number {
  const t = Math.min(80, incidence);
  return (
    1 +
    t *
      (-1.5879e-3 +
        t * (2.7314e-4 + t * (-2.3026e-5 + t * (9.0244e-7 + t * (-1.8e-8 + t * (1.7734e-10 - t * 6.9937e-13))))))
  );
}

/**
 * Incidence modifier coefficient b0 of a cover system over a black-painted absorber: least squares of K(θ) on
 * 1 − b0(1/cosθ − 1) from 0 to 60° (DB 6.17.10). Above 0.1 for one glass, more for two, least without a cover. Deep
 * forms (mesh, fins, cans) catch flat light better than a painted sheet, so it is an upper guess for them.
 */
export function incidenceCoefficient(covers: readonly Cover[]): number {
  let xy = 0;
  let xx = 0;
  for (let angle = 5; angle <= 60; angle += 5) {
    const x = 1 / cos(angle * RAD) - 1;
    xy += x * (1 - paintedModifier(covers, angle));
    xx += x * x;
  }
  return xy / xx;
}

/** K(θ) of covers over a black-painted absorber. */
const paintedModifier = (covers: readonly Cover[], angle: number): number =>
  (coverOptics(covers, angle).transmitted * blackPaintRatio(angle)) / coverOptics(covers, 0).transmitted;

/** K at 65, 70, 75, 80 and 85° over 1 − b0, which is K at 60° as b0 has it. */
export type Slanted = readonly [number, number, number, number, number];

/** Of one clear glass: what is taken where nobody knows the covers. */
export const ONE_GLASS: Slanted = [0.897, 0.77, 0.592, 0.361, 0.192];

/** How light beyond 60° passes covers over a black-painted absorber. @example slantedBy([{ index: 1.526, extinction: 0.0125 }]) // [0.897, 0.77, 0.592, 0.361, 0.192] */
export function slantedBy(covers: readonly Cover[]): Slanted {
  const fitted = 1 - incidenceCoefficient(covers);
  const at = (angle: number) => Number((paintedModifier(covers, angle) / fitted).toFixed(3));
  // Paint was measured up to 80°; at 90° nothing comes.
  const flat = covers.length ? at(85) : at(80) / 2;
  return [at(65), at(70), at(75), at(80), flat];
}
