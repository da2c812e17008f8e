"use client";

import { withView } from "@/features/experiment/withView";
import { FileUp, PencilLine, Play, RadioTower, Trash2 } from "lucide-react";
import Link from "next/link";
import { useState } from "react";
import { CHANNEL_KINDS, type ChannelKind } from "@/core/log/channel";
import { formatNumber, quantityText } from "@/core/quantity/format";
import { deleteRun, loadStream } from "@/features/experiment/actions";
import type { ExperimentView, RunView } from "@/services/page/views";
import { LaneMark } from "@/ui/LaneMark";
import { CHANNEL_WORDS } from "@/words/channels";
import { problemWords, summaryNotes } from "@/words/importing";
import { dated } from "@/words/times";
import { usePreferences } from "@/ui/preferences";
import { useAct } from "@/ui/useAct";
import { Layers } from "./Layers";
import { LiveUnit } from "./LiveUnit";
import { reopenRun } from "./live/actions";
import { LiveBench } from "./live/LiveBench";
import { Button } from "@/ui/Button";
import { Head } from "@/ui/Head";

/** The log list: runs, which lane stood where, files with what was read from them. */
export function Runs({ view }: { view: ExperimentView }) {
  const { runs, head } = view;
  const live = runs.some((r) => r.live?.endedAt === null);
  // The live bench has the page's sentence; without one the list has it.
  const Heading = live ? "h2" : "h1";
  const frames = runs.reduce((s, r) => s + r.streams.reduce((t, f) => t + f.frames, 0), 0);
  return (
    <div>
      {live && <LiveBench head={head} />}
      <Heading className={live ? "mt-8 text-[17px] font-[650]" : "sentence"}>
        {runs.length === 0
          ? "No run yet. Import the logger’s files, or let a device send, to begin."
          : `${runs.length} run${runs.length > 1 ? "s" : ""} with ${formatNumber(frames, 0)} logged rows.`}
      </Heading>
      <p className="mt-2 flex flex-wrap gap-2">
        <Link className="btn btn-main" href={`/import?experiment=${head.id}`}>
          <FileUp size={14} aria-hidden /> Import a run
        </Link>
        <Link className="btn" href={`/sheet?experiment=${head.id}`}>
          <PencilLine size={14} aria-hidden /> Read by hand
        </Link>
        <Link className="btn" href={`/devices?experiment=${head.id}`}>
          <RadioTower size={14} aria-hidden /> Start a live run
        </Link>
      </p>
      {runs.map((r) => (
        <RunSection key={r.id} view={view} run={r} />
      ))}
    </div>
  );
}

/** What can be done with a run as a whole: an ended live run may go on, and any may be taken out. */
function RunButtons({ experimentId, run }: { experimentId: number; run: RunView }) {
  const { busy, act, undoable } = useAct();
  const remove = () =>
    undoable(
      () => deleteRun(experimentId, run.id, true),
      () => deleteRun(experimentId, run.id, false),
      `Run ${run.number} is out of the experiment.`,
    );
  return (
    <span className="more flex flex-wrap gap-x-2">
      {run.live?.endedAt != null && (
        <Button kind="plain" disabled={busy} onClick={() => act(() => reopenRun(experimentId, run.id))}>
          <Play size={14} aria-hidden /> Open run {run.number} again
        </Button>
      )}
      {!run.live && !run.byHand && (
        <Link className="btn btn-plain" href={`/import?again=${run.id}`}>
          <FileUp size={14} aria-hidden /> Read it again
        </Link>
      )}
      <Button kind="plain" disabled={busy} onClick={remove}>
        <Trash2 size={14} aria-hidden /> Delete run {run.number}
      </Button>
    </span>
  );
}

function RunSection({ view, run }: { view: ExperimentView; run: RunView }) {
  const { zone } = view.head.site;
  const span = (ms: number) => dated(ms, zone);
  return (
    <section className="mt-5" aria-labelledby={`run${run.id}`}>
      <Head
        id={`run${run.id}`}
        title={<>Run {run.number}</>}
        side={
          <>
            {span(run.startMs)} to {span(run.endMs)}, {zone}; plane {run.tilt}° towards {run.azimuth}°;{" "}
            {run.windows.length} steady windows
          </>
        }
      >
        <RunButtons experimentId={view.head.id} run={run} />
      </Head>
      {run.arrangements.map((a) => (
        <p key={a.fromMs} className="mt-1 flex flex-wrap items-center gap-x-4 text-[13.5px]">
          {a.fromMs !== null && <span>from {span(a.fromMs)}</span>}
          {Object.entries(a.stations)
            .sort(([, x], [, y]) => x - y)
            .map(([lane, station]) => (
              <span key={lane} className="whitespace-nowrap">
                place {station}: <LaneMark lane={lane} size={12} />
              </span>
            ))}
        </p>
      ))}
      {run.note && <p className="text-ink-2">{run.note}</p>}
      <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="Files of this run">
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
              <StreamRow key={s.id} of={[view.head.id, run.id]} stream={s} span={span} />
            ))}
          </tbody>
        </table>
      </div>
      <Layers view={view} run={run} />
    </section>
  );
}

function StreamRow({
  of,
  stream,
  span,
}: {
  /** Experiment and run. */
  of: [number, number];
  stream: RunView["streams"][number];
  span: (ms: number) => string;
}) {
  const [details, setDetails] = useState<StreamDetails | null>(null);
  const { busy, ask } = useAct();
  const notes = summaryNotes(stream.summary);
  return (
    <>
      <tr>
        <th scope="row">{stream.name}</th>
        <td className="num">{formatNumber(stream.frames, 0)}</td>
        <td className="num">{stream.channels.length}</td>
        <td className="whitespace-nowrap">
          {span(stream.startMs)}, {span(stream.endMs)}
        </td>
        <td>
          {notes.length ? <span className="text-doubt">{notes.join("; ")}</span> : "read without a fault"}
          <Button
            kind="plain"
            className="ml-2"
            disabled={busy}
            aria-expanded={details !== null}
            onClick={() => (details ? setDetails(null) : ask(() => loadStream(...of, stream.id), setDetails))}
          >
            {details ? "Hide" : "Show"} channels{notes.length ? " and faults" : ""}
          </Button>
        </td>
      </tr>
      {details && (
        <tr>
          <td colSpan={5}>
            <Channels of={of} stream={stream} ranges={details.ranges} onChanged={() => setDetails(null)} />
            <Problems stream={stream} problems={details.problems} />
          </td>
        </tr>
      )}
    </>
  );
}

type StreamDetails = Awaited<ReturnType<typeof loadStream>>;

/** What each channel's raw readings span: error codes and exchanged columns show at a glance. */
function Channels({
  of,
  stream,
  ranges,
  onChanged,
}: {
  of: [number, number];
  stream: RunView["streams"][number];
  ranges: StreamDetails["ranges"];
  onChanged: () => void;
}) {
  const { system } = usePreferences();
  const shown = (si: number | null, kind: ChannelKind | null) => {
    if (si === null) return "–";
    return kind ? quantityText(si, CHANNEL_KINDS[kind].quantity, { system, figures: 4 }) : formatNumber(si, 2);
  };
  return (
    <table className="grid-table mb-2 w-auto text-[13.5px]">
      <caption className="sr-only">Channels of {stream.name}</caption>
      <thead>
        <tr>
          <th scope="col">channel</th>
          <th scope="col">stands for</th>
          <th scope="col">place</th>
          <th scope="col">instrument</th>
          <th scope="col" className="num">
            lowest raw reading
          </th>
          <th scope="col" className="num">
            highest
          </th>
        </tr>
      </thead>
      <tbody>
        {stream.channels.map((c) => {
          const range = ranges.find((r) => r.channelNo === c.channelNo);
          return (
            <tr key={c.channelNo}>
              <th scope="row">{c.name}</th>
              <td>
                {c.kind ? CHANNEL_WORDS[c.kind] : "kept, not used"}
                {stream.live && c.kind && <LiveUnit of={[...of, stream.id]} channel={c} onChanged={onChanged} />}
              </td>
              <td>{c.stations.join(", ") || "all"}</td>
              <td>{c.instruments.join(", ") || "–"}</td>
              <td className="num">{shown(range?.lowest ?? null, c.kind)}</td>
              <td className="num">{shown(range?.highest ?? null, c.kind)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function Problems({ stream, problems }: { stream: RunView["streams"][number]; problems: StreamDetails["problems"] }) {
  const counted = Object.values(stream.summary.problemCounts).reduce((a, b) => a + b, 0);
  if (!problems.length) return null;
  return (
    <>
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
    </>
  );
}

/** The same from the page's packed data. */
export const RunsStep = withView(Runs);
