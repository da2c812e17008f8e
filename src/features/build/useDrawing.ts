"use client";

import { useEffect, useState } from "react";
import type { Design } from "@/core/collector/design";
import { mergeChange } from "@/core/experiment/merge";
import type { Variant } from "@/core/experiment/records";
import { keepDrawing } from "@/features/experiment/variantActions";
import { useChanged } from "@/ui/useChanged";
import { draftReducer, type Edit, type Steps } from "./draft";
import { forgetDraft, readDraft, writeDraft } from "./storage";

/** Edits are sent once the hand has rested for so long. */
const REST_MS = 600;

export interface Drawing {
  design: Design;
  steps: Steps;
  /** Why the last edit is not saved yet; null when all is. */
  error: string | null;
  busy: boolean;
  edit: (e: Edit) => void;
}

/**
 * A variant being drawn: every edit is the variant's, kept by the server as soon as the hand rests, so that all pages use what is
 * seen here. What could not be sent yet, and the steps back, live in the browser: a reload, a crash or an evening without the server
 * loses nothing.
 */
export function useDrawing(experimentId: number, variant: Variant): Drawing {
  const { id, design: stored } = variant;
  const {
    shown: design,
    error,
    busy,
    change,
  } = useChanged(stored, (next, before) => keepDrawing(experimentId, id, next, before), REST_MS);
  const [{ unsent, ...left }] = useState(() => readDraft(variant));
  const [steps, setSteps] = useState<Steps>(left);

  // What an earlier page could not send is laid over what is stored by now, and sent.
  useEffect(() => {
    if (unsent) change((now) => mergeChange(now, unsent.from, unsent.present));
  }, [unsent, change]);

  useEffect(() => {
    if (busy || error !== null) writeDraft(id, { ...steps, unsent: { from: stored, present: design } });
    else if (steps.past.length || steps.future.length) writeDraft(id, { ...steps, unsent: null });
    else forgetDraft(id);
  }, [busy, error, steps, stored, design, id]);

  const edit = (e: Edit) => {
    const now = { ...steps, present: design };
    const { present, ...next } = draftReducer(now, e);
    if (present === design) return;
    setSteps(next);
    change(() => present);
  };
  return { design, steps, error, busy, edit };
}
