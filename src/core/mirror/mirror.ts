import type { MaterialTable } from "../materials/material";
import type { Plane } from "../sun/position";
import { frameOf, HINGES, hingedPlace, type MirrorPlace, type Opening, type Vector } from "./geometry";

export const MIRROR_STANDS = [...HINGES, "free"] as const;
export type MirrorStand = (typeof MIRROR_STANDS)[number];

/** A flat mirror that belongs to a design. */
export interface Mirror {
  id: string;
  material: string;
  stand: MirrorStand;
  /** Out from the hinge, or up its own slope; along the hinge, null: as wide as the edge. */
  depthM: number;
  widthM: number | null;
  /** Hinged: between opening and mirror, degrees, 90 straight out. Free: its face from horizontal. */
  angle: number;
  /** From the opening's edge to the hinge. */
  gapM: number;
  /** 0 to 1; null: what the material does not absorb. */
  reflectance: number | null;
  /**
   * Free standing: its foot before and right of the middle of the box's lower edge, how much higher, and where its face looks, in degrees
   * clockwise from where the box looks: 180 faces the box.
   */
  free: { awayM: number; rightM: number; higherM: number; turn: number } | null;
  /** Month and day, `03-15`, between which it is up; null: all year. */
  up: { from: string; until: string } | null;
  /** Of the whole mirror; null: by its area in the bill. */
  cost: number | null;
}

/** @throws RangeError for a free one without its place */
export function mirrorPlace(box: Opening, plane: Plane, m: Mirror): MirrorPlace {
  if (m.stand !== "free")
    return hingedPlace(box, {
      hinge: m.stand,
      depthM: m.depthM,
      widthM: m.widthM ?? undefined,
      angle: m.angle,
      gapM: m.gapM,
    });
  if (!m.free) throw new RangeError("a free-standing mirror has a place");
  const width = m.widthM ?? box.widthM;
  const [collector, own] = [frameOf(plane), frameOf({ tilt: m.angle, azimuth: plane.azimuth + m.free.turn })];
  // Level, away from the box: the outward direction without its height.
  const flat: Vector = [Math.sin((plane.azimuth * Math.PI) / 180), Math.cos((plane.azimuth * Math.PI) / 180), 0];
  const foot = [0, 1, 2].map(
    (k) =>
      flat[k] * m.free!.awayM +
      collector.right[k] * m.free!.rightM -
      (own.right[k] * width) / 2 +
      (k === 2 ? m.free!.higherM : 0),
  );
  const seen = (v: readonly number[]): Vector =>
    [collector.right, collector.up, collector.out].map((axis) =>
      axis.reduce((s, a, k) => s + a * v[k], 0),
    ) as unknown as Vector;
  const [x, y, z] = seen(foot);
  return {
    corner: [box.widthM / 2 + x, y, z],
    along: seen(own.right.map((v) => v * width)),
    across: seen(own.up.map((v) => v * m.depthM)),
  };
}

export const reflectanceOf = (m: Mirror, materials: MaterialTable): number =>
  m.reflectance ?? 1 - (materials[m.material]?.absorptance ?? 0.15);

const dayNumber = (monthDay: string): number => {
  const [month, day] = monthDay.split("-").map(Number);
  return month * 100 + day;
};

/** Whether a mirror is up on a day. @param month 1 to 12 */
export function isUp({ up }: Pick<Mirror, "up">, month: number, day: number): boolean {
  if (!up) return true;
  const [from, until, now] = [dayNumber(up.from), dayNumber(up.until), month * 100 + day];
  return from <= until ? now >= from && now <= until : now >= from || now <= until;
}

/** Its own area, m². */
export const mirrorArea = (box: Opening, m: Pick<Mirror, "stand" | "depthM" | "widthM">): number =>
  m.depthM * (m.widthM ?? (m.stand === "left" || m.stand === "right" ? box.lengthM : box.widthM));

/** A mirror along an edge, as most begin. */
export const hingedMirror = (over: Partial<Mirror> = {}): Mirror => ({
  id: "mirror",
  material: "aluminium-bright",
  stand: "bottom",
  depthM: 1,
  widthM: null,
  angle: 110,
  gapM: 0,
  reflectance: null,
  free: null,
  up: null,
  cost: null,
  ...over,
});

/** As designs held one mirror before they held a list. */
export interface OneMirror {
  material: string;
  side: "bottom" | "top";
  lengthM: number;
  angle: number;
}

export const mirrorsOf = (one: OneMirror | null): Mirror[] =>
  one ? [hingedMirror({ material: one.material, stand: one.side, depthM: one.lengthM, angle: one.angle })] : [];
