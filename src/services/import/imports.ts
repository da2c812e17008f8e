import type { Knex } from "knex";
import { implausibleKey, type Implausible } from "../../core/analysis/slip";
import type { Experiment } from "../../core/experiment/types";
import type { RawFile } from "../../core/experiment/records";
import type { LayerDetail, Mount } from "../../core/experiment/schema/layer";
import { type LaneSetupInput } from "../../core/experiment/schema/run";
import { PLAIN_DETAIL } from "../../core/experiment/schema/site";
import { EVERY_LANE, type ChannelKind } from "../../core/log/channel";
import type { CleanReason } from "../../core/log/clean";
import type { LogData } from "../../core/log/logData";
import { isZone } from "../../core/log/zone";
import {
  addLanes,
  buildDrawn,
  findExperiment,
  insertExperiment,
  isThere,
  laneLetters,
} from "../../data/experiment/experiments";
import { findFile } from "../../data/file/files";
import { recordChange } from "../../data/journal";
import { writeBlocks } from "../../data/reading/readings";
import { insertLayer } from "../../data/run/layers";
import { followStream, insertRun, insertStream, numberRun, runByKey } from "../../data/run/runs";
import { findSite, insertSite } from "../../data/site/sites";
import { transact } from "../../data/transact";
import type { VerdictView } from "../judge/verdictView";
import { implausibleInRun, type StreamReadings } from "../analysis/analyse";
import { refuseSpan, releaseLoggers } from "./importSpan";
import { refuseTwice } from "./refuseTwice";
import { verdictBefore, runToReadAgain, takePlaceOf, type ReadAnew } from "./readAgain";
import { layerSwaps } from "./importSwaps";
import { readStoredLog } from "./storedLog";
import {
  ImportCancelled,
  ImportRefused,
  importRequestSchema,
  ImportUnsure,
  type FullRequest,
  type ImportProgress,
  type ImportRequest,
} from "./importRequest";

export { removeFile, StalledUpload, storeFile } from "../../data/file/files";
export { inspectFile, type Inspection, type InspectProblem } from "./inspectFile";

/** Above this an upload is refused. */
export const LARGEST_FILE = 512 * 1024 * 1024;
/** An upload of which nothing comes for a minute is given up. */
export const STALL_MS = 60_000;

type Imported = Omit<Extract<ImportProgress, { phase: "done" }>, "phase">;

/** A file read whole, before anything of it is kept. */
interface ReadFile {
  file: RawFile;
  settings: FullRequest["files"][number]["settings"];
  clock: FullRequest["files"][number]["clock"];
  /** The device's stream it shows, where it is no log of its own. */
  live: FullRequest["files"][number]["live"];
  data: LogData;
}

/**
 * Imports files as one run, all or nothing: the experiment (when new), its lanes, the run and its streams stand or fall together.
 * Files are read first, outside of any transaction; what is in doubt is asked (`ImportRefused` with `asks`) before a row is kept.
 * "Done" is said when the database has said it. The same import sent again, by its key, finds the run it made.
 */
export async function importRun(
  knex: Knex,
  asked: ImportRequest,
  onProgress: (p: ImportProgress) => void,
  signal: AbortSignal,
): Promise<{ experimentId: number; run: number }> {
  const request = importRequestSchema.parse(asked);
  const made = await madeByKey(knex, request.key);
  if (made) return finish({ ...made, streams: [] }, onProgress);
  const files = await readFiles(knex, request, onProgress, signal);
  const was = await verdictBefore(knex, request);
  let written: Imported | null = null;
  try {
    const imported = await transact(knex, async (trx) => {
      written = null;
      return (written = await writeRun(trx, request, files, { onProgress, signal, was }));
    });
    return finish(imported, onProgress);
  } catch (cause) {
    const same = await madeMeanwhile(knex, request.key, cause, written);
    if (same) return finish(same, onProgress);
    throw cause;
  }
}

function finish(imported: Imported, onProgress: (p: ImportProgress) => void) {
  onProgress({ phase: "done", ...imported });
  return { experimentId: imported.experimentId, run: imported.run };
}

/** The run the import with a key made; undefined when none did. */
export const madeByKey = async (knex: Knex, key: string | undefined) => (key ? runByKey(knex, key) : undefined);

const DUPLICATE = 1062;
/** How long to look for the answer to a COMMIT whose connection broke, ms. */
const LOOK_AGAIN = [200, 1000, 3000];

/**
 * After a failure: the run that the same import made at the same time, or that was kept although the answer to its COMMIT got lost.
 * null when it is certain that nothing was kept. Throws `ImportUnsure` when the database does not say.
 */
async function madeMeanwhile(
  knex: Knex,
  key: string | undefined,
  cause: unknown,
  written: Imported | null,
): Promise<Imported | null> {
  const twin = (cause as { errno?: number }).errno === DUPLICATE;
  if (!twin && !written) return null;
  if (!key && written) throw new ImportUnsure(written.run, { cause });
  for (const pause of LOOK_AGAIN) {
    try {
      const made = await madeByKey(knex, key);
      return made ? { ...made, streams: written?.streams ?? [] } : null;
    } catch {
      await new Promise((r) => setTimeout(r, pause));
    }
  }
  throw written ? new ImportUnsure(written.run, { cause }) : cause;
}

async function readFiles(
  knex: Knex,
  request: FullRequest,
  onProgress: (p: ImportProgress) => void,
  signal: AbortSignal,
): Promise<ReadFile[]> {
  const found: Omit<ReadFile, "data">[] = [];
  for (const { fileId, settings, clock, live } of request.files) {
    if (!isZone(settings.zone)) throw new ImportRefused({ kind: "zoneUnknown", zone: settings.zone });
    const file = await findFile(knex, fileId);
    if (!file) throw new ImportRefused({ kind: "fileGone", fileId });
    found.push({ file, settings, clock, live });
  }
  const read: ReadFile[] = [];
  for (const [index, { file, settings, clock, live }] of found.entries()) {
    const at = { file: index, files: found.length };
    const data = await readStoredLog(
      knex,
      file,
      settings,
      (share, rows) => onProgress({ phase: "reading", ...at, share, rows }),
      signal,
    );
    if (data.times.length === 0) throw new ImportRefused({ kind: "noRows", file: file.name, summary: data.summary });
    read.push({ file, settings, clock, live, data });
  }
  refuseTwice(read);
  const files = read
    .filter(({ data }) => data.questions.length)
    .map(({ file, data }) => ({ fileId: file.id, name: file.name, questions: data.questions }));
  if (files.length) throw new ImportRefused({ kind: "asks", files, implausible: [], zone: read[0].settings.zone });
  return read;
}

interface Writing {
  onProgress: (p: ImportProgress) => void;
  signal: AbortSignal;
  /** The verdict before, of a run that is read again. */
  was: VerdictView | null;
}

async function writeRun(
  trx: Knex.Transaction,
  request: FullRequest,
  files: readonly ReadFile[],
  { onProgress, signal, was }: Writing,
): Promise<Imported> {
  const experimentId = await openTarget(trx, request);
  if (request.newLanes.length) await addLanes(trx, experimentId, request.newLanes);
  const known = await laneLetters(trx, experimentId);
  for (const { letter } of request.run.lanes)
    if (!known.includes(letter) && !(await buildDrawn(trx, experimentId, letter)))
      throw new ImportRefused({ kind: "laneUnknown", letter });
  await refuseSpan(trx, experimentId, request);
  const before = request.replaces === null ? null : await runToReadAgain(trx, experimentId, request.replaces);
  const runId = await insertRun(trx, experimentId, {
    ...request.run,
    setup: { ...request.run.setup, accepted: request.accepted },
    importKey: request.key,
    startedAt: request.liveFromMs ?? undefined,
    endedAt: request.liveUntilMs ?? undefined,
  });
  const kept: KeptFile[] = [];
  for (const read of files) kept.push({ read, ...(await keepStream(trx, runId, read)) });
  await releaseLoggers(trx, { experimentId, runId }, request);
  const stands = request.run.lanes.map((l) => ({ station: l.station, lane: l.letter, fromMs: null, untilMs: null }));
  // What a person read and typed twice alike is no stuck probe, and a jump between two rows no spike.
  const keep: CleanReason[] = request.run.setup.byHand ? ["stuck", "spike"] : [];
  const mounts = kept.flatMap(({ read, streamId, numbers }) =>
    mountsOf(streamId, numbers, read.data.channels, request.run),
  );
  await insertLayer(trx, runId, { kind: "cleaning", detail: { keep }, reason: "as imported" });
  await insertLayer(trx, runId, { kind: "assignment", detail: { mounts, stands }, reason: "as imported" });
  for (const { read, streamId } of kept)
    if (read.clock?.offsetMs) {
      const detail: LayerDetail<"clock"> = { ...read.clock, streamId };
      await insertLayer(trx, runId, { kind: "clock", detail, reason: "as the loggers' own signals say" });
    }
  await layerSwaps(trx, runId, request, files);
  const experiment = await findExperiment(trx, experimentId);
  if (experiment) askAboutImplausible(experiment, runId, kept, request.accepted);
  await writeReadings(trx, kept, (index, share) => {
    if (signal.aborted) throw new ImportCancelled();
    onProgress({ phase: "writing", file: index, files: files.length, share, rows: files[index].data.times.length });
  });
  const streams = kept.map(({ read }) => ({ name: read.file.name, summary: read.data.summary }));
  const run = await numberRun(trx, experimentId, runId);
  if (experiment && before)
    await takePlaceOf(trx, experiment, before, { runId, number: run, files: kept.map(anew) }, was);
  await recordChange(trx, experimentId, "run imported", {
    run,
    files: streams.map((s) => s.name),
    ...(request.accepted.length ? { accepted: request.accepted } : {}),
  });
  if (signal.aborted) throw new ImportCancelled();
  return { experimentId, run, streams };
}

/** A file whose stream the run has: its number, and that of each of the file's channels in it. */
interface KeptFile {
  read: ReadFile;
  streamId: number;
  numbers: readonly number[];
}

const anew = ({ read, streamId, numbers }: KeptFile): ReadAnew => ({
  fileId: read.file.id,
  streamId,
  times: read.data.times,
  numbers: new Map(read.data.channels.map(({ use }, i) => [use.header, numbers[i]])),
});

/** Opens a stream for a file's readings, or lets the run look at the device's. */
async function keepStream(trx: Knex.Transaction, runId: number, read: ReadFile): Promise<Omit<KeptFile, "read">> {
  const { file, live, data, settings } = read;
  if (live) {
    const channels = data.channels.map(({ use }) => ({
      name: use.header,
      kind: use.kind,
      unit: use.unit,
      factor: use.factor ?? null,
    }));
    const numbers = await followStream(trx, runId, live.streamId, channels, settings);
    if (channels.some((c) => !numbers.has(c.name))) throw new ImportRefused({ kind: "deviceGone" });
    return { streamId: live.streamId, numbers: channels.map((c) => numbers.get(c.name)!) };
  }
  const numbers = data.channels.map((_, i) => i + 1);
  const streamId = await insertStream(trx, {
    runId,
    rawFileId: file.id,
    name: file.name,
    times: data.times,
    settings,
    summary: data.summary,
    channels: data.channels.map((c, i) => ({
      channelNo: numbers[i],
      name: c.use.header.slice(0, 255),
      kind: c.use.kind,
      unit: c.use.unit,
    })),
    problems: data.problems,
  });
  return { streamId, numbers };
}

async function writeReadings(
  trx: Knex.Transaction,
  kept: readonly KeptFile[],
  onProgress: (file: number, share: number) => void,
): Promise<void> {
  for (const [index, { read, streamId, numbers }] of kept.entries()) {
    // A device's readings are there already.
    if (read.live) continue;
    const { times, channels } = read.data;
    const values = channels.map((c, i) => ({ channelNo: numbers[i], values: c.column }));
    await writeBlocks(trx, streamId, times, values, (share) => onProgress(index, share));
  }
}

/** The run as it will be read, reduced before it is kept: what physics does not allow is asked about, unless a person has said that it is right. */
function askAboutImplausible(
  experiment: Experiment,
  runId: number,
  kept: readonly KeptFile[],
  accepted: readonly string[],
): void {
  const run = experiment.runs.find((r) => r.id === runId);
  if (!run) return;
  const readings = new Map(
    kept.map(({ read: { data }, streamId, numbers }): [number, StreamReadings] => [
      streamId,
      { times: data.times, values: new Map(data.channels.map((c, i) => [numbers[i], c.column])) },
    ]),
  );
  const order = [...readings.keys()].sort((a, b) => a - b);
  const implausible = implausibleInRun(experiment, run, readings)
    // Streams are numbered when they are kept; before that, files by their order.
    .map((found) =>
      found.kind === "clocksApart"
        ? { ...found, streams: [order.indexOf(found.streams[0]), order.indexOf(found.streams[1])] as [number, number] }
        : found,
    )
    .map((found) => ({ key: implausibleKey(found), found }))
    .filter(({ key, found }) => !accepted.includes(key) && !isKnown(found, key, experiment, runId));
  if (implausible.length) throw new ImportRefused({ kind: "asks", files: [], implausible, zone: experiment.site.zone });
}

/** A fan that goes on and off, or stood as it did in an earlier run where somebody said that it is right, is not asked about again. */
const isKnown = (found: Implausible, key: string, { runs }: Experiment, runId: number): boolean =>
  found.kind === "noFlowInSun" &&
  (found.cycles !== undefined || runs.some((r) => r.id !== runId && r.setup.accepted?.includes(key)));

/** Which instrument a column is, and at which place it measures: by the lane its header or the person gave it. */
function mountsOf(
  streamId: number,
  numbers: readonly number[],
  channels: LogData["channels"],
  { setup, lanes }: Pick<ImportRequest["run"], "setup" | "lanes">,
): Mount[] {
  return channels.flatMap(({ use }, i) => {
    if (!use.kind) return [];
    // One probe for every lane has one name in all of them, and no place of its own.
    const all = use.lane === EVERY_LANE;
    const lane = lanes.find((l) => all || l.letter === use.lane);
    const shared: Partial<Record<ChannelKind, string>> = {
      irradiance: setup.sunSensor.key,
      ambient: setup.ambientProbe.key,
    };
    const instrument = lane ? instrumentOf(use.kind, lane.setup) : (shared[use.kind] ?? null);
    return [
      {
        streamId,
        channelNo: numbers[i],
        instrument,
        station: all ? null : (lane?.station ?? null),
        fromMs: null,
        untilMs: null,
      },
    ];
  });
}

function instrumentOf(kind: ChannelKind, setup: LaneSetupInput): string | null {
  switch (kind) {
    case "inlet":
      return setup.inletProbe.key;
    case "outlet":
      return setup.outletProbe.key;
    case "speed":
    case "volumeFlow":
    case "volumeCounter":
    case "massFlow":
      return setup.flow.meter.key;
    default:
      return null;
  }
}

async function openTarget(trx: Knex.Transaction, { target }: ImportRequest): Promise<number> {
  if (target.kind === "existing") {
    if (!(await isThere(trx, target.experimentId))) throw new ImportRefused({ kind: "experimentGone" });
    return target.experimentId;
  }
  if (target.site.kind === "known" && !(await findSite(trx, target.site.id)))
    throw new ImportRefused({ kind: "siteGone" });
  const siteId =
    target.site.kind === "known"
      ? target.site.id
      : await insertSite(trx, { ...target.site, detail: target.site.detail ?? PLAIN_DETAIL });
  return insertExperiment(trx, {
    name: target.name,
    question: target.question,
    siteId,
    settings: target.settings,
    lanes: [],
  });
}
