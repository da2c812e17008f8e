import type { Knex } from "knex";
import type { Mount } from "../core/experiment/schema/layer";
import type { ChannelKind } from "../core/log/channel";
import { insertLayer } from "../data/run/layers";
import { z } from "zod";
import { detectEncoding, type Encoding, type FileNature } from "../core/log/decode";
import { LogReader, type ImportSummary, type LogData } from "../core/log/readLog";
import { sniffLog, type Delimiter, type LogLayout, type SniffProblem } from "../core/log/sniff";
import { isZone } from "../core/log/zone";
import { addLanes, buildDrawn, insertExperiment } from "../data/experiment/experiments";
import { insertRun, insertStream } from "../data/run/runs";
import { recordChange } from "../data/journal";
import { insertSite } from "../data/site/sites";
import { findFile, readFileChunks, runsWithFile } from "../data/file/files";
import type { RawFile } from "../core/experiment/records";
import { writeBlocks } from "../data/reading/readings";
import { asBuiltSchema, designSchema } from "../core/experiment/schema/design";
import { type LaneSetupInput, laneSetupSchema, logSettingsSchema, runSetupSchema } from "../core/experiment/schema/run";
import { experimentSettingsSchema } from "../core/experiment/schema/settings";
import { PLAIN_DETAIL, siteSchema } from "../core/experiment/schema/site";

export { storeFile } from "../data/file/files";

/** How much of a file is looked at to find out how it is written. */
const HEAD_BYTES = 256 * 1024;
/** Above this an upload is refused. */
export const LARGEST_FILE = 512 * 1024 * 1024;

export type InspectProblem = SniffProblem | Exclude<FileNature, { kind: "text" }> | { kind: "gone" };

export interface Inspection {
  file: RawFile;
  encoding: Encoding | null;
  layout: LogLayout | null;
  problem: InspectProblem | null;
  /** First rows as cells, for the table. */
  rows: string[][];
  alreadyIn: { experimentId: number; experiment: string; run: number }[];
}

/** Looks at a stored file's head: encoding, columns, time, units, and what each column may stand for. */
export async function inspectFile(knex: Knex, fileId: number, delimiter?: Delimiter): Promise<Inspection | null> {
  const file = await findFile(knex, fileId);
  if (!file) return null;
  const alreadyIn = await runsWithFile(knex, file.sha256);
  const head = await readHead(knex, fileId);
  const nature = detectEncoding(head);
  const base = { file, alreadyIn, layout: null, rows: [] };
  if (nature.kind !== "text") return { ...base, encoding: null, problem: nature };
  const text = new TextDecoder(nature.encoding, { ignoreBOM: false }).decode(head);
  const result = sniffLog(text, { whole: file.bytes <= head.length, delimiter });
  const rows = result.rows.slice(0, 12).map((r) => r.slice(0, 200).map((c) => c.slice(0, 80)));
  return result.ok
    ? { ...base, encoding: nature.encoding, layout: result.layout, problem: null, rows }
    : { ...base, encoding: nature.encoding, problem: result.problem, rows };
}

async function readHead(knex: Knex, fileId: number): Promise<Uint8Array> {
  for await (const chunk of readFileChunks(knex, fileId)) return chunk.subarray(0, HEAD_BYTES);
  return new Uint8Array();
}

const newLane = z.object({
  letter: z.string().regex(/^[A-H]$/),
  variantKey: z.string().min(1).max(120),
  variantName: z.string().trim().min(1, "a lane needs a name").max(120),
  design: designSchema,
  asBuilt: asBuiltSchema.partial().optional(),
});

export const importRequestSchema = z.object({
  target: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("existing"), experimentId: z.number().int().positive() }),
    z.object({
      kind: z.literal("new"),
      name: z.string().trim().min(1, "the experiment needs a name").max(120),
      question: z.string().trim().max(500),
      site: z.discriminatedUnion("kind", [
        z.object({ kind: z.literal("known"), id: z.number().int().positive() }),
        siteSchema.partial({ detail: true }).extend({ kind: z.literal("new") }),
      ]),
      settings: experimentSettingsSchema,
    }),
  ]),
  newLanes: z.array(newLane).max(8),
  run: z.object({
    note: z.string().max(500),
    setup: runSetupSchema,
    lanes: z
      .array(
        z.object({
          letter: z.string().regex(/^[A-H]$/),
          station: z.number().int().min(1).max(24),
          setup: laneSetupSchema,
        }),
      )
      .min(1)
      .max(8),
  }),
  files: z
    .array(z.object({ fileId: z.number().int().positive(), settings: logSettingsSchema }))
    .min(1)
    .max(40),
});
/** As clients send it: what has a default may be left out. */
export type ImportRequest = z.input<typeof importRequestSchema>;

export type ImportProgress =
  | { phase: "reading" | "writing"; file: number; files: number; share: number; rows: number }
  | { phase: "done"; experimentId: number; run: number; streams: { name: string; summary: ImportSummary }[] };

export type ImportFailure =
  | { kind: "noRows"; file: string; summary: ImportSummary }
  | { kind: "fileGone"; fileId: number }
  | { kind: "experimentGone" }
  | { kind: "laneUnknown"; letter: string }
  | { kind: "zoneUnknown"; zone: string };

/** An import that cannot be done as asked; nothing of it was kept. */
export class ImportRefused extends Error {
  constructor(readonly failure: ImportFailure) {
    super(failure.kind);
  }
}

/** Thrown inside the transaction when the person cancels, so that everything rolls back. */
export class ImportCancelled extends Error {}

/** The database went away between the last reading and its answer: whether the run was kept, nobody knows yet. */
export class ImportUnsure extends Error {
  constructor(
    readonly run: number,
    options: ErrorOptions,
  ) {
    super(`run ${run} may or may not have been kept`, options);
  }
}

type Imported = Omit<Extract<ImportProgress, { phase: "done" }>, "phase">;

/**
 * Imports files as one run, all or nothing: the experiment (when new), its lanes, the run and its streams stand or fall together.
 * Text is decoded and read chunk by chunk; only the readings are held. "Done" is said when the database has said it.
 */
export async function importRun(
  knex: Knex,
  request: ImportRequest,
  onProgress: (p: ImportProgress) => void,
  signal: AbortSignal,
): Promise<{ experimentId: number; run: number }> {
  let written: Imported | null = null;
  const imported = await knex
    .transaction(async (trx) => (written = await writeRun(trx, request, onProgress, signal)))
    .catch((cause: unknown) => {
      if (written) throw new ImportUnsure(written.run, { cause });
      throw cause;
    });
  onProgress({ phase: "done", ...imported });
  return { experimentId: imported.experimentId, run: imported.run };
}

async function writeRun(
  trx: Knex.Transaction,
  request: ImportRequest,
  onProgress: (p: ImportProgress) => void,
  signal: AbortSignal,
): Promise<Imported> {
  const experimentId = await openTarget(trx, request);
  if (request.newLanes.length) await addLanes(trx, experimentId, request.newLanes);
  const known: string[] = await trx("experiment_lane").where({ experiment_id: experimentId }).pluck("letter");
  for (const { letter } of request.run.lanes)
    if (!known.includes(letter) && !(await buildDrawn(trx, experimentId, letter)))
      throw new ImportRefused({ kind: "laneUnknown", letter });
  const run = await insertRun(trx, experimentId, request.run);
  const streams: { name: string; summary: ImportSummary }[] = [];
  const mounts: Mount[] = [];
  for (const [index, { fileId, settings }] of request.files.entries()) {
    if (!isZone(settings.zone)) throw new ImportRefused({ kind: "zoneUnknown", zone: settings.zone });
    const file = await findFile(trx, fileId);
    if (!file) throw new ImportRefused({ kind: "fileGone", fileId });
    const at = { file: index, files: request.files.length };
    const data = await readStoredLog(
      trx,
      file,
      settings,
      (share, rows) => onProgress({ phase: "reading", ...at, share, rows }),
      signal,
    );
    if (data.times.length === 0) throw new ImportRefused({ kind: "noRows", file: file.name, summary: data.summary });
    const channels = data.channels.map((c, i) => ({
      channelNo: i + 1,
      name: c.use.header.slice(0, 255),
      kind: c.use.kind,
      unit: c.use.unit,
    }));
    const streamId = await insertStream(trx, {
      runId: run.id,
      rawFileId: file.id,
      name: file.name,
      times: data.times,
      settings,
      summary: data.summary,
      channels,
      problems: data.problems,
    });
    await writeBlocks(
      trx,
      streamId,
      data.times,
      data.channels.map((c, i) => ({ channelNo: i + 1, values: c.values })),
      (share) => {
        if (signal.aborted) throw new ImportCancelled();
        onProgress({ phase: "writing", ...at, share, rows: data.times.length });
      },
    );
    mounts.push(...mountsOf(streamId, data.channels, request.run));
    streams.push({ name: file.name, summary: data.summary });
  }
  const stands = request.run.lanes.map((l) => ({ station: l.station, lane: l.letter, fromMs: null, untilMs: null }));
  await insertLayer(trx, run.id, { kind: "cleaning", detail: { keep: [] }, reason: "as imported" });
  await insertLayer(trx, run.id, { kind: "assignment", detail: { mounts, stands }, reason: "as imported" });
  await recordChange(trx, experimentId, "run imported", { run: run.number, files: streams.map((s) => s.name) });
  return { experimentId, run: run.number, streams };
}

/** Which instrument a column is, and at which place it measures: by the lane its header or the person gave it. */
function mountsOf(streamId: number, channels: LogData["channels"], { setup, lanes }: ImportRequest["run"]): Mount[] {
  return channels.flatMap(({ use }, i) => {
    if (!use.kind) return [];
    const lane = lanes.find((l) => l.letter === use.lane);
    const shared: Partial<Record<ChannelKind, string>> = {
      irradiance: setup.sunSensor.key,
      ambient: setup.ambientProbe.key,
    };
    const instrument = lane ? instrumentOf(use.kind, lane.setup) : (shared[use.kind] ?? null);
    return [{ streamId, channelNo: i + 1, instrument, station: lane?.station ?? null, fromMs: null, untilMs: null }];
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
    case "massFlow":
      return setup.flow.meter.key;
    default:
      return null;
  }
}

async function openTarget(trx: Knex.Transaction, { target }: ImportRequest): Promise<number> {
  if (target.kind === "existing") {
    const row = await trx("experiment").where({ id: target.experimentId }).whereNull("deleted_at").first("id");
    if (!row) throw new ImportRefused({ kind: "experimentGone" });
    return target.experimentId;
  }
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

export async function readStoredLog(
  knex: Knex,
  file: RawFile,
  settings: z.infer<typeof logSettingsSchema>,
  onProgress: (share: number, rows: number) => void,
  signal: AbortSignal,
): Promise<LogData> {
  const reader = new LogReader(settings);
  let decoder: TextDecoder | null = null;
  let bytes = 0;
  for await (const chunk of readFileChunks(knex, file.id)) {
    if (signal.aborted) throw new ImportCancelled();
    if (!decoder) {
      const nature = detectEncoding(chunk.subarray(0, HEAD_BYTES));
      decoder = new TextDecoder(nature.kind === "text" ? nature.encoding : "utf-8");
    }
    // A quarter of a megabyte at a time keeps other requests answered in between.
    for (let at = 0; at < chunk.length; at += 1 << 18) {
      reader.push(decoder.decode(chunk.subarray(at, at + (1 << 18)), { stream: true }));
      await new Promise((r) => setImmediate(r));
    }
    bytes += chunk.length;
    onProgress(bytes / Math.max(1, file.bytes), reader.rowsRead);
  }
  if (decoder) reader.push(decoder.decode());
  return reader.finish();
}
