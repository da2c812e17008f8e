"use client";

import { proxy } from "comlink";
import { useCallback, useEffect, useRef, useState } from "react";
import type { SeasonJob, SeasonResult } from "@/core/season/job";
import { seasonWorker, stopSeason } from "@/workers/season";
import { saidOf } from "@/ui/said";
import { computationFailed } from "@/words/failure";

export interface SeasonState {
  result: SeasonResult | null;
  /** The job the result belongs to. */
  of: SeasonJob | null;
  /** Share done; null when nothing runs. */
  progress: number | null;
  stopped: boolean;
  failed: string | null;
}

const AT_REST: SeasonState = { result: null, of: null, progress: null, stopped: false, failed: null };
/** Typing settles before a year is run, ms. */
const SETTLES = 250;

/** Runs the year whenever what it is made of changes; the last answer stays until the next one is there. @param job null: something is asked for first */
export function useSeason(job: SeasonJob | null): SeasonState & { stop: () => void; again: () => void } {
  const [state, setState] = useState<SeasonState>(AT_REST);
  const [round, setRound] = useState(0);
  const key = job ? JSON.stringify({ ...job, hours: job.hours?.length ?? null }) : null;
  const latest = useRef(job);
  useEffect(() => {
    latest.current = job;
  });
  useEffect(() => {
    if (key === null) return;
    let live = true;
    const timer = setTimeout(() => {
      const asked = latest.current!;
      setState((s) => ({ ...s, progress: 0, stopped: false, failed: null }));
      seasonWorker("year")
        .run(
          asked,
          proxy((progress: number) => live && setState((s) => ({ ...s, progress }))),
        )
        .then(
          (result) => live && setState({ ...AT_REST, result, of: asked }),
          (error: unknown) =>
            live && setState((s) => ({ ...s, progress: null, failed: saidOf(error, computationFailed("The year")) })),
        );
    }, SETTLES);
    return () => {
      live = false;
      clearTimeout(timer);
      // What still runs answers a question nobody asks any more.
      stopSeason("year");
    };
  }, [key, round]);
  const stop = useCallback(() => {
    stopSeason("year");
    setState((s) => ({ ...s, progress: null, stopped: true }));
  }, []);
  const again = useCallback(() => setRound((n) => n + 1), []);
  return { ...state, stop, again };
}
