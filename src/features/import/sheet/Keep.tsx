"use client";

import Link from "next/link";
import { useState } from "react";
import type { LogAnswers } from "@/core/log/question";
import { Asked } from "../Asked";
import type { SheetDraft } from "./sheetDraft";
import type { useKeep } from "./useKeep";
import { Problem } from "@/ui/Problem";
import { Button } from "@/ui/Button";

/** What is still to be said, what is asked, and the button that keeps the sheet. */
export function Keep({
  draft,
  notes,
  keeping,
  onAnswer,
  onAccept,
  onOver,
}: {
  draft: SheetDraft;
  notes: readonly string[];
  keeping: ReturnType<typeof useKeep>;
  onAnswer: (answers: LogAnswers) => void;
  onAccept: (key: string, right: boolean) => void;
  onOver: () => void;
}) {
  const { busy, failure, asks, keep } = keeping;
  const { base } = draft;
  return (
    <section className="mt-4" aria-label="Keep the sheet">
      {notes.length > 0 && <StillToSay notes={notes} />}
      {asks && (
        <Asked
          asks={asks}
          answers={() => base.files[0]?.settings?.answers ?? {}}
          accepted={base.accepted}
          onAnswer={(_, answers) => onAnswer(answers)}
          onAccept={onAccept}
        />
      )}
      <Problem className="mt-1">{failure}</Problem>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Button kind="main" className="min-h-11" disabled={busy || notes.length > 0} onClick={() => keep()}>
          Keep as a run
        </Button>
        <Button kind="plain" className="min-h-11" disabled={busy} onClick={onOver}>
          Start over
        </Button>
        {base.target !== "new" && (
          <Link className="btn btn-plain min-h-11" href={`/experiments/${base.target}/run`}>
            Back to the experiment
          </Link>
        )}
      </div>
    </section>
  );
}

const SHOWN_NOTES = 4;

/** What is missing before the sheet can be kept, the first of it in full. */
function StillToSay({ notes }: { notes: readonly string[] }) {
  const [all, setAll] = useState(false);
  const shown = all ? notes : notes.slice(0, SHOWN_NOTES);
  return (
    <div className="border-l-[3px] border-doubt pl-3">
      <h2 className="text-[15px] font-[650]">Still to say</h2>
      <ul>
        {shown.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
      {notes.length > shown.length && (
        <Button kind="plain" onClick={() => setAll(true)}>
          and {notes.length - shown.length} more
        </Button>
      )}
    </div>
  );
}
