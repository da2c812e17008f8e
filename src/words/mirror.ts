import type { MirrorStand } from "../core/mirror/mirror";

export const MIRROR_WORDS: Record<MirrorStand, string> = {
  bottom: "along the bottom edge",
  top: "along the top edge",
  left: "along the left edge",
  right: "along the right edge",
  free: "free, before the box",
};
