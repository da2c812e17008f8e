"use client";

import type { Design } from "@/core/collector/design";
import type { FlowAdvice } from "@/core/collector/flowAdvice";
import type { Operating } from "@/core/collector/prediction";
import type { Study } from "@/core/collector/study";
import { useWorkerAnswer, useWorkerAnswers, type Desk, type Question } from "@/ui/useWorkerAnswer";
import { computationFailed } from "@/words/failure";
import { collectorWorker } from "@/workers/collector";

const COLLECTOR: Desk = { name: "collector" };
const failure = computationFailed("The prediction");

export interface Studied {
  value: Study | null;
  /** The design the value belongs to; the screen may already show a newer one. */
  design: Design | null;
  busy: boolean;
  error: string | null;
}

const question = (design: Design, op: Operating, lowestC: number): Question<Design, Study> => ({
  desk: COLLECTOR,
  asked: design,
  key: JSON.stringify(["study", design, op, lowestC]),
  answer: (asked) => collectorWorker().study(asked, op, lowestC),
  failure,
});

/** @param known the study of a design (mostly this one) that is there already */
export function useStudy(
  design: Design,
  op: Operating,
  lowestC: number,
  known: { design: Design; value: Study } | null = null,
): Studied {
  const { last, busy, failed } = useWorkerAnswer(
    question(design, op, lowestC),
    known && { key: question(known.design, op, lowestC).key, of: known.design, value: known.value },
  );
  return { value: last?.value ?? null, design: last?.of ?? null, busy, error: failed };
}

/** What the flow does to a design; the last answer until the next is there. */
export function useAdvice(design: Design, op: Operating, electricityWeight: number): FlowAdvice | null {
  const { last } = useWorkerAnswer<Design, FlowAdvice | null>({
    desk: COLLECTOR,
    asked: design,
    key: JSON.stringify(["advice", design, op, electricityWeight]),
    answer: (asked) => collectorWorker().advice(asked, op, electricityWeight),
    failure,
  });
  return last?.value ?? null;
}

/** Several designs studied one after the other; null where one is not ready yet. @param first the first one's study, when it is there already */
export function useStudies(
  designs: readonly Design[],
  op: Operating,
  lowestC: number,
  first: Study | null = null,
): { studies: (Study | null)[]; failed: string | null } {
  const { values, failed } = useWorkerAnswers(
    designs.map((design, i) => ({ ...question(design, op, lowestC), ...(i === 0 && first ? { asked: null } : {}) })),
  );
  return { studies: values.map((value, i) => (i === 0 && first) || value), failed };
}
