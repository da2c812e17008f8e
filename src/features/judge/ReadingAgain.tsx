"use client";

import { Undo2 } from "lucide-react";
import type { ExperimentHead } from "@/core/experiment/types";
import { takeReadingBack } from "@/features/experiment/actions";
import { VerdictSentence } from "@/features/experiment/Verdict";
import type { Reading } from "@/services/import/readAgain";
import { Button } from "@/ui/Button";
import { useAct } from "@/ui/useAct";
import { dated } from "@/words/times";

/** What the answer was before a run was read again, and the way back. */
export function ReadingAgain({ head, reading }: { head: ExperimentHead; reading: Reading }) {
  const { busy, act } = useAct();
  return (
    <p className="mt-1 flex flex-wrap items-baseline gap-x-2 border-l-4 border-rule pl-2 text-[13.5px]">
      <span>
        Run {reading.from} was read again as run {reading.run} on {dated(reading.atMs, head.site.zone)}. Before:{" "}
        {reading.was ? <VerdictSentence verdict={reading.was} head={head} opens={false} /> : "no verdict."}
      </span>
      <Button kind="plain" className="no-print" disabled={busy} onClick={() => act(() => takeReadingBack(head.id))}>
        <Undo2 size={14} aria-hidden /> Take this reading back
      </Button>
    </p>
  );
}
