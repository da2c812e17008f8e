import fc from "fast-check";
import { seededRandom } from "../random/seededRandom";
import { incidenceAngle, sunPosition } from "../sun/position";
import { HINGES, hingedPlace, mirrorBeam, sunFrom, type MirrorPlace, type Opening, type Vector } from "./geometry";

const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const sub = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const at = (p: Vector, d: Vector, t: number): Vector => [p[0] + t * d[0], p[1] + t * d[1], p[2] + t * d[2]];

/** How far along a ray a rectangle is met, or null. */
function meets(p: Vector, d: Vector, { corner, along, across }: MirrorPlace): number | null {
  const n = cross(along, across);
  const t = dot(sub(corner, p), n) / dot(d, n);
  if (!(t > 1e-9)) return null;
  const q = sub(at(p, d, t), corner);
  const [a, b] = [dot(q, along) / dot(along, along), dot(q, across) / dot(across, across)];
  return a >= 0 && a <= 1 && b >= 0 && b <= 1 ? t : null;
}

/** The same by rays traced back from random points of the opening. */
function traced(box: Opening, mirror: MirrorPlace, sun: Vector, seed: number, rays: number) {
  const random = seededRandom(seed);
  const sheet: MirrorPlace = { corner: [0, 0, 0], along: [box.widthM, 0, 0], across: [0, box.lengthM, 0] };
  const n = cross(mirror.along, mirror.across);
  const size = Math.hypot(...n);
  const middle: Vector = [box.widthM / 2, box.lengthM / 2, 0];
  const sign = Math.sign(dot(sub(middle, mirror.corner), n));
  const normal: Vector = [(sign * n[0]) / size, (sign * n[1]) / size, (sign * n[2]) / size];
  const k = 2 * dot(sun, normal);
  // Back along the light that reaches the opening: toward where it left the mirror.
  const back: Vector = [sun[0] - k * normal[0], sun[1] - k * normal[1], sun[2] - k * normal[2]];
  let [lit, shaded] = [0, 0];
  for (let i = 0; i < rays; i++) {
    const p: Vector = [random.uniform() * box.widthM, random.uniform() * box.lengthM, 0];
    if (sun[2] > 0 && meets(p, sun, mirror) !== null) shaded++;
    if (!(k > 0) || !(back[2] > 0)) continue;
    const t = meets(p, back, mirror);
    if (t === null) continue;
    if (meets(at(p, back, t), sun, sheet) === null) lit++;
  }
  return { lit: lit / rays, shaded: shaded / rays, cosine: back[2] };
}

const BOX = { widthM: 1, lengthM: 2 };
const hinge = fc.constantFrom(...HINGES);
const geometry = fc.record({
  hinge,
  depthM: fc.double({ min: 0.2, max: 2.5, noNaN: true }),
  widthM: fc.double({ min: 0.3, max: 3, noNaN: true }),
  angle: fc.double({ min: 50, max: 170, noNaN: true }),
  gapM: fc.double({ min: 0, max: 0.4, noNaN: true }),
});
const sky = fc.record({
  latitude: fc.double({ min: -62, max: 62, noNaN: true }),
  day: fc.integer({ min: 0, max: 364 }),
  hour: fc.double({ min: 5, max: 19, noNaN: true }),
  tilt: fc.double({ min: 0, max: 90, noNaN: true }),
  turned: fc.double({ min: -70, max: 70, noNaN: true }),
});
type Sky = typeof sky extends fc.Arbitrary<infer T> ? T : never;
/** Plane that looks at the equator more or less, and the sun seen from it. */
function seen({ latitude, day, hour, tilt, turned }: Sky) {
  const plane = { tilt, azimuth: (latitude >= 0 ? 180 : 0) + turned };
  const sun = sunPosition(Date.UTC(2026, 0, 1) + day * 864e5 + hour * 36e5, { latitude, longitude: 0 });
  return { plane, sun, toSun: sunFrom(plane, sun) };
}

describe("a mirror beside an opening", () => {
  test("agrees with traced rays: all hinges, both hemispheres, every gap, width and angle", () => {
    let [litSomewhere, shadedSomewhere, checked] = [0, 0, 0];
    const used = new Set<string>();
    fc.assert(
      fc.property(geometry, sky, (g, s) => {
        const { sun, toSun } = seen(s);
        fc.pre(sun.altitude > 2);
        const place = hingedPlace(BOX, g);
        const rays = 6000;
        const exact = mirrorBeam(BOX, place, toSun);
        const found = traced(BOX, place, toSun, 7, rays);
        for (const key of ["lit", "shaded"] as const)
          expect(Math.abs(exact[key] - found[key])).toBeLessThan(4.5 * Math.sqrt(0.25 / rays) + 1e-3);
        if (exact.lit > 0.01) expect(exact.cosine).toBeCloseTo(found.cosine, 9);
        checked++;
        if (exact.lit > 0.02) {
          litSomewhere++;
          used.add(`${g.hinge}${s.latitude > 0}`);
        }
        if (exact.shaded > 0.02) shadedSomewhere++;
      }),
      { seed: 41, numRuns: 400 },
    );
    expect(checked).toBeGreaterThan(200);
    expect(litSomewhere).toBeGreaterThan(60);
    expect(shadedSomewhere).toBeGreaterThan(20);
    // Each hinge has lit something on either side of the equator.
    expect(used.size).toBe(8);
  });

  test("sends no more light than it takes: what falls on the opening crossed the mirror", () =>
    fc.assert(
      fc.property(geometry, sky, (g, s) => {
        const { toSun } = seen(s);
        const place = hingedPlace(BOX, g);
        const { lit, cosine } = mirrorBeam(BOX, place, toSun);
        const n = cross(place.along, place.across);
        expect(lit * cosine * BOX.widthM * BOX.lengthM).toBeLessThanOrEqual(Math.abs(dot(toSun, n)) + 1e-9);
      }),
      { seed: 5, numRuns: 600 },
    ));

  test("left and right are each other's mirror image, morning for afternoon", () =>
    fc.assert(
      fc.property(geometry, sky, (g, s) => {
        const { toSun } = seen(s);
        const turned: Vector = [-toSun[0], toSun[1], toSun[2]];
        const other = ({ bottom: "bottom", top: "top", left: "right", right: "left" } as const)[g.hinge];
        const one = mirrorBeam(BOX, hingedPlace(BOX, g), toSun);
        const two = mirrorBeam(BOX, hingedPlace(BOX, { ...g, hinge: other }), turned);
        for (const key of ["lit", "shaded", "cosine"] as const) expect(two[key]).toBeCloseTo(one[key], 9);
      }),
      { seed: 6, numRuns: 300 },
    ));

  test("limits: no depth, in the plane of the box, behind it, a long trough", () => {
    const sun: Vector = [0, -0.5, Math.sqrt(0.75)];
    const beam = (angle: number, depthM: number, s: Vector = sun) =>
      mirrorBeam(BOX, hingedPlace(BOX, { hinge: "bottom", depthM, angle }), s);
    expect(beam(120, 0)).toEqual({ lit: 0, cosine: 0, shaded: 0 });
    expect(beam(180, 1).lit).toBe(0);
    expect(beam(200, 1)).toEqual({ lit: 0, cosine: 0, shaded: 0 });
    // Straight out, the sun on the normal: it grazes the mirror and lights nothing.
    expect(beam(90, 1, [0, 0, 1]).lit).toBe(0);
    // At 120° and the sun on the normal the light comes in at 60°, over the foot of the box: 0.5·(−1) + 0.866·tan 60° = 1 m of 2.
    const normal = beam(120, 1, [0, 0, 1]);
    expect(normal.cosine).toBeCloseTo(0.5, 9);
    expect(normal.lit).toBeCloseTo(0.5, 9);
    // A mirror wide enough lights the whole of it.
    expect(
      mirrorBeam(BOX, hingedPlace(BOX, { hinge: "bottom", depthM: 4, widthM: 9, angle: 120 }), [0, 0, 1]).lit,
    ).toBe(1);
  });

  test("the sun seen from a plane stands at its angle of incidence", () =>
    fc.assert(
      fc.property(sky, (s) => {
        const { plane, sun, toSun } = seen(s);
        expect(Math.hypot(...toSun)).toBeCloseTo(1, 9);
        expect((Math.acos(Math.max(-1, Math.min(1, toSun[2]))) * 180) / Math.PI).toBeCloseTo(
          incidenceAngle(sun, plane),
          6,
        );
      }),
      { seed: 3, numRuns: 300 },
    ));
});
