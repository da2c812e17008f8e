import { CHANNEL_WORDS } from "@/words/channels";
import { exact } from "@/words/times";
import type { Inspection } from "@/services/import/imports";
import type { ImportAsks, ImportProgress, ImportRequest, ImportFailure } from "@/services/import/importRequest";
import { SaidError } from "@/ui/said";

/** A kept file, looked at again. */
export async function inspectAgain(fileId: number): Promise<Inspection> {
  const response = await fetch(`/api/files/${fileId}`);
  if (!response.ok) throw new SaidError(((await response.json()) as { error: string }).error);
  return (await response.json()) as Inspection;
}

/** One of the small logs that ship, to try the import with. */
export async function sampleLog(name: string): Promise<File> {
  const response = await fetch(`/samples/${name}`);
  if (!response.ok) throw new SaidError(`The sample ${name} did not come (${response.status}). Try again.`);
  return new File([await response.blob()], name);
}

type Line = ImportProgress | { phase: "failed"; failure?: ImportFailure; error?: string };

/** The import asks first. */
export class ImportAsking extends SaidError {
  constructor(readonly asks: ImportAsks) {
    super("The import asks before it keeps anything.");
  }
}

const failureSentence = (failure: Exclude<ImportFailure, ImportAsks>): string => {
  switch (failure.kind) {
    case "noRows":
      return `${failure.file} gave not one readable row (${failure.summary.rowsRejected} left out). Check delimiter and time format above against its first rows. Nothing was kept.`;
    case "fileGone":
      return "One of the files is no longer kept. Take it off the list and drop it again.";
    case "experimentGone":
      return "The experiment you chose has been deleted meanwhile. Choose another, or a new one; nothing was kept.";
    case "siteGone":
      return "The site you chose is no longer there. Choose another, or describe it; nothing was kept.";
    case "laneUnknown":
      return `Lane ${failure.letter} does not belong to the experiment you chose. Give it a name under Lanes, or choose another experiment.`;
    case "channelTwice":
      return `${failure.files.join(" and ")} both hold the ${CHANNEL_WORDS[failure.channel]}${failure.lane ? ` of lane ${failure.lane}` : ""} over the same hours. Give one to another lane, or let it be kept, not used.`;
    case "swapsUnclear":
      return failure.lanes === 2
        ? `The swap column changes ${failure.changes} times: nobody moves boxes that often. Let it be kept, not used, and type the swaps.`
        : `The swap column says when boxes changed places, not which: that is clear for two lanes, and there are ${failure.lanes}. Let it be kept, not used, and type the swaps.`;
    case "swapOutside":
      return `The swap at ${exact(failure.atMs, failure.zone)} lies outside the log, which runs from ${exact(failure.fromMs, failure.zone)} to ${exact(failure.toMs, failure.zone)}. Correct its time; nothing was kept.`;
    case "spanEmpty":
      return `The device sent nothing between ${exact(failure.fromMs, failure.zone)} and ${exact(failure.untilMs, failure.zone)}, or that lies ahead of now. Correct the times; nothing was kept.`;
    case "spanTaken":
      return `Run ${failure.run} of this experiment already holds these readings, from ${exact(failure.fromMs, failure.zone)}${failure.untilMs === null ? " on" : ` to ${exact(failure.untilMs, failure.zone)}`}: they would count twice. ${failure.untilMs === null ? "End it, or take" : "Take"} another span; nothing was kept.`;
    case "deviceGone":
      return "The device is gone, or no longer has a channel shown here. Take it off the list and choose it again.";
    case "againGone":
      return "The run you read again is no longer there, or was read by hand or live. Nothing was changed. Go back to the experiment.";
    case "zoneUnknown":
      return `The time zone “${failure.zone}” is not known. Use a name like Europe/Zurich, or a fixed offset like UTC+01:00.`;
  }
};

/** Runs the import and reports its steps; aborting the signal cancels it on the server too. */
export async function runImport(
  request: ImportRequest,
  onProgress: (p: ImportProgress) => void,
  signal: AbortSignal,
): Promise<Extract<ImportProgress, { phase: "done" }>> {
  const response = await fetch("/api/imports", {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(request),
    signal,
  }).catch((cause: unknown) => {
    throw signal.aborted ? cause : new SaidError(CONNECTION_ENDED, { cause });
  });
  if (!response.ok || !response.body) {
    const { error } = (await response.json().catch(() => ({}))) as { error?: string };
    throw new SaidError(error ?? `The import was refused (${response.status}).`);
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let carry = "";
  for (;;) {
    const { done, value } = await reader.read().catch((cause: unknown) => {
      throw signal.aborted ? cause : new SaidError(CONNECTION_ENDED, { cause });
    });
    if (done) break;
    const lines = (carry + value).split("\n");
    carry = lines.pop()!;
    for (const line of lines) {
      const message = JSON.parse(line) as Line;
      if (message.phase === "failed") throw failureOf(message);
      onProgress(message);
      if (message.phase === "done") return message;
    }
  }
  throw new SaidError(CONNECTION_ENDED);
}

function failureOf({ failure, error }: Extract<Line, { phase: "failed" }>): Error {
  if (failure?.kind === "asks") return new ImportAsking(failure);
  return new SaidError(failure ? failureSentence(failure) : (error ?? "The import failed."));
}

const CONNECTION_ENDED =
  "The connection ended before the answer came, so it is not known whether the run was kept. Import again: if it was, Bravel finds it and does not take it twice.";

/** The run an import made under its key, if it did; null when it made none. Rejects when the server does not say. */
export async function madeRun(key: string): Promise<{ experimentId: number; run: number } | null> {
  const response = await fetch(`/api/imports?key=${key}`);
  if (!response.ok) throw new SaidError(CONNECTION_ENDED);
  return ((await response.json()) as { made: { experimentId: number; run: number } | null }).made;
}
