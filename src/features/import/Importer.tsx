"use client";

import { FileUp, Play } from "lucide-react";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useCallback, useMemo, useRef, useState } from "react";
import type { ExperimentHead, StoredRun } from "@/core/experiment/types";
import type { Site } from "@/core/experiment/types";
import { TimestampReader } from "@/core/log/timestamp";
import { isZone, localDay } from "@/core/log/zone";
import type { LogAnswers } from "@/core/log/question";
import type { Inspection } from "@/services/import/imports";
import type { ImportAsks, ImportProgress } from "@/services/import/importRequest";
import { Asked } from "./Asked";
import {
  buildRequest,
  emptyDraft,
  flowKind,
  mappedLanes,
  settingsFrom,
  type FileDraft,
  type ImportDraft,
  knownLetters,
} from "./draft";
import { Empty } from "./Empty";
import { draftNotes } from "./draftNotes";
import { FileCard } from "./FileCard";
import { LaneCard } from "./LaneCard";
import { Bar, DropZone, progressWords } from "./parts";
import { logsIn } from "./unpack";
import { withLane } from "./laneDraft";
import { Swaps } from "./Swaps";
import { TargetForm } from "./TargetForm";
import { Begins } from "./Begins";
import { uploadFile } from "@/ui/uploadFile";
import { ImportAsking, madeRun, runImport, sampleLog } from "./transfer";
import { usePackage } from "@/features/experiment/usePackage";
import { useDevice } from "./useDevice";
import { NoRoom } from "@/ui/NoRoom";
import { forgetDraft, retarget, siteOf, useDraft, withLanes, zoneOf } from "./useDraft";
import { sunOf } from "./useEvidence";
import { importSentence } from "./words";
import { saidOf } from "@/ui/said";

interface ImporterProps {
  heads: ExperimentHead[];
  lastRuns: Record<number, StoredRun | undefined>;
  sites: Site[];
  target: number | null;
  /** Device whose readings are to be looked at. */
  device?: number | null;
}

interface Upload {
  name: string;
  share: number;
}

/** From dropped files to a run: see how each is written, correct it, say what the lanes are, import with progress. */
export default function Importer({ heads, lastRuns, sites, target, device = null }: ImporterProps) {
  const router = useRouter();
  const [draft, keepDraft, kept] = useDraft(sites, target, heads, lastRuns);
  /** Whatever is corrected is looked at anew: what was said to be right was said of the readings before. */
  const setDraft = useCallback(
    (change: (d: ImportDraft) => ImportDraft) => {
      setAsks(null);
      keepDraft((d) => ({ ...change(d), accepted: [] }));
    },
    [keepDraft],
  );
  const [uploads, setUploads] = useState<Upload[]>([]);
  const [problems, setProblems] = useState<string[]>([]);
  const [progress, setProgress] = useState<ImportProgress | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [asks, setAsks] = useState<ImportAsks | null>(null);
  const abort = useRef<AbortController | null>(null);
  const zones = Intl.supportedValuesOf("timeZone");
  const siteZone = zoneOf(draft, heads, sites);

  const opening = usePackage();
  const addFiles = async (files: readonly File[]) => {
    setProblems([]);
    for (const file of await logsIn(files, {
      onProblem: (problem) => setProblems((p) => [...p, problem]),
      onPackage: (file) => void opening.open(file),
    })) {
      setUploads((u) => [...u, { name: file.name, share: 0 }]);
      try {
        const inspection = await uploadFile<Inspection>(file, (share) =>
          setUploads((u) => u.map((x) => (x.name === file.name ? { ...x, share } : x))),
        );
        setDraft((d) => withFile(d, fileDraft(inspection, siteZone ?? "UTC")));
      } catch (error) {
        setProblems((p) => [...p, saidOf(error, `${file.name} could not be read. Drop it again.`)]);
      }
      setUploads((u) => u.filter((x) => x.name !== file.name));
    }
  };

  useDevice(device, {
    onFile: (inspection, live) =>
      setDraft((d) =>
        withFile(
          { ...d, files: d.files.filter((f) => f.live?.streamId !== live.streamId) },
          { ...fileDraft(inspection, siteZone ?? "UTC"), live },
        ),
      ),
    onProblem: (problem) => setProblems([problem]),
  });

  const trySample = async (name: string) => {
    try {
      await addFiles([await sampleLog(name)]);
    } catch (error) {
      setProblems([saidOf(error, `The sample ${name} could not be read. Try again.`)]);
    }
  };

  const changeFile = (id: number, file: FileDraft) =>
    setDraft((d) =>
      withLanes({
        ...d,
        files: d.files.map((f) => {
          if (f.inspection.file.id === id) return file;
          return sameColumns(f, file) ? { ...f, dateOrderAsked: file.dateOrderAsked, settings: file.settings } : f;
        }),
      }),
    );

  const redelimit = async (file: FileDraft, delimiter: NonNullable<FileDraft["delimiter"]>, word: string) => {
    const response = await fetch(`/api/files/${file.inspection.file.id}?delimiter=${word}`);
    if (!response.ok) return setProblems([((await response.json()) as { error: string }).error]);
    changeFile(file.inspection.file.id, fileDraft((await response.json()) as Inspection, siteZone ?? "UTC", delimiter));
  };

  const altitudeM = siteOf(draft, heads, sites)?.altitudeM ?? null;
  const sunWm2 = useMemo(() => sunOf(draft.files), [draft.files]);
  const around = useMemo(() => ({ altitudeM, sunWm2 }), [altitudeM, sunWm2]);
  const notes = draftNotes(draft, heads);
  const blocked = notes.some((n) => n.blocking);
  const lanes = mappedLanes(draft);
  const known = draft.target === "new" ? [] : knownLetters(heads.find((h) => h.id === draft.target));

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

  const live = draft.files.some((f) => f.live);
  const arrived = (made: { experimentId: number }) => {
    forgetDraft();
    router.push(`/experiments/${made.experimentId}/${live ? "run" : "read"}`);
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

  return (
    <div className="px-4 py-4 sm:px-6">
      <h1 className="sentence">{importSentence(draft, lanes.length)}</h1>
      <NoRoom kept={kept} />
      <DropZone onFiles={(f) => void addFiles(f)} compact={draft.files.length > 0} />
      <div aria-live="polite">
        {uploads.map((u) => (
          <Bar key={u.name} label={`${u.name} arriving`} share={u.share} />
        ))}
      </div>
      {draft.files.length === 0 && <Empty experiment={target} onSample={(name) => void trySample(name)} />}
      {opening.busy && <p role="status">Opening the packed experiment …</p>}
      {[...problems, ...(opening.problem ? [opening.problem] : [])].map((p) => (
        <p key={p} role="alert" className="mt-1 font-semibold text-danger">
          {p}
        </p>
      ))}
      {draft.files.map((f, i) => {
        const first = draft.files.findIndex((o) => sameColumns(o, f) || o === f);
        const siblings = draft.files.filter((o) => o !== f && sameColumns(o, f)).length;
        const remove = () =>
          setDraft((d) =>
            withLanes({ ...d, files: d.files.filter((o) => o.inspection.file.id !== f.inspection.file.id) }),
          );
        return first === i || first === -1 ? (
          <FileCard
            key={f.inspection.file.id}
            file={f}
            zones={zones}
            siblings={siblings}
            lanes={draft.lanes}
            around={around}
            onChange={(file) => changeFile(f.inspection.file.id, file)}
            onDelimiter={(d, word) => void redelimit(f, d, word)}
            onRemove={remove}
          />
        ) : (
          <p key={f.inspection.file.id} className="flex items-center gap-3 border-b border-hair py-1">
            <b className="font-semibold">{f.inspection.file.name}</b>
            <span className="side">same columns as {draft.files[first].inspection.file.name}</span>
            <button type="button" className="btn btn-plain ml-auto" onClick={remove}>
              Take off the list
            </button>
          </p>
        );
      })}
      {draft.files.length > 0 && (
        <>
          <section aria-labelledby="target" className="mt-5">
            <div className="head">
              <h2 id="target">Experiment and bench</h2>
            </div>
            <TargetForm
              draft={draft}
              heads={heads}
              sites={sites}
              zones={zones}
              onTarget={(t) => setDraft((d) => atSite(retarget(d, t, heads, lastRuns), heads, sites))}
              onChange={(change) => setDraft((d) => atSite({ ...d, ...change }, heads, sites))}
            />
          </section>
          {lanes.length > 0 && (
            <section aria-labelledby="lanes" className="mt-5">
              <div className="head">
                <h2 id="lanes">Lanes</h2>
                <span className="side">
                  what is typed for one lane the others follow while they are alike; an accuracy left empty is taken
                  widely
                </span>
              </div>
              {lanes.map(
                (l) =>
                  draft.lanes[l] && (
                    <LaneCard
                      key={l}
                      letter={l}
                      lane={draft.lanes[l]}
                      known={known.includes(l)}
                      flow={flowKind(draft, l)}
                      others={lanes.filter((o) => o < l && !draft.lanes[o]?.copyOf && !known.includes(o))}
                      onChange={(lane) => setDraft((d) => ({ ...d, lanes: withLane(d.lanes, l, lane) }))}
                    />
                  ),
              )}
            </section>
          )}
          <Swaps
            swaps={draft.swaps ?? []}
            lanes={lanes}
            zone={siteZone ?? "the logger"}
            day={firstDay(draft.files[0])}
            onSwaps={(swaps) => setDraft((d) => ({ ...d, swaps }))}
          />
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
                answers={answersOf}
                accepted={draft.accepted}
                onAnswer={answer}
                onAccept={accept}
                onClock={moveClock}
              />
            )}
            {failure && (
              <p role="alert" className="mt-1 font-semibold text-danger">
                {failure}
              </p>
            )}
            <Begins draft={draft} onChange={(change) => setDraft((d) => ({ ...d, ...change }))} />
            <div className="mt-2 flex flex-wrap items-center gap-3">
              {progress ? (
                <button type="button" className="btn btn-doubt" onClick={() => abort.current?.abort()}>
                  Cancel
                </button>
              ) : (
                <button type="button" className="btn btn-main" disabled={blocked} onClick={() => void start()}>
                  {live ? <Play size={14} aria-hidden /> : <FileUp size={14} aria-hidden />}{" "}
                  {live ? "Start the run" : "Import as one run"}
                </button>
              )}
              {!progress && (
                <button type="button" className="btn btn-plain" onClick={() => setDraft(() => emptyDraft(sites))}>
                  Start over
                </button>
              )}
              {!progress && draft.target !== "new" && (
                <Link className="btn btn-plain" href={`/experiments/${draft.target}/run`}>
                  Back to the experiment
                </Link>
              )}
            </div>
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
        </>
      )}
    </div>
  );
}

function fileDraft(inspection: Inspection, zone: string, delimiter: FileDraft["delimiter"] = null): FileDraft {
  const { layout, before } = inspection;
  // What a person once said of these very headers is better than any guess; a delimiter chosen anew begins anew.
  const remembered = layout && before && !delimiter ? { ...before.settings, zone, answers: undefined } : null;
  // When a time 0 was is each file's own.
  if (remembered?.timeFormat.kind === "elapsed") remembered.timeFormat = { ...remembered.timeFormat, startMs: 0 };
  return {
    inspection,
    delimiter: layout?.delimiter ?? delimiter,
    settings: remembered ?? (layout && settingsFrom(layout, zone)),
    remembered: remembered !== null,
    dateOrderAsked: remembered ? false : (layout?.timeAmbiguous ?? false),
    timeHasZone: layout?.timeHasZone ?? false,
    zoneSet: false,
  };
}

/** A file's clock follows the site until a person sets it. */
function atSite(draft: ImportDraft, heads: readonly ExperimentHead[], sites: readonly Site[]): ImportDraft {
  const zone = zoneOf(draft, heads, sites);
  if (!zone) return draft;
  return {
    ...draft,
    files: draft.files.map((f) => (f.zoneSet || !f.settings ? f : { ...f, settings: { ...f.settings, zone } })),
  };
}

/** The day of a file's first row, on the log's clock; empty where it cannot be read yet. */
function firstDay(file: FileDraft | undefined): string {
  const { settings, inspection } = file ?? {};
  if (!settings || !isZone(settings.zone)) return "";
  const text = settings.timeColumns.map((c) => inspection?.sample[0]?.[c] ?? "").join(" ");
  const time = new TimestampReader(settings.timeFormat, settings.zone).read(text.trim());
  return time.ok ? localDay(time.utcMs, settings.zone) : "";
}

const IMPORT_FAILED =
  "The import broke off in this browser, so it is not known whether the run was saved. Import again: if it was, Bravel finds it and does not take it twice.";

const columnKey = (f: FileDraft) =>
  f.settings && `${f.settings.delimiter}${f.settings.columns.map((c) => c.header).join("\u0000")}`;
const sameColumns = (a: FileDraft, b: FileDraft) => columnKey(a) !== null && columnKey(a) === columnKey(b);

function withFile(draft: ImportDraft, file: FileDraft): ImportDraft {
  const twin = draft.files.find((f) => sameColumns(f, file));
  return withLanes({
    ...draft,
    files: [...draft.files, twin ? { ...file, settings: twin.settings, dateOrderAsked: twin.dateOrderAsked } : file],
  });
}
