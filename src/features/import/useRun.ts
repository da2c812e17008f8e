"use client";

import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import type { ExperimentHead } from "@/core/experiment/types";
import type { ImportAsks, ImportProgress } from "@/services/import/importRequest";
import type { ImportDraft } from "./draft";
import { buildRequest } from "./request";
import { ImportAsking, madeRun, runImport } from "./transfer";
import { forgetDraft } from "./useDraft";
import { saidOf } from "@/ui/said";

/** The import itself: start, progress, cancel, and where it leads. */
export function useRun(
  draft: ImportDraft,
  heads: readonly ExperimentHead[],
  setAsks: (asks: ImportAsks | null) => void,
) {
  const router = useRouter();
  const [progress, setProgress] = useState<ImportProgress | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);
  const live = draft.files.some((f) => f.live);
  const arrived = (made: { experimentId: number }) => {
    forgetDraft(draft);
    router.push(`/experiments/${made.experimentId}/${leadsTo(draft)}`);
    router.refresh();
  };

  const start = async () => {
    setFailure(null);
    setAsks(null);
    abort.current = new AbortController();
    setProgress({ phase: "reading", file: 0, files: draft.files.length, share: 0, rows: 0 });
    try {
      arrived(await runImport(buildRequest(draft, heads), setProgress, abort.current.signal));
    } catch (error) {
      if (error instanceof ImportAsking) setAsks(error.asks);
      else if (!abort.current.signal.aborted) setFailure(saidOf(error, IMPORT_FAILED));
      else await cancelled();
      setProgress(null);
    }
  };

  /** Cancelled at its very end a run may have been kept all the same. */
  const cancelled = async () => {
    try {
      const made = await madeRun(draft.key);
      if (made) return arrived(made);
      setFailure("Cancelled. Nothing was kept of this run; your files and settings are still here.");
    } catch (error) {
      setFailure(saidOf(error, IMPORT_FAILED));
    }
  };
  return { progress, failure, start, live, cancel: () => abort.current?.abort() };
}

/** A live run is watched, a log is read; of one that was read again the first question is what that did to the answer. */
function leadsTo({ files, again }: ImportDraft): string {
  if (again) return "judge";
  return files.some((f) => f.live) ? "run" : "read";
}

const IMPORT_FAILED =
  "The import broke off in this browser, so it is not known whether the run was saved. Import again: if it was, Bravel finds it and does not take it twice.";
