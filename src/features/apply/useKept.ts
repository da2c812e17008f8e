"use client";

import type { ApplySettings } from "@/core/season/schema";
import { changeSettings } from "@/features/experiment/actions";
import { useChanged } from "@/ui/useChanged";

/** A hand that drags changes a setting many times a second: it is kept once it rests, ms. */
const RESTS = 350;

/** Fetched with the first change: a page that is only read does not wait for what checks it. */
const applySchema = () => import("@/core/season/schema").then((m) => m.applySchema);

/** Settings as they are shown, and kept with the experiment as soon as they are whole and the hand has rested. */
export function useKept(experimentId: number, kept: ApplySettings) {
  const changed = useChanged(
    kept,
    // What is not whole yet stays here until it is.
    async (next, before) =>
      (await applySchema()).safeParse(next).success
        ? changeSettings(experimentId, { apply: next }, { apply: before })
        : null,
    RESTS,
  );
  const change = (part: Partial<ApplySettings>) => {
    // Where it cannot be fetched the change itself says so.
    applySchema().catch(() => undefined);
    changed.change((now) => ({ ...now, ...part }));
  };
  return { ...changed, settings: changed.shown, change };
}
