"use client";

import { useState, type FormEvent } from "react";
import type { z } from "zod";
import { toast } from "../toast";

/**
 * A form's values, checked by their schema when it is sent. What is wrong is said at its field, by its path
 * (`site.name`), until that field changes; nothing typed is lost.
 * @param loadSchema fetched when the form is sent: a page that is only read does not wait for what checks it
 */
export function useChecked<V extends object>(loadSchema: () => Promise<z.ZodType<V>>, start: V) {
  const [values, setValues] = useState(start);
  const [problems, setProblems] = useState<Partial<Record<string, string>>>({});
  const [busy, setBusy] = useState(false);
  const set = (part: Partial<V>) => {
    setValues((now) => ({ ...now, ...part }));
    setProblems((now) =>
      Object.fromEntries(Object.entries(now).filter(([path]) => !Object.hasOwn(part, path.split(".")[0]))),
    );
  };
  const sent = (send: (values: V) => Promise<void>) => async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const schema = await loadSchema().catch(() => null);
      if (!schema) return toast.error("Bravel does not answer: nothing was sent, and what is typed stays. Try again.");
      const read = schema.safeParse(values);
      setProblems(read.success ? {} : Object.fromEntries(read.error.issues.map((i) => [i.path.join("."), i.message])));
      if (read.success) await send(read.data);
    } finally {
      setBusy(false);
    }
  };
  return { values, set, problems, busy, sent };
}
