"use client";

import { useTransition } from "react";
import { toast } from "./toast";

type Answer = { ok: true } | { ok: false; error: string };

const SILENT = {
  ok: false as const,
  error: "The server did not answer; nothing was changed. Is Bravel still running?",
};

/** An action's answer, also when the server did not give one: said like any other failure instead of breaking the page. */
export const answered = <A extends Answer | null>(action: Promise<A>): Promise<A | typeof SILENT> =>
  action.catch(() => SILENT);

export interface Act {
  busy: boolean;
  /** Runs an action; its failure is always shown, also when the server did not answer. @param then gets the answer when it was done */
  act<A extends Answer>(action: () => Promise<A>, then?: (answer: Extract<A, { ok: true }>) => void): void;
  /** Asks the server for something to show; its silence is said. */
  ask<T>(question: () => Promise<T>, then: (answer: T) => void): void;
  /** Runs an action that can be undone, says so and offers to undo it. */
  undoable(action: () => Promise<Answer>, undo: () => Promise<Answer>, said: string, then?: () => void): void;
}

/** Runs actions from a component, busy while one runs. */
export function useAct(): Act {
  const [busy, start] = useTransition();
  const act: Act["act"] = (action, then) =>
    start(async () => {
      const answer = await answered(action());
      if (answer.ok) then?.(answer as Parameters<NonNullable<typeof then>>[0]);
      else toast.error(answer.error);
    });
  return {
    busy,
    act,
    ask: (question, then) =>
      start(async () => {
        await question().then(then, () => void toast.error(SILENT.error));
      }),
    undoable: (action, undo, said, then) =>
      act(action, () => {
        then?.();
        toast(said, { duration: 12000, action: { label: "Undo", onClick: () => act(undo, then) } });
      }),
  };
}
