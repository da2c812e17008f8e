import type { MirrorStand } from "../core/mirror/mirror";
import type { MirrorState } from "../core/mirror/geometry";

export const MIRROR_WORDS: Record<MirrorStand, string> = {
  bottom: "along the bottom edge",
  top: "along the top edge",
  left: "along the left edge",
  right: "along the right edge",
  free: "free, before the box",
};

export const MIRROR_STATE_WORDS: Record<MirrorState, string> = {
  night: "the sun is down",
  sunBehindPlane: "the sun stands behind the box’s plane: what reaches the box is not worked out from here",
  sunBehindMirror: "the sun stands behind the mirror: it only shades",
  seenEdgeOn: "the mirror lies in the box’s own plane or has no size",
  misses: "its light misses the box",
  lights: "it lights the box",
};

const COMPASS = ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"];
export const compass = (azimuth: number): string => COMPASS[Math.round(azimuth / 45) % 8];
