import type { MirrorPlace, Vector } from "../mirror/geometry";
import { mirrorPlace, type Mirror } from "../mirror/mirror";
import type { Plane } from "../sun/position";
import { axesOf, type Blocker, type Point, type Receiver } from "../site/shade";

const { cos, sin, PI } = Math;
const RAD = PI / 180;

/** How the bench is set up: one row or several, all facing one way. */
export interface BenchLayout {
  plane: Plane;
  rows: number;
  /** Between boxes of a row, edge to edge, m. */
  gapM: number;
  /** From the front of one row to the front of the next, along the ground, m. */
  rowPitchM: number;
  /** Lower edge above the ground, m. */
  bottomM: number;
}

/** The outside of a box standing at a station. */
export interface BenchBox {
  widthM: number;
  lengthM: number;
  depthM: number;
  mirrors: readonly Mirror[];
}

export interface Station {
  number: number;
  row: number;
  /** Its glass, with the depth of its box. */
  receiver: Receiver;
  /** What its own mirror may take away. */
  own: Blocker[];
  /** Its box and mirror, for its neighbours and for the drawing. */
  body: Extract<Blocker, { kind: "quad" }>[];
}

const step = (from: Point, parts: readonly (readonly [number, Point])[]): Point =>
  [0, 1, 2].map((k) => parts.reduce((s, [n, v]) => s + n * v[k], from[k])) as unknown as Point;

/** @param from the glass's lower left corner, where a mirror's place is counted from */
function mirrorCorners(
  from: Point,
  { across, up, normal }: ReturnType<typeof axesOf>,
  place: MirrorPlace,
): [Point, Point, Point, Point] {
  const move = (p: Point, v: Vector): Point =>
    step(p, [
      [v[0], across],
      [v[1], up],
      [v[2], normal],
    ]);
  const a = move(from, place.corner);
  const b = move(a, place.along);
  return [a, b, move(b, place.across), move(a, place.across)];
}

/**
 * Stations of a bench in metres about its middle: numbered from the left as one looks at the glass, front row first. All stations
 * are as wide as the widest box, so that boxes can swap; backs lie in one plane, so that a deeper box stands proud of its neighbours.
 */
export function benchStations(layout: BenchLayout, boxes: readonly BenchBox[]): Station[] {
  const { plane } = layout;
  const axes = axesOf(plane);
  const columns = Math.ceil(boxes.length / layout.rows);
  const pitch = Math.max(...boxes.map((b) => b.widthM)) + layout.gapM;
  // Looking at the glass from in front, left is where `across` comes from.
  const back: Point = [-sin(plane.azimuth * RAD), -cos(plane.azimuth * RAD), 0];
  return boxes.map((box, i) => {
    const row = Math.floor(i / columns);
    const inRow = Math.min(columns, boxes.length - row * columns);
    const along = ((i % columns) - (inRow - 1) / 2) * pitch;
    const foot = step(
      [0, 0, layout.bottomM],
      [
        [along, axes.across],
        [(row - (Math.ceil(boxes.length / columns) - 1) / 2) * layout.rowPitchM, back],
      ],
    );
    const middle = step(foot, [[box.lengthM / 2, axes.up]]);
    const centre = step(middle, [[box.depthM, axes.normal]]);
    const corner = (u: number, v: number, n: number): Point =>
      step(middle, [
        [(u * box.widthM) / 2, axes.across],
        [(v * box.lengthM) / 2, axes.up],
        [n * box.depthM, axes.normal],
      ]);
    const owner = `station ${i + 1}`;
    const quad = (...corners: [Point, Point, Point, Point]): Extract<Blocker, { kind: "quad" }> => ({
      kind: "quad",
      owner,
      corners,
    });
    const front = quad(corner(-1, -1, 1), corner(1, -1, 1), corner(1, 1, 1), corner(-1, 1, 1));
    const sides = [
      quad(corner(-1, -1, 0), corner(-1, 1, 0), corner(-1, 1, 1), corner(-1, -1, 1)),
      quad(corner(1, -1, 0), corner(1, 1, 0), corner(1, 1, 1), corner(1, -1, 1)),
      quad(corner(-1, 1, 0), corner(1, 1, 0), corner(1, 1, 1), corner(-1, 1, 1)),
      quad(corner(-1, -1, 0), corner(1, -1, 0), corner(1, -1, 1), corner(-1, -1, 1)),
    ];
    const own = box.mirrors.map((m) => ({
      ...quad(...mirrorCorners(corner(-1, -1, 1), axes, mirrorPlace(box, plane, m))),
      owner: `mirror of station ${i + 1}`,
    }));
    return {
      number: i + 1,
      row,
      receiver: { centre, plane, widthM: box.widthM, lengthM: box.lengthM },
      own,
      body: [front, ...sides, ...own],
    };
  });
}

/** Everything on the bench that may stand between a station and the sun: neighbours' boxes and mirrors, and its own mirror. */
export const benchBlockers = (stations: readonly Station[], at: Station): Blocker[] => [
  ...at.own,
  ...stations.filter((s) => s !== at).flatMap((s) => s.body),
];

export type BenchProblem =
  | { kind: "rows" }
  | { kind: "size"; what: "gap" | "rowPitch" | "bottom" }
  | { kind: "rowsOverlap"; leastM: number }
  | { kind: "fewStations" };

/** What cannot be built: rows that stand in one another, negative gaps, less than two boxes. */
export function benchProblems(layout: BenchLayout, boxes: readonly BenchBox[]): BenchProblem[] {
  if (boxes.length < 2) return [{ kind: "fewStations" }];
  const problems: BenchProblem[] = [];
  if (!(Number.isInteger(layout.rows) && layout.rows >= 1 && layout.rows <= boxes.length))
    problems.push({ kind: "rows" });
  if (!(layout.gapM >= 0)) problems.push({ kind: "size", what: "gap" });
  if (!(layout.bottomM >= 0)) problems.push({ kind: "size", what: "bottom" });
  const least = Math.max(
    ...boxes.map((b) => b.lengthM * cos(layout.plane.tilt * RAD) + b.depthM * sin(layout.plane.tilt * RAD)),
  );
  if (layout.rows > 1 && !(layout.rowPitchM >= least)) problems.push({ kind: "rowsOverlap", leastM: least });
  return problems;
}
