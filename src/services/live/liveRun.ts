import type { Experiment, StoredRun } from "../../core/experiment/types";

/** The run that is going on, else the live run that ended last; undefined where nothing was ever live. */
export function liveRunOf({ runs }: Pick<Experiment, "runs">): StoredRun | undefined {
  const live = runs.filter((r) => r.live);
  return live.findLast((r) => r.live!.endedAt === null) ?? live.at(-1);
}
