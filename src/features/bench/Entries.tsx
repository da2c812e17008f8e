"use client";

import Link from "next/link";
import { ArrowRight } from "lucide-react";
import type { ExperimentHead } from "@/core/experiment/types";
import { DeleteExperiment } from "@/features/experiment/DeleteExperiment";
import { DuplicateExperiment } from "@/features/experiment/DuplicateExperiment";
import { VerdictNext, VerdictSentence } from "@/features/experiment/Verdict";
import type { BenchEntry, ExperimentSummary } from "@/services/page/benchView";
import { Badge } from "@/ui/Badge";
import { LaneMark } from "@/ui/LaneMark";

/** Experiments, each with its one-sentence answer and its next action. */
export function Entries({ entries }: { entries: readonly BenchEntry[] }) {
  return (
    <ul>
      {entries.map((entry) =>
        entry.summary ? (
          <Entry key={entry.head.id} head={entry.head} summary={entry.summary} />
        ) : (
          <Uncomputed key={entry.head.id} head={entry.head} why={entry.why} />
        ),
      )}
    </ul>
  );
}

function Entry({ head, summary }: { head: ExperimentHead; summary: ExperimentSummary }) {
  const next = nextStep(head, summary);
  return (
    <li className="grid items-center gap-x-6 gap-y-2 border-b border-hair py-3 lg:grid-cols-[230px_1fr_auto]">
      <div className="flex flex-wrap gap-x-3 gap-y-1">
        {head.lanes.map((l) => (
          <span key={l.letter} className="flex flex-col items-start gap-0.5 text-[12.5px]">
            <Badge design={l.design} lane={l.letter} />
            <LaneMark lane={l.letter} size={11} />
          </span>
        ))}
        {head.lanes.length === 0 &&
          head.drawn.slice(0, 10).map((d) => <Badge key={d.letter} design={d.design} lane={d.letter} scale={0.75} />)}
      </div>
      <div>
        <p className="text-[13.5px]">
          <Link href={`/experiments/${head.id}/judge`} className="text-[15px] font-[650] hover:underline">
            {head.name}
          </Link>{" "}
          <span className="text-ink-2">{head.question}</span>
        </p>
        <p className="mt-0.5 text-[17px] font-[600]" style={{ fontStretch: "96%" }}>
          {head.lanes.length === 0 ? (
            <Drawn head={head} />
          ) : (
            <VerdictSentence verdict={summary.verdict} head={head} opens={false} />
          )}
        </p>
        {head.lanes.length > 0 && (
          <p className="mt-0.5 text-ink-2">
            <VerdictNext verdict={summary.verdict} head={head} />
          </p>
        )}
        <p className="side">
          {summary.runs} run{summary.runs === 1 ? "" : "s"}, {summary.windows} steady windows
          {summary.doubts ? (
            <>
              ,{" "}
              <span className="font-semibold text-doubt">
                {summary.doubts} doubt{summary.doubts > 1 ? "s" : ""}
              </span>
            </>
          ) : (
            ", no doubts"
          )}
        </p>
      </div>
      <div className="flex gap-2 lg:flex-col lg:items-stretch">
        <Link href={`/experiments/${head.id}/${next.step}`} className="btn btn-main">
          {next.words} <ArrowRight size={14} aria-hidden />
        </Link>
        <DuplicateExperiment id={head.id} name={head.name} />
        <DeleteExperiment id={head.id} name={head.name} />
      </div>
    </li>
  );
}

/** One that cannot be computed stays in its place, with its reason and the way to its repair. */
const Uncomputed = ({ head, why }: { head: ExperimentHead; why: string }) => (
  <li className="grid items-center gap-x-6 gap-y-2 border-b border-hair py-3 lg:grid-cols-[1fr_auto]">
    <p>
      <b className="text-[15px] font-[650]">{head.name}</b> <span className="text-ink-2">{head.question}</span>
      <br />
      <span className="font-semibold text-danger">Its answer could not be computed: {why}.</span>
    </p>
    <div className="flex gap-2 lg:flex-col lg:items-stretch">
      <Link href={`/experiments/${head.id}/run`} className="btn btn-main">
        See what is at fault <ArrowRight size={14} aria-hidden />
      </Link>
      <DeleteExperiment id={head.id} name={head.name} />
    </div>
  </li>
);

function nextStep(head: ExperimentHead, summary: ExperimentSummary): { step: string; words: string } {
  if (head.lanes.length === 0)
    return head.drawn.length
      ? { step: "ask", words: "See the predicted order" }
      : { step: "build", words: "Draw a variant" };
  return summary.verdict.kind === "none"
    ? { step: "run", words: "Import a run" }
    : { step: "judge", words: "See the ranking" };
}

/** Before anything is built, what there is to say is what is drawn. */
function Drawn({ head: { drawn } }: { head: ExperimentHead }) {
  if (drawn.length === 0) return "Asked, and nothing drawn yet.";
  if (drawn.length === 1) return `${drawn[0].variant} is drawn, nothing built yet.`;
  return `${drawn.length} variants are drawn, none built yet: the model has an order for them.`;
}
