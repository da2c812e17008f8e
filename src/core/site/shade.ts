import type { Plane, SunPosition } from "../sun/position";
import { horizonAltitude, type Horizon } from "./horizon";
import { ofObject } from "../numeric/table";

const { sin, cos, sqrt, PI } = Math;
const RAD = PI / 180;

/** Metres east, north and up of the middle of the bench at the ground. */
export type Point = readonly [east: number, north: number, up: number];

/** What takes light away: a flat four-cornered thing that lets nothing through, or a crown that lets some of it through. */
export type Blocker =
  | { kind: "quad"; owner: string; corners: readonly [Point, Point, Point, Point] }
  | { kind: "crown"; owner: string; centre: Point; radiusM: number; halfHeightM: number; transmittance: number };

/** Things near the bench, as a person measures them: distances along the ground in metres, bearings clockwise from north. */
export type Obstacle =
  | {
      id: string;
      kind: "wall";
      name: string;
      bearing: number;
      distanceM: number;
      widthM: number;
      heightM: number;
      /** Direction its face looks, degrees; null: square to the bench. */ facing: number | null;
    }
  | {
      id: string;
      kind: "tree";
      name: string;
      bearing: number;
      distanceM: number;
      crownDiameterM: number;
      topM: number;
      bottomM: number;
      transmittance: number;
      winterTransmittance: number;
    };

/** Months (1 to 12) in which a deciduous tree is bare, by hemisphere. A typical value: leaves come and go with place and kind. */
export const bareMonths = (latitude: number): readonly number[] =>
  latitude >= 0 ? [11, 12, 1, 2, 3, 4] : [5, 6, 7, 8, 9, 10];

export const direction = (azimuth: number, altitude: number): Point => [
  cos(altitude * RAD) * sin(azimuth * RAD),
  cos(altitude * RAD) * cos(azimuth * RAD),
  sin(altitude * RAD),
];

const ground = (bearing: number, distance: number): [number, number] => [
  distance * sin(bearing * RAD),
  distance * cos(bearing * RAD),
];

/** An obstacle as something rays can meet, in a month of the year. */
export function blockerOf(o: Obstacle, month: number, latitude: number): Blocker {
  const [east, north] = ground(o.bearing, o.distanceM);
  if (o.kind === "wall") {
    const along = (o.facing ?? o.bearing + 180) + 90;
    const [dx, dy] = ground(along, o.widthM / 2);
    return {
      kind: "quad",
      owner: o.name,
      corners: [
        [east - dx, north - dy, 0],
        [east + dx, north + dy, 0],
        [east + dx, north + dy, o.heightM],
        [east - dx, north - dy, o.heightM],
      ],
    };
  }
  const bare = bareMonths(latitude).includes(month);
  return {
    kind: "crown",
    owner: o.name,
    centre: [east, north, (o.topM + o.bottomM) / 2],
    radiusM: o.crownDiameterM / 2,
    halfHeightM: (o.topM - o.bottomM) / 2,
    transmittance: bare ? o.winterTransmittance : o.transmittance,
  };
}

/** Share of light, 0 to 1, that passes a blocker on its way along a direction to a point. */
export function passes(blocker: Blocker, from: Point, towards: Point): number {
  if (blocker.kind === "crown") {
    // The ellipsoid scaled to a unit sphere; met when the ray's line comes within it and it is not behind.
    const scale = [blocker.radiusM, blocker.radiusM, blocker.halfHeightM];
    const o = from.map((v, i) => (v - blocker.centre[i]) / scale[i]);
    const d = towards.map((v, i) => v / scale[i]);
    const a = d[0] ** 2 + d[1] ** 2 + d[2] ** 2;
    const b = o[0] * d[0] + o[1] * d[1] + o[2] * d[2];
    const c = o[0] ** 2 + o[1] ** 2 + o[2] ** 2 - 1;
    const root = b * b - a * c;
    return root > 0 && (-b + sqrt(root)) / a > 0 ? blocker.transmittance : 1;
  }
  const [p0, p1, p2, p3] = blocker.corners;
  return hitsTriangle(from, towards, p0, p1, p2) || hitsTriangle(from, towards, p0, p2, p3) ? 0 : 1;
}

/** Ray against triangle (Möller & Trumbore 1997). */
function hitsTriangle(from: Point, d: Point, a: Point, b: Point, c: Point): boolean {
  const e1 = minus(b, a);
  const e2 = minus(c, a);
  const p = cross(d, e2);
  const det = dot(e1, p);
  if (Math.abs(det) < 1e-12) return false;
  const t = minus(from, a);
  const u = dot(t, p) / det;
  if (u < 0 || u > 1) return false;
  const q = cross(t, e1);
  const v = dot(d, q) / det;
  if (v < 0 || u + v > 1) return false;
  return dot(e2, q) / det > 1e-6;
}

const minus = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Point, b: Point): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Point, b: Point): Point => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** A collector's glass: where its light is sampled. `across` runs level along it, `up` up its slope. */
export interface Receiver {
  centre: Point;
  plane: Plane;
  widthM: number;
  lengthM: number;
}

const GRID = 4;

/** Axes of a plane: across (level), up the slope, and its normal. */
export function axesOf(plane: Plane): { across: Point; up: Point; normal: Point } {
  const normal = direction(plane.azimuth, 90 - plane.tilt);
  const across: Point = [-cos(plane.azimuth * RAD), sin(plane.azimuth * RAD), 0];
  return { across, up: cross(across, normal).map((v) => -v) as unknown as Point, normal };
}

/** The middles of a 4 × 4 grid over the glass, lifted a millimetre so that a box does not shade itself. */
function samplePoints(receiver: Receiver): Point[] {
  const { across, up, normal } = axesOf(receiver.plane);
  return Array.from({ length: GRID * GRID }, (_, i) => {
    const u = (((i % GRID) + 0.5) / GRID - 0.5) * receiver.widthM;
    const v = ((Math.floor(i / GRID) + 0.5) / GRID - 0.5) * receiver.lengthM;
    return [0, 1, 2].map((k) => receiver.centre[k] + u * across[k] + v * up[k] + 0.001 * normal[k]) as unknown as Point;
  });
}

/** What stands between a collector and the sky: a far skyline and near blockers. */
export interface Surroundings {
  horizon: Horizon;
  blockers: readonly Blocker[];
}

/**
 * Share of the sun's beam that reaches a collector, 0 to 1: nothing below the skyline, else the mean over its glass of what
 * blockers let through. 1 with the sun behind nothing; the incidence on the plane is not its business.
 */
export function beamShare(sun: SunPosition, receiver: Receiver, around: Surroundings): number {
  if (sun.altitude <= 0 || sun.altitude < horizonAltitude(around.horizon, sun.azimuth)) return 0;
  if (around.blockers.length === 0) return 1;
  const towards = direction(sun.azimuth, sun.altitude);
  const near = around.blockers.filter((b) => mayMeet(b, receiver, towards));
  if (near.length === 0) return 1;
  const points = samplePoints(receiver);
  return (
    points.reduce((s, p) => s + near.reduce((share, b) => (share > 0 ? share * passes(b, p, towards) : 0), 1), 0) /
    points.length
  );
}

interface Sphere {
  centre: Point;
  radiusM: number;
}

// Blockers are made once and asked about for every minute of many days.
const sphereOf = ofObject((blocker: Blocker): Sphere => {
  if (blocker.kind === "crown")
    return { centre: blocker.centre, radiusM: Math.max(blocker.radiusM, blocker.halfHeightM) };
  const centre = [0, 1, 2].map((k) => blocker.corners.reduce((s, c) => s + c[k], 0) / 4) as unknown as Point;
  return { centre, radiusM: Math.max(...blocker.corners.map((c) => Math.hypot(...minus(c, centre)))) };
});

/** False when a blocker's surrounding sphere lies off the bundle of rays from the whole glass: most do, most of the day. */
function mayMeet(blocker: Blocker, receiver: Receiver, towards: Point): boolean {
  const { centre, radiusM } = sphereOf(blocker);
  const reach = radiusM + (receiver.widthM + receiver.lengthM) / 2 + 0.01;
  const to = minus(centre, receiver.centre);
  const along = dot(to, towards);
  return along > -reach && dot(to, to) - along ** 2 < reach ** 2;
}

/**
 * Share of the sky light a free collector would get that is left, 0 to 1: the sky dome in 5° × 10° patches of equal brightness,
 * weighted by their incidence on the plane, seen from the middle of the glass. 1 under an open sky.
 */
export function skyShare(receiver: Receiver, around: Surroundings): number {
  if (around.horizon.length === 0 && around.blockers.length === 0) return 1;
  const { normal } = axesOf(receiver.plane);
  let free = 0;
  let seen = 0;
  for (let altitude = 2.5; altitude < 90; altitude += 5) {
    for (let azimuth = 5; azimuth < 360; azimuth += 10) {
      const d = direction(azimuth, altitude);
      const weight = cos(altitude * RAD) * Math.max(0, dot(d, normal));
      free += weight;
      if (altitude >= horizonAltitude(around.horizon, azimuth))
        seen += weight * around.blockers.reduce((share, b) => share * passes(b, receiver.centre, d), 1);
    }
  }
  return free > 0 ? seen / free : 1;
}

/** The owner of the first thing that takes beam from the collector now; "skyline" for the horizon, null when nothing does. */
export function shadedBy(sun: SunPosition, receiver: Receiver, around: Surroundings): string | null {
  if (sun.altitude <= 0) return null;
  if (sun.altitude < horizonAltitude(around.horizon, sun.azimuth)) return "skyline";
  const towards = direction(sun.azimuth, sun.altitude);
  const points = samplePoints(receiver);
  return (
    around.blockers
      .filter((b) => mayMeet(b, receiver, towards))
      .find((b) => points.some((p) => passes(b, p, towards) < 1))?.owner ?? null
  );
}

export type ObstacleProblem =
  | { kind: "size"; id: string; name: string }
  | { kind: "onBench"; id: string; name: string }
  | { kind: "crown"; id: string; name: string }
  | { kind: "overlap"; id: string; name: string; other: string };

const footprintRadius = (o: Obstacle) => (o.kind === "tree" ? o.crownDiameterM / 2 : 0);

/** What cannot be right about obstacles: sizes, a crown upside down, standing on the bench, two in one place. */
export function obstacleProblems(obstacles: readonly Obstacle[]): ObstacleProblem[] {
  const problems: ObstacleProblem[] = [];
  obstacles.forEach((o, i) => {
    const { id, name } = o;
    const sizes = o.kind === "wall" ? [o.distanceM, o.widthM, o.heightM] : [o.distanceM, o.crownDiameterM, o.topM];
    if (sizes.some((s) => !(s > 0))) return void problems.push({ kind: "size", id, name });
    if (o.kind === "tree" && o.bottomM >= o.topM) return void problems.push({ kind: "crown", id, name });
    if (o.kind === "tree" ? o.distanceM < o.crownDiameterM / 2 && o.bottomM < 2.5 : wallCrossesBench(o))
      return void problems.push({ kind: "onBench", id, name });
    for (const other of obstacles.slice(0, i))
      if (overlap(o, other)) problems.push({ kind: "overlap", id, name, other: other.name });
  });
  return problems;
}

type Wall = Extract<Obstacle, { kind: "wall" }>;

function wallEnds(o: Wall): [[number, number], [number, number]] {
  const [east, north] = ground(o.bearing, o.distanceM);
  const [dx, dy] = ground((o.facing ?? o.bearing + 180) + 90, o.widthM / 2);
  return [
    [east - dx, north - dy],
    [east + dx, north + dy],
  ];
}

/** Nearer than half a metre to the middle of the bench. */
const wallCrossesBench = (o: Wall): boolean => distanceToWall([0, 0], o) < 0.5;

function distanceToWall(p: readonly [number, number], wall: Wall): number {
  const [a, b] = wallEnds(wall);
  const length2 = (b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2;
  const t = Math.max(0, Math.min(1, ((p[0] - a[0]) * (b[0] - a[0]) + (p[1] - a[1]) * (b[1] - a[1])) / length2));
  return Math.hypot(p[0] - a[0] - t * (b[0] - a[0]), p[1] - a[1] - t * (b[1] - a[1]));
}

function overlap(a: Obstacle, b: Obstacle): boolean {
  if (a.kind === "tree" && b.kind === "tree") {
    const [ax, ay] = ground(a.bearing, a.distanceM);
    const [bx, by] = ground(b.bearing, b.distanceM);
    return (
      Math.hypot(ax - bx, ay - by) < footprintRadius(a) + footprintRadius(b) && a.bottomM < b.topM && b.bottomM < a.topM
    );
  }
  if (a.kind === "wall" && b.kind === "wall") {
    const [p, q] = wallEnds(a);
    const [r, s] = wallEnds(b);
    const side = (o: readonly [number, number], u: readonly [number, number], v: readonly [number, number]) =>
      (u[0] - o[0]) * (v[1] - o[1]) - (u[1] - o[1]) * (v[0] - o[0]);
    return side(p, q, r) * side(p, q, s) < 0 && side(r, s, p) * side(r, s, q) < 0;
  }
  const [tree, wall] = a.kind === "tree" ? [a, b as Wall] : [b as Extract<Obstacle, { kind: "tree" }>, a as Wall];
  return (
    distanceToWall(ground(tree.bearing, tree.distanceM), wall) < tree.crownDiameterM / 2 && tree.bottomM < wall.heightM
  );
}
