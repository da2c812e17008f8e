"use client";

import type { MirrorCase, MirrorYearView } from "@/core/season/mirrorYear";
import type { ApplySettings } from "@/core/season/schema";
import { seasonMirrors } from "@/core/season/scenario";
import { listYear } from "@/core/mirror/angles";
import { reflectanceOf, type Mirror } from "@/core/mirror/mirror";
import type { ApplyView } from "@/services/apply/applyView";
import type { CandidateView } from "@/services/apply/candidates";
import { seasonWorker } from "@/workers/season";
import { mirroredBox, originOf } from "@/services/apply/seasonJob";
import { DESKS, RESTS } from "../useSeason";
import { useWorkerAnswer } from "@/ui/useWorkerAnswer";
import { computationFailed } from "@/words/failure";

export interface MirrorYearState {
  view: MirrorYearView | null;
  /** Whose curve says what the light is worth. */
  of: MirrorCase["candidate"] | null;
  problem: string | null;
}

const NO_WEATHER = "There is no weather to work the year out from: see Weather and shade.";
const NO_CURVE = "The box chosen has no curve to go by: draw it in Build or measure it.";

/** What is asked of the worker; null without a curve. */
function questionOf(
  view: ApplyView,
  settings: ApplySettings,
  own: CandidateView,
  mirrors: readonly Mirror[],
): Omit<MirrorCase, "site"> | null {
  const chosen = settings.mirror!;
  const box = view.candidates.find((c) => c.key === chosen.box);
  const candidate = box ? originOf(box, view, settings) : null;
  const { tilt, azimuth } = settings.rows[0] ?? view.bench;
  return (
    candidate && {
      plane: { tilt, azimuth },
      box: mirroredBox(view, own, settings),
      mirrors: seasonMirrors(mirrors, (m) => reflectanceOf(m, own.design.materials), chosen.snow),
      candidate,
      aboveK: [...new Set([15, 30, 50, chosen.aboveK])].sort((a, b) => a - b),
      toleranceDeg: chosen.toleranceDeg,
      listYear: listYear(view.site.latitude, Date.now()),
    }
  );
}

/** The mirror's year off the page's thread, after the hand has rested. */
export function useMirrorYear(
  view: ApplyView,
  settings: ApplySettings,
  hours: string | null,
  own: CandidateView,
  mirrors: readonly Mirror[],
): MirrorYearState {
  const question = questionOf(view, settings, own, mirrors);
  const { last, failed } = useWorkerAnswer<Omit<MirrorCase, "site">, MirrorYearView | null>({
    desk: DESKS.mirror,
    asked: question,
    key: JSON.stringify([question, settings.weather, settings.seed, settings.without, hours?.length ?? 0]),
    answer: (asked) =>
      seasonWorker("mirror").mirror({ settings, site: view.site, climate: view.climate, hours }, asked),
    failure: computationFailed("The mirror’s year"),
    restMs: RESTS,
  });
  if (!question) return { view: null, of: null, problem: NO_CURVE };
  if (failed) return { view: null, of: null, problem: failed };
  return {
    view: last?.value ?? null,
    of: last?.of.candidate ?? null,
    problem: last && !last.value ? NO_WEATHER : null,
  };
}
