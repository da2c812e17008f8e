"use client";

import { FileUp, Trash2 } from "lucide-react";
import Link from "next/link";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import type { ImportProblem } from "@/core/log/readLog";
import { formatNumber } from "@/core/quantity/format";
import { deleteRun, loadProblems } from "@/features/experiment/actions";
import type { ExperimentView, RunView } from "@/services/views";
import { LaneMark } from "@/ui/LaneMark";
import { problemWords } from "@/words/judge";

/** The log list: runs, which lane stood where, files with what was read from them. */
export function Runs({ view }: { view: ExperimentView }) {
  const { runs, head } = view;
  const frames = runs.reduce((s, r) => s + r.streams.reduce((t, f) => t + f.frames, 0), 0);
  return (
    <div>
      <h1 className="sentence">
        {runs.length === 0
          ? "No run yet. Import the logger’s files to begin."
          : `${runs.length} run${runs.length > 1 ? "s" : ""} with ${formatNumber(frames, 0)} logged rows.`}
      </h1>
      <p className="mt-2">
        <Link className="btn btn-main" href={`/import?experiment=${head.id}`}>
          <FileUp size={14} aria-hidden /> Import a run
        </Link>
      </p>
      {runs.map((r) => (
        <RunSection key={r.id} view={view} run={r} />
      ))}
    </div>
  );
}

function RunSection({ view, run }: { view: ExperimentView; run: RunView }) {
  const [busy, start] = useTransition();
  const { zone } = view.head.site;
  const span = (ms: number) =>
    new Intl.DateTimeFormat("en-GB", {
      timeZone: zone,
      day: "numeric",
      month: "short",
      year: "numeric",
      hour: "2-digit",
      minute: "2-digit",
    }).format(ms);
  const remove = () =>
    start(async () => {
      await deleteRun(view.head.id, run.id, true);
      toast(`Run ${run.number} is out of the experiment.`, {
        duration: 12000,
        action: { label: "Undo", onClick: () => void deleteRun(view.head.id, run.id, false) },
      });
    });
  return (
    <section className="mt-5" aria-labelledby={`run${run.id}`}>
      <div className="head">
        <h2 id={`run${run.id}`}>Run {run.number}</h2>
        <span className="side">
          {span(run.startMs)} to {span(run.endMs)}, {zone}; plane {run.tilt}° towards {run.azimuth}°;{" "}
          {run.windows.length} steady windows
        </span>
        <button type="button" className="more btn btn-plain" disabled={busy} onClick={remove}>
          <Trash2 size={14} aria-hidden /> Delete run {run.number}
        </button>
      </div>
      <p className="mt-1 flex flex-wrap items-center gap-x-4">
        {Object.entries(run.stations)
          .sort((a, b) => a[1] - b[1])
          .map(([lane, station]) => (
            <span key={lane} className="whitespace-nowrap text-[13.5px]">
              place {station}: <LaneMark lane={lane} size={12} />
            </span>
          ))}
        {run.note && <span className="text-ink-2">{run.note}</span>}
      </p>
      <div className="relative overflow-x-auto">
        <table className="grid-table mt-1">
          <thead>
            <tr>
              <th scope="col">file</th>
              <th scope="col" className="num">
                rows kept
              </th>
              <th scope="col" className="num">
                channels
              </th>
              <th scope="col">from, to</th>
              <th scope="col">what happened</th>
            </tr>
          </thead>
          <tbody>
            {run.streams.map((s) => (
              <StreamRow key={s.id} stream={s} span={span} />
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function StreamRow({ stream, span }: { stream: RunView["streams"][number]; span: (ms: number) => string }) {
  const [problems, setProblems] = useState<ImportProblem[] | null>(null);
  const [busy, start] = useTransition();
  const { summary } = stream;
  const counted = Object.values(summary.problemCounts).reduce((a, b) => a + b, 0);
  const notes = [
    summary.rowsRejected ? `${formatNumber(summary.rowsRejected, 0)} rows left out` : "",
    summary.cellsUnreadable ? `${formatNumber(summary.cellsUnreadable, 0)} cells unreadable` : "",
    summary.duplicateTimes ? `${formatNumber(summary.duplicateTimes, 0)} repeated times, last kept` : "",
    summary.backwardTimes ? `${formatNumber(summary.backwardTimes, 0)} rows out of order, sorted` : "",
    summary.repeatedHourRows
      ? `${formatNumber(summary.repeatedHourRows, 0)} rows in the hour that clocks show twice`
      : "",
  ].filter(Boolean);
  return (
    <>
      <tr>
        <th scope="row">{stream.name}</th>
        <td className="num">{formatNumber(stream.frames, 0)}</td>
        <td className="num">{stream.channels}</td>
        <td className="whitespace-nowrap">
          {span(stream.startMs)}, {span(stream.endMs)}
        </td>
        <td>
          {notes.length ? <span className="text-doubt">{notes.join("; ")}</span> : "read without a fault"}
          {counted > 0 && (
            <button
              type="button"
              className="btn btn-plain ml-2"
              disabled={busy}
              aria-expanded={problems !== null}
              onClick={() =>
                problems ? setProblems(null) : start(async () => setProblems(await loadProblems(stream.id)))
              }
            >
              {problems ? "Hide" : "Show"} where
            </button>
          )}
        </td>
      </tr>
      {problems && (
        <tr>
          <td colSpan={5}>
            <ul className="max-h-60 overflow-auto">
              {problems.map((p, i) => {
                const w = problemWords(p);
                return (
                  <li key={i}>
                    <b className="font-semibold">
                      {stream.name}, {w.where}
                    </b>{" "}
                    {w.what}
                  </li>
                );
              })}
            </ul>
            {counted > problems.length && (
              <p className="side">
                The first {problems.length} of {formatNumber(counted, 0)} are listed.
              </p>
            )}
          </td>
        </tr>
      )}
    </>
  );
}
