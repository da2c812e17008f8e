"use client";

import { useCallback, useEffect, useRef, useState, useTransition } from "react";
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

/** A page that is closed or read again takes with it what is still on its way: the browser asks first. */
function useAskToLeave(unkept: boolean) {
  useEffect(() => {
    if (!unkept) return;
    const ask = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [unkept]);
}

/**
 * Something kept that a page changes field by field. A change stands at once and stays when others arrive meanwhile; one that was
 * refused or did not arrive stays too, and goes along with the next.
 * @param kept as the server last said @param send lays the change from `before` to `next` over what the server holds; null: not to be
 * sent yet @param restMs changes are sent together once none came for so long: a hand that drags makes many a second
 */
export function useChanged<T>(
  kept: T,
  send: (next: T, before: T) => Promise<Answer | null> | null,
  restMs = 0,
): Changed<T> {
  const [seen, setSeen] = useState(kept);
  /** What the server holds, as far as this page knows. */
  const [held, setHeld] = useState(kept);
  const [shown, setShown] = useState(kept);
  const [error, setError] = useState<string | null>(null);
  const [waits, setWaits] = useState(false);
  const [busy, start] = useTransition();
  const latest = useRef({ held, shown, send });
  const waiting = useRef<{ timer: ReturnType<typeof setTimeout> | undefined; sendNow: () => void } | null>(null);
  if (seen !== kept) {
    setSeen(kept);
    setHeld(kept);
    setShown(mergeChange(kept, held, shown));
  }
  useEffect(() => {
    latest.current = { held, shown, send };
  });
  // What was changed last is kept when one leaves before the hand has rested.
  useEffect(() => () => waiting.current?.sendNow(), []);
  useAskToLeave(busy || waits || error !== null);
  const change = useCallback<Changed<T>["change"]>(
    function change(wanted, done) {
      const before = latest.current.shown;
      const next = wanted(before);
      latest.current.shown = next;
      setShown(next);
      const sendNow = () => {
        clearTimeout(waiting.current?.timer);
        waiting.current = null;
        setWaits(false);
        const { held: from, shown: whole } = latest.current;
        const sent = latest.current.send(whole, from);
        if (!sent) return;
        start(async () => {
          const answer = await answered(sent);
          if (!answer) return;
          setError(answer.ok ? null : answer.error);
          if (!answer.ok) return;
          setHeld((h) => mergeChange(h, from, whole));
          done?.(() => change((now) => mergeChange(now, next, before), undefined));
        });
      };
      clearTimeout(waiting.current?.timer);
      if (restMs === 0) return sendNow();
      setWaits(true);
      waiting.current = { timer: setTimeout(sendNow, restMs), sendNow };
    },
    [restMs],
  );
  return { shown, error, busy: busy || waits, change };
}
