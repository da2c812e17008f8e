import { mirrorBeam, type MirrorBeam, type MirrorPlace, type Opening, type Vector } from "./geometry";

const { abs, cos, floor, hypot, sin, sqrt, PI } = Math;

const GRID = 16;

export interface Beams {
  /** By mirror: share of the opening it lights, and the cosine of that light there. */
  mirrors: { lit: number; cosine: number }[];
  /** Share of the opening in the shadow of any mirror. */
  shaded: number;
}

const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

interface Plate {
  place: MirrorPlace;
  normal: Vector;
  alongSq: number;
  acrossSq: number;
}

/** Where a ray meets a plate, as its parameter; Infinity where it does not. */
function meets({ place, normal, alongSq, acrossSq }: Plate, from: Vector, to: Vector): number {
  const slope = dot(to, normal);
  if (abs(slope) < 1e-12) return Infinity;
  const rel: Vector = [place.corner[0] - from[0], place.corner[1] - from[1], place.corner[2] - from[2]];
  const t = dot(rel, normal) / slope;
  if (t <= 1e-7) return Infinity;
  const at: Vector = [t * to[0] - rel[0], t * to[1] - rel[1], t * to[2] - rel[2]];
  const [a, b] = [dot(at, place.along) / alongSq, dot(at, place.across) / acrossSq];
  return a >= 0 && a <= 1 && b >= 0 && b <= 1 ? t : Infinity;
}

function plateOf(place: MirrorPlace): Plate | null {
  const normal = cross(place.along, place.across);
  const size = hypot(...normal);
  if (size < 1e-12) return null;
  return {
    place,
    normal: [normal[0] / size, normal[1] / size, normal[2] / size],
    alongSq: dot(place.along, place.along),
    acrossSq: dot(place.across, place.across),
  };
}

/**
 * Beam of several mirrors on one opening, with what they take from one another: rays from a 16 × 16 grid of the opening back to the
 * sun. One mirror alone is clipped exactly instead. Light reflected twice is left out.
 */
export function beamsOf(box: Opening, places: readonly MirrorPlace[], sun: Vector): Beams {
  if (places.length === 1) {
    const one: MirrorBeam = mirrorBeam(box, places[0], sun);
    return { mirrors: [{ lit: one.lit, cosine: one.cosine }], shaded: one.shaded };
  }
  const plates = places.map(plateOf);
  const hit = new Float64Array(places.length);
  const cosine = new Float64Array(places.length);
  let shaded = 0;
  for (let i = 0; i < GRID * GRID; i++) {
    const p: Vector = [((i % GRID) + 0.5) * (box.widthM / GRID), (floor(i / GRID) + 0.5) * (box.lengthM / GRID), 0];
    const blocked = (from: Vector, to: Vector, upTo: number, own: number) =>
      plates.some((q, j) => j !== own && q !== null && meets(q, from, to) < upTo);
    if (sun[2] > 1e-9 && blocked(p, sun, Infinity, -1)) shaded++;
    plates.forEach((plate, m) => {
      if (!plate) return;
      const away = dot(sun, plate.normal);
      // The sun's image in the mirror, seen from this point: sun and point must be on one side.
      const image: Vector = [
        sun[0] - 2 * away * plate.normal[0],
        sun[1] - 2 * away * plate.normal[1],
        sun[2] - 2 * away * plate.normal[2],
      ];
      if (image[2] <= 1e-9) return;
      const t = meets(plate, p, image);
      if (t === Infinity || dot(image, plate.normal) * away > 0) return;
      if (blocked(p, image, t - 1e-7, m)) return;
      const at: Vector = [p[0] + t * image[0], p[1] + t * image[1], t * image[2]];
      if (blocked(at, sun, Infinity, m) || hidesBox(box, at, sun)) return;
      hit[m]++;
      cosine[m] = image[2];
    });
  }
  const all = GRID * GRID;
  return {
    mirrors: places.map((_, m) => ({ lit: hit[m] / all, cosine: hit[m] ? cosine[m] : 0 })),
    shaded: shaded / all,
  };
}

/** With the sun behind the plane the box itself stands between it and a part of the mirror. */
function hidesBox(box: Opening, at: Vector, sun: Vector): boolean {
  if (sun[2] >= -1e-9) return false;
  const t = -at[2] / sun[2];
  const [x, y] = [at[0] + t * sun[0], at[1] + t * sun[1]];
  return t > 0 && x >= 0 && x <= box.widthM && y >= 0 && y <= box.lengthM;
}

/** Shares of an opening's diffuse view that mirrors take away and what they show instead; each 0 to 1 of the hemisphere by cosine. */
export interface DiffuseView {
  hiddenSky: number;
  hiddenGround: number;
  /** By mirror: share of the view in which it shows sky, and ground. */
  shown: { sky: number; ground: number }[];
}

const RINGS = 8;
const SPOKES = 32;
const POINTS = 3;

/** @param upward the vertical in the plane's own axes: what is above the horizontal is sky */
export function diffuseView(box: Opening, places: readonly MirrorPlace[], upward: Vector): DiffuseView {
  const plates = places.map(plateOf);
  const view: DiffuseView = { hiddenSky: 0, hiddenGround: 0, shown: places.map(() => ({ sky: 0, ground: 0 })) };
  const share = 1 / (RINGS * SPOKES * POINTS * POINTS);
  for (let i = 0; i < POINTS * POINTS; i++) {
    const p: Vector = [
      ((i % POINTS) + 0.5) * (box.widthM / POINTS),
      (floor(i / POINTS) + 0.5) * (box.lengthM / POINTS),
      0,
    ];
    for (let r = 0; r < RINGS; r++)
      for (let s = 0; s < SPOKES; s++) {
        // Equal shares by cosine: Malley's projection of a disc.
        const radius = sqrt((r + 0.5) / RINGS);
        const turn = ((s + 0.5) / SPOKES) * 2 * PI;
        const d: Vector = [radius * cos(turn), radius * sin(turn), sqrt(1 - radius * radius)];
        let [nearest, m] = [Infinity, -1];
        plates.forEach((plate, k) => {
          const t = plate ? meets(plate, p, d) : Infinity;
          if (t < nearest) [nearest, m] = [t, k];
        });
        if (m < 0) continue;
        if (dot(d, upward) > 0) view.hiddenSky += share;
        else view.hiddenGround += share;
        const { normal } = plates[m]!;
        const along = dot(d, normal);
        const back: Vector = [d[0] - 2 * along * normal[0], d[1] - 2 * along * normal[1], d[2] - 2 * along * normal[2]];
        if (dot(back, upward) > 0) view.shown[m].sky += share;
        else view.shown[m].ground += share;
      }
  }
  return view;
}
