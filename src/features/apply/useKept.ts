"use client";

import { useCallback, useEffect, useRef, useState } from "react";
import { applySchema, type ApplySettings } from "@/core/experiment/schema/apply";
import { changeSettings } from "@/features/experiment/actions";
import { useAct } from "@/ui/useAct";

/** A hand that drags changes a setting many times a second: it is kept once it rests, ms. */
const RESTS = 350;

/** Settings as they are shown, and kept with the experiment as soon as they are whole and the hand has rested. */
export function useKept(experimentId: number, begin: ApplySettings) {
  const [settings, setSettings] = useState(begin);
  const [waits, setWaits] = useState(false);
  const { act, busy } = useAct();
  const latest = useRef({ settings: begin, act });
  /** As last kept: what others change meanwhile stays. */
  const kept = useRef(begin);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const keep = useCallback(() => {
    if (timer.current === null) return;
    clearTimeout(timer.current);
    timer.current = null;
    setWaits(false);
    const { settings: next, act: run } = latest.current;
    // What is not whole yet stays here until it is.
    if (applySchema.safeParse(next).success) {
      const before = kept.current;
      // What did not arrive is sent again with the next change: the difference is from what the server said it keeps.
      run(
        () => changeSettings(experimentId, { apply: next }, { apply: before }),
        () => (kept.current = next),
      );
    }
  }, [experimentId]);
  useEffect(() => {
    latest.current.act = act;
  });
  // What was changed last is kept when one leaves the step before the hand has rested.
  useEffect(() => keep, [keep]);
  const change = (part: Partial<ApplySettings>) => {
    const next = { ...latest.current.settings, ...part };
    latest.current.settings = next;
    setSettings(next);
    setWaits(true);
    if (timer.current !== null) clearTimeout(timer.current);
    timer.current = setTimeout(keep, RESTS);
  };
  return { settings, change, busy: busy || waits };
}
