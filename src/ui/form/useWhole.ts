"use client";

import { useState } from "react";
import type { z } from "zod";

/**
 * A form that hands over what it holds whenever that is whole: the draft as typed, and what its schema says of it since it was last
 * changed. A draft that was kept before is taken to be whole.
 * @param loadSchema fetched with the first change: a page that is only read does not wait for what checks it
 */
export function useWhole<V, D>(loadSchema: () => Promise<z.ZodType<V>>, start: D, onWhole: (value: V) => void) {
  const [draft, setDraft] = useState(start);
  const [issues, setIssues] = useState<readonly z.core.$ZodIssue[]>([]);
  const [unchecked, setUnchecked] = useState(false);
  const take = (next: D) => {
    setDraft(next);
    loadSchema().then(
      (schema) => {
        const read = schema.safeParse(next);
        setUnchecked(false);
        setIssues(read.success ? [] : read.error.issues);
        if (read.success) onWhole(read.data);
      },
      () => setUnchecked(true),
    );
  };
  return { draft, setDraft, take, issues, unchecked };
}

/** Said where a change could not be checked, and so was not kept. */
export const UNCHECKED = "Bravel does not answer: this change is not kept yet. Make it again once it does.";
