import type { Plane } from "../sun/position";

const { abs, cos, hypot, max, min, sign, sin, PI } = Math;

const RAD = PI / 180;

/** Right along the box's width, up its slope, and out of its plane, seen from the front; m, or a direction. */
export type Vector = readonly [number, number, number];

/** The lit opening of a box, its lower left corner the origin. */
export interface Opening {
  widthM: number;
  lengthM: number;
}

/** A flat rectangle beside an opening: a corner and its two edges from there, at right angles. */
export interface MirrorPlace {
  corner: Vector;
  along: Vector;
  across: Vector;
}

export interface MirrorBeam {
  /** Share of the opening that the mirror's light falls on, 0 to 1. */
  lit: number;
  /** Cosine of that light's incidence on the opening; 0 where nothing is lit. */
  cosine: number;
  /** Share of the opening in the mirror's shadow. */
  shaded: number;
}

const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const plus = (a: Vector, b: Vector, f = 1): Vector => [a[0] + f * b[0], a[1] + f * b[1], a[2] + f * b[2]];
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: Vector): Vector => plus([0, 0, 0], a, 1 / hypot(...a));

/** Right, up the slope and outward of a plane, as east, north and up. */
export function frameOf({ tilt, azimuth }: Plane): { right: Vector; up: Vector; out: Vector } {
  const [st, ct] = [sin(tilt * RAD), cos(tilt * RAD)];
  const [sa, ca] = [sin(azimuth * RAD), cos(azimuth * RAD)];
  return { right: [-ca, sa, 0], up: [-ct * sa, -ct * ca, st], out: [st * sa, st * ca, ct] };
}

/** Where the sun stands, seen from a plane. @param sun degrees; azimuth clockwise from north */
export function sunFrom(plane: Plane, sun: { altitude: number; azimuth: number }): Vector {
  const c = cos(sun.altitude * RAD);
  const world: Vector = [c * sin(sun.azimuth * RAD), c * cos(sun.azimuth * RAD), sin(sun.altitude * RAD)];
  const { right, up, out } = frameOf(plane);
  return [dot(world, right), dot(world, up), dot(world, out)];
}

export const HINGES = ["bottom", "top", "left", "right"] as const;
export type Hinge = (typeof HINGES)[number];

/** A mirror along one edge of an opening. */
export interface HingedMirror {
  hinge: Hinge;
  /** Out from the hinge. */
  depthM: number;
  /** Along the hinge, in the middle of the edge; the edge's own length when left out. */
  widthM?: number;
  /** Between opening and mirror, degrees: 90 stands straight out, 180 lies on in its plane. */
  angle: number;
  /** From the opening's edge to the hinge. */
  gapM?: number;
}

export function hingedPlace(box: Opening, m: HingedMirror): MirrorPlace {
  const gap = m.gapM ?? 0;
  const upright = m.hinge === "left" || m.hinge === "right";
  const edge = upright ? box.lengthM : box.widthM;
  const width = m.widthM ?? edge;
  const from = (edge - width) / 2;
  // Toward the opening, along the plane.
  const inward = m.depthM * cos(m.angle * RAD);
  const out = m.depthM * sin(m.angle * RAD);
  const along: Vector = upright ? [0, width, 0] : [width, 0, 0];
  switch (m.hinge) {
    case "bottom":
      return { corner: [from, -gap, 0], along, across: [0, inward, out] };
    case "top":
      return { corner: [from, box.lengthM + gap, 0], along, across: [0, -inward, out] };
    case "left":
      return { corner: [-gap, from, 0], along, across: [inward, 0, out] };
    case "right":
      return { corner: [box.widthM + gap, from, 0], along, across: [-inward, 0, out] };
  }
}

/** Points of a mirror by the shares of its edges. */
type Share = readonly [number, number];
/** f0 + f1·α + f2·β over a mirror's shares. */
type Linear = readonly [number, number, number];

/** What is left of a convex patch where a linear function is not negative (Sutherland & Hodgman 1974). */
function clipped(patch: readonly Share[], f: Linear): readonly Share[] {
  const n = patch.length;
  if (n === 0) return patch;
  const kept: Share[] = [];
  let p = patch[n - 1];
  let a = f[0] + f[1] * p[0] + f[2] * p[1];
  for (let i = 0; i < n; i++) {
    const q = patch[i];
    const b = f[0] + f[1] * q[0] + f[2] * q[1];
    if (a >= 0 !== b >= 0) {
      const t = a / (a - b);
      kept.push([p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]);
    }
    if (b >= 0) kept.push(q);
    p = q;
    a = b;
  }
  return kept;
}

const areaOf = (patch: readonly Share[]): number =>
  abs(
    patch.reduce((s, p, i) => {
      const q = patch[(i + 1) % patch.length];
      return s + p[0] * q[1] - q[0] * p[1];
    }, 0),
  ) / 2;

const WHOLE: readonly Share[] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

/** A mirror's points carried along a direction onto the opening's plane: right and up as functions of the mirror's shares. */
function carried({ corner, along, across }: MirrorPlace, direction: Vector): [Linear, Linear] {
  const axis = (k: 0 | 1): Linear => {
    const slope = direction[k] / direction[2];
    return [corner[k] - slope * corner[2], along[k] - slope * along[2], across[k] - slope * across[2]];
  };
  return [axis(0), axis(1)];
}

/** A patch of the mirror as far as it is carried onto the opening. */
function onto(box: Opening, patch: readonly Share[], [x, y]: [Linear, Linear]): readonly Share[] {
  const less = (limit: number, f: Linear): Linear => [limit - f[0], -f[1], -f[2]];
  return [x, less(box.widthM, x), y, less(box.lengthM, y)].reduce<readonly Share[]>((p, f) => clipped(p, f), patch);
}

const spread = ([x, y]: [Linear, Linear]) => abs(x[1] * y[2] - x[2] * y[1]);

/**
 * Beam that a flat mirror throws onto an opening, and its shadow there. The mirror is lit on the face that looks at the opening's middle; what the box
 * itself keeps from it, with the sun behind the box's plane, is left out. Exact for a specular mirror and parallel light.
 *
 * @param sun toward the sun, as `sunFrom` gives it
 */
export function mirrorBeam(box: Opening, mirror: MirrorPlace, sun: Vector): MirrorBeam {
  const area = box.widthM * box.lengthM;
  const normal = facing(box, mirror);
  // Only what stands before the opening's plane lights or shades it.
  const before = clipped(WHOLE, [mirror.corner[2], mirror.along[2], mirror.across[2]]);
  const nothing: MirrorBeam = { lit: 0, cosine: 0, shaded: 0 };
  if (!normal || areaOf(before) < 1e-12) return nothing;
  const shadow = sun[2] > 1e-9 ? carried(mirror, sun) : null;
  const shaded = shadow ? (areaOf(onto(box, before, shadow)) * spread(shadow)) / area : 0;
  const facingSun = dot(sun, normal);
  if (facingSun <= 1e-9) return { ...nothing, shaded };
  const travel: Vector = plus([-sun[0], -sun[1], -sun[2]], normal, 2 * facingSun);
  if (travel[2] >= -1e-9) return { ...nothing, shaded };
  const light = carried(mirror, travel);
  const patch = onto(box, before, light);
  // With the sun behind the plane the box stands between it and a part of the mirror.
  const hidden = sun[2] < -1e-9 ? areaOf(onto(box, patch, carried(mirror, sun))) : 0;
  const lit = (max(0, areaOf(patch) - hidden) * spread(light)) / area;
  return lit > 1e-9 ? { lit: min(1, lit), cosine: -travel[2], shaded } : { ...nothing, shaded };
}

/** Normal of the face that looks at the opening's middle; null where the opening is seen edge on or the mirror has no size. */
function facing(box: Opening, { corner, along, across }: MirrorPlace): Vector | null {
  const normal = cross(along, across);
  if (hypot(...normal) < 1e-12) return null;
  const side = dot(plus([box.widthM / 2, box.lengthM / 2, 0], corner, -1), normal);
  if (abs(side) < 1e-12) return null;
  return unit(plus([0, 0, 0], normal, sign(side)));
}

/** Corners of what a mirror lights on the opening's plane, in metres right and up, clipped to the opening; empty where nothing is lit. */
export function litShape(box: Opening, mirror: MirrorPlace, sun: Vector): (readonly [number, number])[] {
  const normal = facing(box, mirror);
  const before = clipped(WHOLE, [mirror.corner[2], mirror.along[2], mirror.across[2]]);
  const facingSun = normal ? dot(sun, normal) : 0;
  if (!normal || facingSun <= 1e-9 || before.length < 3) return [];
  const travel: Vector = plus([-sun[0], -sun[1], -sun[2]], normal, 2 * facingSun);
  if (travel[2] >= -1e-9) return [];
  const light = carried(mirror, travel);
  const at = (f: Linear, [a, b]: Share) => f[0] + f[1] * a + f[2] * b;
  return onto(box, before, light).map((p) => [at(light[0], p), at(light[1], p)] as const);
}

/** Why a mirror throws nothing onto the opening at an instant, or that it does. */
export type MirrorState = "night" | "sunBehindPlane" | "sunBehindMirror" | "seenEdgeOn" | "misses" | "lights";

/** @param altitude of the sun, degrees */
export function mirrorState(box: Opening, mirror: MirrorPlace, sun: Vector, altitude: number): MirrorState {
  if (altitude <= 0) return "night";
  const normal = facing(box, mirror);
  if (!normal) return "seenEdgeOn";
  if (mirrorBeam(box, mirror, sun).lit > 0) return "lights";
  if (sun[2] <= 0) return "sunBehindPlane";
  return dot(sun, normal) <= 0 ? "sunBehindMirror" : "misses";
}
