import { line } from "d3-shape";

export type Point = readonly [x: number, y: number];

const straight = line<Point>().digits(1);

/** A broken line through points, as a path's `d`; empty without points. */
export const lineThrough = (points: readonly Point[]): string => straight(points as Point[]) ?? "";

/** The same closed to an area. */
export const areaThrough = (points: readonly Point[]): string => (points.length ? `${lineThrough(points)}Z` : "");
