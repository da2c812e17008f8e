import { useEffect, useRef } from "react";
import type { LogSettings } from "@/core/log/logData";
import type { ReadAgain } from "@/services/page/pages";
import type { Inspection } from "@/services/import/imports";
import { saidOf } from "@/ui/said";
import { inspectAgain } from "./transfer";

/** Looks at the files of a kept run once more; each comes with the settings by which it was read. */
export function useAgain(
  again: ReadAgain | null,
  told: { onFile: (inspection: Inspection, settings: LogSettings) => void; onProblem: (problem: string) => void },
): void {
  const latest = useRef(told);
  useEffect(() => {
    latest.current = told;
  });
  const files = again?.files ?? null;
  useEffect(() => {
    if (!files) return;
    let current = true;
    void (async () => {
      for (const { fileId, settings } of files) {
        const inspection = await inspectAgain(fileId);
        if (current) latest.current.onFile(inspection, settings);
      }
    })().catch((error: unknown) => {
      if (current) latest.current.onProblem(saidOf(error, "The files of this run did not come. Try again."));
    });
    return () => {
      current = false;
    };
  }, [files]);
}
