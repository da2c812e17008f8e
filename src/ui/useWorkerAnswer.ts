"use client";

import { QueryClient, useQueries, useQuery, type UseQueryOptions } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { saidOf } from "./said";

/** Answers are kept while shown and for a moment after, so that going back asks nothing anew. */
export const answers = new QueryClient({
  defaultOptions: {
    queries: {
      retry: false,
      staleTime: Infinity,
      gcTime: 30_000,
      refetchOnWindowFocus: false,
      refetchOnReconnect: false,
      // A worker needs no network.
      networkMode: "always",
    },
  },
});

/** One who answers questions off the page's thread, one at a time. */
export interface Desk {
  name: string;
  /** Ends what is being answered. Absent: it is waited for, and of those who wait only who still asks is answered. */
  stop?: () => void;
}

export interface Question<Q, T> {
  desk: Desk;
  /** What is asked; null while something is missing. */
  asked: Q | null;
  /** Says all there is to know about the question. */
  key: string;
  answer(asked: Q, progress: (share: number) => void): Promise<T>;
  /** A sentence for when it fails without one of its own. */
  failure: string;
  /** A hand rests so long before anything is asked, ms. */
  restMs?: number;
}

/** An answer, and to which question. */
export interface Answered<Q, T> {
  key: string;
  of: Q;
  value: T;
}

export interface WorkerAnswer<Q, T> {
  /** The last answer: it stays until the next one is there. */
  last: Answered<Q, T> | null;
  /** Whether an answer to the present question is being waited for. */
  busy: boolean;
  /** Share done while busy, where the desk tells. */
  progress: number | null;
  failed: string | null;
  stopped: boolean;
  stop(): void;
  again(): void;
}

/** The desks' queues: each question begins when the one before it has ended. */
const turns = new Map<string, Promise<unknown>>();

async function atDesk<T>(desk: Desk, restMs: number, signal: AbortSignal, work: () => Promise<T>): Promise<T> {
  if (restMs) await new Promise((rested) => setTimeout(rested, restMs));
  const begun = async () => {
    signal.throwIfAborted();
    if (!desk.stop) return work();
    const { stop } = desk;
    // A worker that was ended never answers: the wait for it ends here.
    return new Promise<T>((resolve, reject) => {
      const given = () => {
        stop();
        reject(signal.reason as Error);
      };
      signal.addEventListener("abort", given, { once: true });
      void work()
        .then(resolve, reject)
        .finally(() => signal.removeEventListener("abort", given));
    });
  };
  const turn = (turns.get(desk.name) ?? Promise.resolve()).then(begun);
  turns.set(
    desk.name,
    turn.catch(() => undefined),
  );
  return turn;
}

const nothing = () => undefined;

const asQuery = <Q, T>(
  { desk, asked, key, answer, restMs = 0 }: Question<Q, T>,
  wanted: boolean,
  progress: (share: number) => void,
): UseQueryOptions<Answered<Q, T>> => ({
  queryKey: [desk.name, key],
  enabled: asked !== null && wanted,
  queryFn: ({ signal }) =>
    atDesk(desk, restMs, signal, async () => ({ key, of: asked!, value: await answer(asked!, progress) })),
});

/**
 * What a worker answers to the question a page asks. Only the newest question counts: one that is superseded is stopped, or not
 * begun. @param known an answer had before asking
 */
export function useWorkerAnswer<Q, T>(
  question: Question<Q, T>,
  known: Answered<Q, T> | null = null,
): WorkerAnswer<Q, T> {
  const { desk, asked, key, failure } = question;
  const [last, setLast] = useState(known);
  const [stoppedKey, setStopped] = useState<string | null>(null);
  const [done, setDone] = useState({ key: "", share: 0 });
  const stopped = stoppedKey === key;
  const query = useQuery(
    asQuery(question, !stopped && last?.key !== key, (share) => setDone({ key, share })),
    answers,
  );
  if (query.data && query.data !== last && last?.key !== key) setLast(query.data);
  const { error } = query;
  // `saidOf` writes the fault to the browser's log: once for each fault, not at every drawing.
  const failed = useMemo(() => (error ? saidOf(error, failure) : null), [error, failure]);
  const busy = asked !== null && !stopped && last?.key !== key && !error;
  const share = done.key === key ? done.share : 0;
  const { refetch } = query;
  const stop = useCallback(() => {
    setStopped(key);
    void answers.cancelQueries({ queryKey: [desk.name, key] });
  }, [desk.name, key]);
  const again = useCallback(() => {
    setStopped(null);
    void refetch();
  }, [refetch]);
  return {
    last,
    busy,
    progress: busy ? share : null,
    failed,
    stopped,
    stop,
    again,
  };
}

/** Answers to several questions of one kind, in their order; null where one is not there yet. @returns what failed, too */
export function useWorkerAnswers<Q, T>(
  questions: readonly Question<Q, T>[],
): {
  values: (T | null)[];
  failed: string | null;
} {
  // Two alike are one question.
  const single = [...new Map(questions.map((q) => [q.key, q])).values()];
  const found = useQueries({ queries: single.map((q) => asQuery(q, true, nothing)) }, answers);
  const error = found.find((f) => f.error)?.error;
  const failure = questions[0]?.failure ?? "";
  const failed = useMemo(() => (error ? saidOf(error, failure) : null), [error, failure]);
  const values = new Map(found.map((f) => [f.data?.key, f.data?.value]));
  return { values: questions.map((q) => values.get(q.key) ?? null), failed };
}
