"use client";

import { FileUp, Play } from "lucide-react";
import Link from "next/link";
import type { Site } from "@/core/experiment/types";
import type { LogAnswers } from "@/core/log/question";
import type { ImportAsks } from "@/services/import/importRequest";
import { Asked } from "./Asked";
import { emptyDraft, type FileDraft, type ImportDraft } from "./draft";
import { Bar, progressWords } from "./parts";
import { Begins } from "./Begins";
import { Button } from "@/ui/Button";
import { Problem } from "@/ui/Problem";
import type { DraftNote } from "@/features/import/draftNotes";
import { type SetDraft } from "./useFiles";
import { useRun } from "./useRun";

/** What a person says to what the readings asked. */
export function useAnswers({
  keepDraft,
  draft,
  setDraft,
}: {
  keepDraft: (change: (now: ImportDraft) => ImportDraft) => void;
  draft: ImportDraft;
  setDraft: SetDraft;
}) {
  const answer = (fileId: number, answers: LogAnswers) =>
    keepDraft((d) => ({
      ...d,
      files: d.files.map((f) =>
        f.inspection.file.id === fileId && f.settings ? { ...f, settings: { ...f.settings, answers } } : f,
      ),
    }));
  const answersOf = (fileId: number): LogAnswers =>
    draft.files.find((f) => f.inspection.file.id === fileId)?.settings?.answers ?? {};
  const moveClock = (file: number, clock: NonNullable<FileDraft["clock"]>) =>
    setDraft((d) => ({ ...d, files: d.files.map((f, i) => (i === file ? { ...f, clock } : f)) }));
  const accept = (key: string, right: boolean) =>
    keepDraft((d) => ({ ...d, accepted: right ? [...d.accepted, key] : d.accepted.filter((k) => k !== key) }));
  return { answersOf, answer, accept, moveClock };
}

/** What stands against the import, what is asked, and the import itself. */
export function Last({
  draft,
  setDraft,
  notes,
  asks,
  answers,
  run,
  sites,
}: {
  draft: ImportDraft;
  setDraft: SetDraft;
  notes: DraftNote[];
  asks: ImportAsks | null;
  answers: ReturnType<typeof useAnswers>;
  run: ReturnType<typeof useRun>;
  sites: Site[];
}) {
  const { progress } = run;
  return (
    <section className="mt-4" aria-label="Import">
      <ul>
        {notes.map((n) => (
          <li key={n.text} className={`font-semibold ${n.blocking ? "text-danger" : "text-doubt"}`}>
            {n.text}
          </li>
        ))}
      </ul>
      {asks && (
        <Asked
          asks={asks}
          answers={answers.answersOf}
          accepted={draft.accepted}
          onAnswer={answers.answer}
          onAccept={answers.accept}
          onClock={answers.moveClock}
        />
      )}
      <Problem className="mt-1">{run.failure}</Problem>
      <Begins draft={draft} onChange={(change) => setDraft((d) => ({ ...d, ...change }))} />
      <Buttons {...{ run, setDraft, sites, draft }} blocked={notes.some((n) => n.blocking)} />
      {progress && (
        <Bar
          label={progressWords(progress)}
          share={
            progress.phase === "done"
              ? 1
              : (progress.file + (progress.phase === "reading" ? progress.share / 2 : 0.5 + progress.share / 2)) /
                progress.files
          }
        />
      )}
    </section>
  );
}

const startWords = ({ again }: ImportDraft, live: boolean): string => {
  if (again) return `Read run ${again.number} again`;
  return live ? "Start the run" : "Import as one run";
};

function Buttons({
  draft,
  setDraft,
  run: { progress, start, live, cancel },
  blocked,
  sites,
}: {
  draft: ImportDraft;
  setDraft: SetDraft;
  run: ReturnType<typeof useRun>;
  blocked: boolean;
  sites: Site[];
}) {
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3">
      {progress ? (
        <Button kind="doubt" onClick={cancel}>
          Cancel
        </Button>
      ) : (
        <Button kind="main" disabled={blocked} onClick={() => void start()}>
          {live ? <Play size={14} aria-hidden /> : <FileUp size={14} aria-hidden />} {startWords(draft, live)}
        </Button>
      )}
      {!progress && !draft.again && (
        <Button kind="plain" onClick={() => setDraft(() => emptyDraft(sites))}>
          Start over
        </Button>
      )}
      {!progress && draft.target !== "new" && (
        <Link className="btn btn-plain" href={`/experiments/${draft.target}/run`}>
          Back to the experiment
        </Link>
      )}
    </div>
  );
}
