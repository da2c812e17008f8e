"use client";

import { useState } from "react";
import type { LogSettings } from "@/core/log/logData";
import type { Inspection } from "@/services/import/imports";
import { settingsFrom, type FileDraft, type ImportDraft } from "./draft";
import { logsIn } from "./unpack";
import { uploadFile } from "@/ui/uploadFile";
import type { ReadAgain } from "@/services/page/pages";
import { sampleLog } from "./transfer";
import { usePackage } from "@/features/experiment/usePackage";
import { useAgain } from "./useAgain";
import { useDevice } from "./useDevice";
import { withLanes } from "./useDraft";
import { saidOf } from "@/ui/said";

interface Upload {
  name: string;
  share: number;
}

export type SetDraft = (change: (d: ImportDraft) => ImportDraft) => void;

/** Files on their way into the draft: dropped, sampled, streamed by a device, or read anew with another delimiter. */
export function useFiles({
  setDraft,
  siteZone,
  device,
  again,
}: {
  setDraft: SetDraft;
  siteZone: string | undefined;
  device: number | null;
  again: ReadAgain | null;
}) {
  const [uploads, setUploads] = useState<Upload[]>([]);
  const [problems, setProblems] = useState<string[]>([]);
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

  useAgain(again, {
    onFile: (inspection, settings) =>
      setDraft((d) =>
        d.files.some((f) => f.inspection.file.id === inspection.file.id)
          ? d
          : withLanes({
              ...d,
              files: [...d.files, againFile(inspection, settings)],
            }),
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
  const all = opening.problem ? [...problems, opening.problem] : problems;
  return { uploads, problems: all, opening: opening.busy, addFiles, trySample, changeFile, redelimit };
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

/** A file of a kept run, as it was read; that its readings are in already goes without saying. */
const againFile = (inspection: Inspection, settings: LogSettings): FileDraft => ({
  ...fileDraft({ ...inspection, alreadyIn: [] }, settings.zone),
  settings,
  delimiter: settings.delimiter,
  zoneSet: true,
  dateOrderAsked: false,
  remembered: false,
});

const columnKey = (f: FileDraft) =>
  f.settings && `${f.settings.delimiter}${f.settings.columns.map((c) => c.header).join("\u0000")}`;

export const sameColumns = (a: FileDraft, b: FileDraft) => columnKey(a) !== null && columnKey(a) === columnKey(b);

function withFile(draft: ImportDraft, file: FileDraft): ImportDraft {
  const twin = draft.files.find((f) => sameColumns(f, file));
  return withLanes({
    ...draft,
    files: [...draft.files, twin ? { ...file, settings: twin.settings, dateOrderAsked: twin.dateOrderAsked } : file],
  });
}
