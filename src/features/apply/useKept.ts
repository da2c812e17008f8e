"use client";

import { applySchema, type ApplySettings } from "@/core/season/schema";
import { changeSettings } from "@/features/experiment/actions";
import { useChanged } from "@/ui/useChanged";

/** A hand that drags changes a setting many times a second: it is kept once it rests, ms. */
const RESTS = 350;

/** Settings as they are shown, and kept with the experiment as soon as they are whole and the hand has rested. */
export function useKept(experimentId: number, kept: ApplySettings) {
  const changed = useChanged(
    kept,
    // What is not whole yet stays here until it is.
    (next, before) =>
      applySchema.safeParse(next).success ? changeSettings(experimentId, { apply: next }, { apply: before }) : null,
    RESTS,
  );
  const change = (part: Partial<ApplySettings>) => changed.change((now) => ({ ...now, ...part }));
  return { ...changed, settings: changed.shown, change };
}
