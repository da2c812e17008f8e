"use client";

import { useCallback, useEffect, useOptimistic, useRef } from "react";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import { useAct } from "@/ui/useAct";
import { changeSettings } from "./actions";

type Part = Partial<ExperimentSettings>;
/** A change made from the settings as they are by then, and not from those a form was drawn with. */
export type ChangeSettings = (part: Part | ((settings: ExperimentSettings) => Part), then?: () => void) => void;

/**
 * An experiment's settings as a person has left them: what was changed stands at once, and each change is sent with what it was
 * made from, so that the server changes that alone, however many are on their way.
 */
export function useSettings(head: { id: number; settings: ExperimentSettings }) {
  const { busy, act } = useAct();
  const [settings, lay] = useOptimistic(head.settings, (before, part: Part) => ({ ...before, ...part }));
  const latest = useRef(settings);
  useEffect(() => {
    latest.current = settings;
  }, [settings]);
  const change = useCallback<ChangeSettings>(
    (wanted, then) => {
      const from = latest.current;
      const part = typeof wanted === "function" ? wanted(from) : wanted;
      const before = Object.fromEntries((Object.keys(part) as (keyof Part)[]).map((key) => [key, from[key]]));
      latest.current = { ...from, ...part };
      act(() => {
        lay(part);
        return changeSettings(head.id, part, before);
      }, then);
    },
    [act, head.id, lay],
  );
  return { settings, change, busy };
}
