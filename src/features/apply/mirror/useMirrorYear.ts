"use client";

import { useEffect, useState } from "react";
import type { MirrorCase, MirrorYearView } from "@/core/season/mirrorYear";
import type { ApplySettings } from "@/core/season/schema";
import { seasonMirrors } from "@/core/season/scenario";
import { listYear } from "@/core/mirror/angles";
import { reflectanceOf, type Mirror } from "@/core/mirror/mirror";
import type { ApplyView } from "@/services/apply/applyView";
import type { CandidateView } from "@/services/apply/candidates";
import { seasonWorker, stopSeason } from "@/workers/season";
import { mirroredBox, originOf } from "../job";
import { saidOf } from "@/ui/said";
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
  const [state, setState] = useState<MirrorYearState>({ view: null, of: null, problem: null });
  const question = questionOf(view, settings, own, mirrors);
  const key = JSON.stringify([question, settings.weather, settings.seed, settings.without, hours?.length ?? 0]);
  useEffect(() => {
    if (!question) return;
    let live = true;
    const job = { settings, site: view.site, climate: view.climate, hours };
    const timer = setTimeout(() => {
      seasonWorker("mirror")
        .mirror(job, question)
        .then(
          (year) => live && setState({ view: year, of: question.candidate, problem: year ? null : NO_WEATHER }),
          (error: unknown) =>
            live && setState({ view: null, of: null, problem: saidOf(error, computationFailed("The mirror’s year")) }),
        );
    }, 200);
    return () => {
      live = false;
      clearTimeout(timer);
      stopSeason("mirror");
    };
    // The key holds all that the question is made of.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return question ? state : { view: null, of: null, problem: NO_CURVE };
}
