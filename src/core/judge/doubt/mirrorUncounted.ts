import { measuredLanes, type DoubtFinder } from "./doubt";

export interface MirrorUncounted {
  kind: "mirrorUncounted";
  with: string[];
  without: string[];
  effect: null;
}

/** Some boxes have a mirror and others none: the sun sensor sees none of the mirror's light, so efficiencies are not of the same light. */
export const mirrorUncounted: DoubtFinder<MirrorUncounted> = {
  find({ heats, mirrored }) {
    const lanes = measuredLanes(heats);
    const own = lanes.filter((l) => mirrored.includes(l));
    const without = lanes.filter((l) => !own.includes(l));
    return own.length && without.length ? [{ kind: "mirrorUncounted", with: own, without, effect: null }] : [];
  },
};
