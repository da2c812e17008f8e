"use client";

import { useCallback, useMemo, useState } from "react";
import type { ExperimentHead, StoredRun, Site } from "@/core/experiment/types";
import { TimestampReader } from "@/core/log/timestamp";
import { isZone, localDay } from "@/core/log/zone";
import type { ReadAgain } from "@/services/page/pages";
import type { ImportAsks } from "@/services/import/importRequest";
import { flowKind, mappedLanes, tankOrFlow, type FileDraft, type ImportDraft, knownLetters } from "./draft";
import { Empty } from "./Empty";
import { draftNotes } from "./draftNotes";
import { FileCard } from "./FileCard";
import { LaneCard } from "./LaneCard";
import { Bar, DropZone } from "./parts";
import { withLane } from "./laneDraft";
import { Swaps } from "./Swaps";
import { TargetForm } from "./TargetForm";
import { NoRoom } from "@/ui/NoRoom";
import { retarget, siteOf, useDraft, withLanes, zoneOf } from "./useDraft";
import { sunOf } from "./useEvidence";
import { importSentence } from "./words";
import { Button } from "@/ui/Button";
import { Head } from "@/ui/Head";
import { Problem } from "@/ui/Problem";
import { useFiles, sameColumns, type SetDraft } from "./useFiles";
import { useRun } from "./useRun";
import { Last, useAnswers } from "./Last";

interface ImporterProps {
  heads: ExperimentHead[];
  lastRuns: Record<number, StoredRun | undefined>;
  sites: Site[];
  target: number | null;
  /** Device whose readings are to be looked at. */
  device?: number | null;
  /** A kept run whose files are to be read again. */
  again?: ReadAgain | null;
}

/** From dropped files to a run: see how each is written, correct it, say what the lanes are, import with progress. */
export default function Importer({ heads, lastRuns, sites, target, device = null, again = null }: ImporterProps) {
  const [draft, keepDraft, kept] = useDraft(sites, target, heads, lastRuns, again);
  const [asks, setAsks] = useState<ImportAsks | null>(null);
  /** Whatever is corrected is looked at anew: what was said to be right was said of the readings before. */
  const setDraft = useCallback(
    (change: (d: ImportDraft) => ImportDraft) => {
      setAsks(null);
      keepDraft((d) => ({ ...change(d), accepted: [] }));
    },
    [keepDraft],
  );
  const zones = Intl.supportedValuesOf("timeZone");
  const siteZone = zoneOf(draft, heads, sites);

  const { uploads, problems, opening, ...files } = useFiles({
    setDraft,
    siteZone,
    device,
    again: draft.files.length ? null : again,
  });

  const altitudeM = siteOf(draft, heads, sites)?.altitudeM ?? null;
  const sunWm2 = useMemo(() => sunOf(draft.files), [draft.files]);
  const around = useMemo(() => ({ altitudeM, sunWm2 }), [altitudeM, sunWm2]);
  const notes = draftNotes(draft, heads);
  const lanes = mappedLanes(draft);
  const known = draft.target === "new" ? [] : knownLetters(heads.find((h) => h.id === draft.target));

  const answers = useAnswers({ keepDraft, draft, setDraft });

  const run = useRun(draft, heads, setAsks);

  return (
    <div className="px-4 py-4 sm:px-6">
      <h1 className="sentence">{importSentence(draft, lanes.length)}</h1>
      <NoRoom kept={kept} />
      <DropZone onFiles={(f) => void files.addFiles(f)} compact={draft.files.length > 0} />
      <div aria-live="polite">
        {uploads.map((u) => (
          <Bar key={u.name} label={`${u.name} arriving`} share={u.share} />
        ))}
      </div>
      {draft.files.length === 0 && <Empty experiment={target} onSample={(name) => void files.trySample(name)} />}
      {opening && <p role="status">Opening the packed experiment …</p>}
      {problems.map((p) => (
        <Problem key={p} className="mt-1">
          {p}
        </Problem>
      ))}
      <Files {...{ draft, setDraft, zones, around, files }} />
      {draft.files.length > 0 && (
        <>
          <section aria-labelledby="target" className="mt-5">
            <Head id="target" title="Experiment and bench" />
            <TargetForm
              draft={draft}
              heads={draft.again ? heads.filter((h) => h.id === draft.again?.experimentId) : heads}
              sites={sites}
              zones={zones}
              onTarget={(t) => setDraft((d) => atSite(retarget(d, t, heads, lastRuns), heads, sites))}
              onChange={(change) => setDraft((d) => atSite({ ...d, ...change }, heads, sites))}
            />
          </section>
          {lanes.length > 0 && <Lanes {...{ lanes, draft, known, setDraft }} />}
          <Swaps
            swaps={draft.swaps ?? []}
            lanes={lanes}
            zone={siteZone ?? "the logger"}
            day={firstDay(draft.files[0])}
            onSwaps={(swaps) => setDraft((d) => ({ ...d, swaps }))}
          />
          <Last {...{ draft, setDraft, notes, asks, answers, run, sites }} />
        </>
      )}
    </div>
  );
}

function Lanes({
  lanes,
  draft,
  known,
  setDraft,
}: {
  lanes: string[];
  draft: ImportDraft;
  known: string[];
  setDraft: SetDraft;
}) {
  return (
    <section aria-labelledby="lanes" className="mt-5">
      <Head
        id="lanes"
        title="Lanes"
        side="what is typed for one lane the others follow while they are alike; an accuracy left empty is taken widely"
      />
      {lanes.map(
        (l) =>
          draft.lanes[l] && (
            <LaneCard
              key={l}
              letter={l}
              lane={draft.lanes[l]}
              known={known.includes(l)}
              flow={flowKind(draft, l)}
              askHeatBy={tankOrFlow(draft, l)}
              day={firstDay(draft.files[0])}
              others={lanes.filter((o) => o < l && !draft.lanes[o]?.copyOf && !known.includes(o))}
              onChange={(lane) => setDraft((d) => ({ ...d, lanes: withLane(d.lanes, l, lane) }))}
            />
          ),
      )}
    </section>
  );
}

/** The files of a run; one with the same columns as an earlier one goes by that one's card. */
function Files({
  draft,
  setDraft,
  zones,
  around,
  files: { changeFile, redelimit },
}: {
  draft: ImportDraft;
  setDraft: SetDraft;
  zones: string[];
  around: { altitudeM: number | null; sunWm2: number | null };
  files: Pick<ReturnType<typeof useFiles>, "changeFile" | "redelimit">;
}) {
  return draft.files.map((f, i) => {
    const first = draft.files.findIndex((o) => sameColumns(o, f) || o === f);
    const siblings = draft.files.filter((o) => o !== f && sameColumns(o, f)).length;
    const remove = () =>
      setDraft((d) => withLanes({ ...d, files: d.files.filter((o) => o.inspection.file.id !== f.inspection.file.id) }));
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
        <Button kind="plain" className="ml-auto" onClick={remove}>
          Take off the list
        </Button>
      </p>
    );
  });
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
