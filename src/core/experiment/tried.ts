import type { Mirror } from "../mirror/mirror";
import type { ApplySettings } from "../season/schema";

/** A mirror as drawn, but for what is tried in Apply. */
export const triedMirror = (mirror: Mirror | undefined, chosen: NonNullable<ApplySettings["mirror"]>): Mirror | null =>
  mirror ? { ...mirror, ...chosen.tried[mirror.id] } : null;
