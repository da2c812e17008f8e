"use client";

import { useEffect, useRef, useState } from "react";
import type { Design } from "@/core/collector/design";
import type { FlowAdvice } from "@/core/collector/flowAdvice";
import type { Operating } from "@/core/collector/prediction";
import type { Study } from "@/core/collector/study";
import { collectorWorker } from "@/workers/collector";
import { saidOf } from "@/ui/said";
import { computationFailed } from "@/words/failure";

export interface Studied<T> {
  value: T | null;
  /** The design the value belongs to; the screen may already show a newer one. */
  design: Design | null;
  busy: boolean;
  error: string | null;
}

/** An answer had before asking, and to which question. */
interface Known<T> {
  design: Design;
  value: T;
  key: string;
}

/**
 * Runs a question about a design in the worker. While one is being answered only the newest of the later ones waits, so that
 * typing never piles up work; the last answer stays on screen until the next is there.
 */
function useWorkerAnswer<T>(design: Design, key: string, ask: () => Promise<T>, known?: Known<T>): Studied<T> {
  const [answer, setAnswer] = useState<Omit<Studied<T>, "busy"> & { key: string | null }>({
    value: known?.value ?? null,
    design: known?.design ?? null,
    error: null,
    key: known?.key ?? null,
  });
  const answered = useRef(known?.key);
  const running = useRef(false);
  const mounted = useRef(true);
  const waiting = useRef<{ design: Design; key: string; ask: () => Promise<T> } | null>(null);
  useEffect(() => {
    mounted.current = true;
    return () => {
      mounted.current = false;
    };
  }, []);
  useEffect(() => {
    const first = answered.current === key;
    answered.current = undefined;
    if (first) return;
    waiting.current = { design, key, ask };
    const next = async () => {
      const job = waiting.current;
      if (running.current || !job) return;
      waiting.current = null;
      running.current = true;
      try {
        const value = await job.ask();
        if (mounted.current) setAnswer({ value, design: job.design, error: null, key: job.key });
      } catch (error) {
        if (mounted.current)
          setAnswer((old) => ({ ...old, error: saidOf(error, computationFailed("The prediction")), key: job.key }));
      } finally {
        running.current = false;
        if (waiting.current) void next();
      }
    };
    void next();
    // The key says all there is to know about the question.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return { value: answer.value, design: answer.design, error: answer.error, busy: answer.key !== key };
}

/** @param known the study of a design (mostly this one) that is there already */
export function useStudy(
  design: Design,
  op: Operating,
  lowestC: number,
  known: { design: Design; value: Study } | null = null,
): Studied<Study> {
  const keyOf = (d: Design) => JSON.stringify([d, op, lowestC]);
  return useWorkerAnswer(
    design,
    keyOf(design),
    () => collectorWorker().study(design, op, lowestC),
    known ? { ...known, key: keyOf(known.design) } : undefined,
  );
}

export function useAdvice(design: Design, op: Operating, electricityWeight: number): Studied<FlowAdvice | null> {
  return useWorkerAnswer(design, JSON.stringify([design, op, electricityWeight]), () =>
    collectorWorker().advice(design, op, electricityWeight),
  );
}

/** Several designs studied one after the other; null where it has problems or is not ready yet. @param first the first one's study, when it is there already */
export function useStudies(
  designs: readonly Design[],
  op: Operating,
  lowestC: number,
  first: Study | null = null,
): (Study | null)[] {
  const [studies, setStudies] = useState<Record<string, Study>>({});
  const keys = designs.map((d) => JSON.stringify([d, op, lowestC]));
  const all = keys.join("\n");
  useEffect(() => {
    let here = true;
    void (async () => {
      for (const [i, design] of designs.entries()) {
        if (i === 0 && first) continue;
        const study = await collectorWorker().study(design, op, lowestC);
        if (!here) return;
        setStudies((old) => ({ ...old, [keys[i]]: study }));
      }
    })();
    return () => {
      here = false;
    };
    // The joined keys say all there is to know about the questions.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [all, first === null]);
  return keys.map((k, i) => (i === 0 && first) || (studies[k] ?? null));
}
