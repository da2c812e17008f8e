"use client";

import { useEffect, useRef, useState, useTransition } from "react";
import { mergeChange } from "@/core/experiment/merge";
import { answered } from "./useAct";

type Answer = { ok: true } | { ok: false; error: string };

export interface Changed<T> {
  /** What the server holds, with what was changed here laid over it. */
  shown: T;
  /** Why the last change is not kept yet; null when all is. */
  error: string | null;
  busy: boolean;
  /** @param next from what is shown by then @param done gets what takes this change alone back */
  change(next: (now: T) => T, done?: (undo: () => void) => void): void;
}

/**
 * Something kept that a page changes field by field. A change stands at once and stays when others arrive meanwhile; one that was
 * refused or did not arrive stays too, and goes along with the next.
 * @param kept as the server last said @param send lays the change from `before` to `next` over what the server holds
 */
export function useChanged<T>(kept: T, send: (next: T, before: T) => Promise<Answer>): Changed<T> {
  const [seen, setSeen] = useState(kept);
  /** What the server holds, as far as this page knows. */
  const [held, setHeld] = useState(kept);
  const [shown, setShown] = useState(kept);
  const [error, setError] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const latest = useRef({ held, shown });
  if (seen !== kept) {
    setSeen(kept);
    setHeld(kept);
    setShown(mergeChange(kept, held, shown));
  }
  useEffect(() => {
    latest.current = { held, shown };
  }, [held, shown]);
  const change: Changed<T>["change"] = (wanted, done) => {
    const { held: from, shown: before } = latest.current;
    const next = wanted(before);
    latest.current = { held: from, shown: next };
    setShown(next);
    start(async () => {
      const answer = await answered(send(next, from));
      setError(answer.ok ? null : answer.error);
      if (!answer.ok) return;
      setHeld((h) => mergeChange(h, from, next));
      done?.(() => change((now) => mergeChange(now, next, before)));
    });
  };
  return { shown, error, busy, change };
}
