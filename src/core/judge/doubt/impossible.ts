import { overModifier } from "../../analysis/points";
import type { Implausible } from "../../analysis/slip";
import type { EventKind } from "../../log/eventKind";
import type { DoubtFinder, DoubtInput } from "./doubt";

export interface Impossible {
  kind: "impossible";
  run: string;
  found: Implausible;
  /** A person has said that it is right. */
  accepted: boolean;
  effect: null;
}

/** Steady windows may have shown the same already, with their own doubt. */
function saidOfWindows(found: Implausible, { points, opticalLimits }: DoubtInput): boolean {
  if (found.kind === "flowBackwards") return points.some((p) => p.lane === found.lane && p.massFlow.value < 0);
  if (found.kind === "efficiencyAboveLimit")
    return opticalLimits.has(found.lane) && points.some((p) => p.lane === found.lane && overModifier(p) > found.limit);
  return false;
}

/** Marked at the bench, these make a rise jump. */
const JUMPS: readonly EventKind[] = ["mirror", "door", "fanChanged"];

/** A rise that jumps by itself is explained where somebody marked at least half as often what made it. */
function isMarked(run: string, found: Implausible, { events }: DoubtInput): boolean {
  if (found.kind !== "riseByItself") return false;
  const own = events.filter((e) => e.run === run && JUMPS.includes(e.kind) && (e.lane ?? found.lane) === found.lane);
  return 2 * own.length >= found.jumps;
}

/** Readings that physics does not allow, found in a run as a whole: the same list that an import goes by. */
export const impossible: DoubtFinder<Impossible> = {
  grave: true,
  find: (input) =>
    input.implausible
      .filter(({ run, found }) => !saidOfWindows(found, input) && !isMarked(run, found, input))
      .map(({ run, found, accepted = false }) => ({ kind: "impossible", run, found, accepted, effect: null })),
};
