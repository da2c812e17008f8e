import { Readable } from "node:stream";
import type { Knex } from "knex";
import Papa from "papaparse";
import { Column } from "../../core/log/column";
import { LIMITS } from "../../core/package/limits";
import { packageSchema, withStreams, type PackedExperiment, type PackedStream } from "../../core/package/schema";
import { emptySummary, type ImportSummary } from "../../core/log/logData";
import { insertCalibration } from "../../data/calibration/calibrations";
import { copyName, insertExperiment } from "../../data/experiment/experiments";
import { readFileChunks, storeFile } from "../../data/file/files";
import { recordChange } from "../../data/journal";
import { savePlan } from "../../data/plan/plans";
import { writeBlocks } from "../../data/reading/readings";
import { insertEvent } from "../../data/run/events";
import { insertLayer, switchLayer } from "../../data/run/layers";
import { insertStoredRun, insertStream } from "../../data/run/runs";
import { insertSite, listSites } from "../../data/site/sites";
import { transact } from "../../data/transact";
import { insertVariant } from "../../data/variant/variants";
import { issueWords } from "../../words/refusal";
import { analyse } from "../analysis/analyse";
import { resultsOf } from "../judge/results";
import { PackageRefused, walkZip, type EntryReader } from "./open";

export interface OpenedPackage {
  experimentId: number;
  /** What it is called here: another experiment may have its name already. */
  name: string;
  /** What it was called where it was packed. */
  packed: string;
  /** Whether the results reckoned here are those that came along, to the last digit; null where none came. */
  same: boolean | null;
  fingerprint: string;
}

/**
 * Takes a package that lies among the kept files: an experiment with its readings, raw bytes, layers and events, all or nothing.
 * @throws PackageRefused with the place and the reason
 */
export async function readPackage(knex: Knex, fileId: number): Promise<OpenedPackage> {
  const { described, fingerprint, names } = await descriptions(knex, fileId);
  refuseMissing(described, names);
  const opened = await transact(knex, async (trx) => {
    const { experimentId, tables } = await insertDescribed(trx, described);
    await fill(trx, fileId, tables);
    await recordChange(trx, experimentId, "package opened", { file: fileId });
    return experimentId;
  });
  const analysis = (await analyse(knex, opened))!;
  const { name } = analysis.experiment;
  // What it is called here is no result.
  const own = resultsOf({ ...analysis, experiment: { ...analysis.experiment, name: described.name } }).fingerprint;
  return {
    experimentId: opened,
    name,
    packed: described.name,
    same: fingerprint === null ? null : fingerprint === own,
    fingerprint: own,
  };
}

async function descriptions(knex: Knex, fileId: number) {
  const texts = new Map<string, string>();
  const names = await walkZip(readFileChunks(knex, fileId), (name) => {
    if (name !== "experiment.json" && name !== "results.json") return null;
    const decoder = new TextDecoder("utf-8", { fatal: true });
    let text = "";
    return (piece) => {
      text += decoder.decode(piece ?? new Uint8Array(), { stream: piece !== null });
      if (text.length > LIMITS.json) throw new PackageRefused(`${name} is larger than ${LIMITS.json / 1048576} MB.`);
      if (piece === null) texts.set(name, text);
    };
  });
  const text = texts.get("experiment.json");
  if (text === undefined) throw new PackageRefused("It holds no experiment.json: it is no package of an experiment.");
  const parsed = packageSchema.safeParse(parse(text, "experiment.json"));
  if (!parsed.success) {
    // A file is mended by its own names of fields.
    const [issue] = parsed.error.issues;
    const where = issue.path.join(" ") || "whole";
    throw new PackageRefused(`experiment.json, ${where}: ${issueWords(issue, issue.path.length)}`);
  }
  const results = texts.has("results.json")
    ? (parse(texts.get("results.json")!, "results.json") as { fingerprint?: unknown } | null)
    : null;
  const fingerprint = typeof results?.fingerprint === "string" ? results.fingerprint : null;
  return { described: parsed.data, fingerprint, names };
}

function parse(text: string, name: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new PackageRefused(`${name} is not JSON.`);
  }
}

function refuseMissing({ runs }: PackedExperiment, names: readonly string[]): void {
  const wanted = runs.flatMap((r) => r.streams.flatMap((s) => [s.readings, ...(s.raw ? [s.raw] : [])]));
  const missing = wanted.find((name) => !names.includes(name));
  if (missing) throw new PackageRefused(`It names “${missing}” and does not hold it.`);
  const twice = wanted.find((name, i) => wanted.indexOf(name) !== i);
  if (twice) throw new PackageRefused(`“${twice}” serves two logs.`);
}

/** What is to be read out of the package's tables and raw files, by entry. */
interface Tables {
  readings: Map<string, { runId: number; stream: PackedStream; settle: (streamId: number) => Promise<void> }>;
  raw: Map<string, { runId: number; stream: PackedStream }>;
}

async function insertDescribed(trx: Knex.Transaction, p: PackedExperiment) {
  const alike = (await listSites(trx)).find(
    (s) =>
      s.name === p.site.name &&
      s.latitude === p.site.latitude &&
      s.longitude === p.site.longitude &&
      JSON.stringify(s.detail) === JSON.stringify(p.site.detail),
  );
  const siteId = alike?.id ?? (await insertSite(trx, p.site));
  const { question, settings, lanes } = p;
  const name = await copyName(trx, p.name);
  const experimentId = await insertExperiment(trx, { name, question, siteId, settings, lanes });
  for (const d of p.drawn) await insertVariant(trx, experimentId, d.name, d.design);
  if (p.plan) await savePlan(trx, experimentId, p.plan);
  const tables: Tables = { readings: new Map(), raw: new Map() };
  for (const run of p.runs) {
    const runId = await insertStoredRun(trx, experimentId, run);
    for (const { key: _key, ...event } of run.events)
      await insertEvent(
        trx,
        runId,
        { ...event, key: `packed-${runId}-${event.atMs}-${event.kind}`.slice(0, 64) },
        event.detail,
      );
    const ids = new Map<number, number>();
    const settle = (number: number) => async (streamId: number) => {
      ids.set(number, streamId);
      // Layers name their streams: they follow when the last of them is there.
      if (ids.size === run.streams.length) await insertLayers(trx, experimentId, runId, run.layers, ids);
    };
    for (const stream of run.streams) {
      tables.readings.set(stream.readings, { runId, stream, settle: settle(stream.number) });
      if (stream.raw) tables.raw.set(stream.raw, { runId, stream });
    }
    if (run.streams.length === 0) await insertLayers(trx, experimentId, runId, run.layers, ids);
  }
  return { experimentId, tables };
}

async function insertLayers(
  trx: Knex.Transaction,
  experimentId: number,
  runId: number,
  layers: PackedExperiment["runs"][number]["layers"],
  ids: ReadonlyMap<number, number>,
): Promise<void> {
  for (const layer of layers) {
    const detail = withStreams(layer.kind, layer.detail, (number) => {
      const id = ids.get(number);
      if (id === undefined)
        throw new PackageRefused(`A ${layer.kind} layer names log ${number}, which its run does not have.`);
      return id;
    });
    const calibrationId = layer.calibration
      ? await insertCalibration(trx, {
          name: layer.calibration.name,
          rawFileId: null,
          settings: {},
          result: layer.calibration.result,
          atMs: layer.calibration.result.probes[0].correction.atMs,
        })
      : undefined;
    const id = await insertLayer(trx, runId, {
      kind: layer.kind,
      detail: detail as never,
      reason: layer.reason,
      calibrationId,
    });
    if (!layer.on) await switchLayer(trx, experimentId, id, false);
  }
}

/** The second walk: raw bytes into files, tables into streams. Streams are numbered by their order, so tables are written when all are read. */
async function fill(trx: Knex.Transaction, fileId: number, { readings, raw }: Tables): Promise<void> {
  const read = new Map<string, { times: Column; columns: Column[] }>();
  const files = new Map<string, number>();
  const sources: Readable[] = [];
  let cells = 0;
  await walkZip(readFileChunks(trx, fileId), (name): EntryReader | null => {
    const table = readings.get(name);
    if (table) {
      const own = { times: new Column(), columns: table.stream.channels.map(() => new Column()) };
      read.set(name, own);
      return tableReader(name, table.stream, own, (n) => {
        cells += n;
        if (cells > LIMITS.readings * 20) throw new PackageRefused("It holds more readings than an experiment can.");
      });
    }
    const log = raw.get(name);
    return log ? rawReader(trx, log.stream.name, { sources, done: (id) => files.set(name, id) }) : null;
  }).finally(() => {
    // A package refused half way leaves no file waiting for the rest of its bytes.
    for (const source of sources) source.destroy();
  });
  for (const [name, { runId, stream, settle }] of readings) {
    const { times, columns } = read.get(name)!;
    const own = times.slice();
    if (own.length === 0) throw new PackageRefused(`${name} holds no reading.`);
    const streamId = await insertStream(trx, {
      runId,
      rawFileId: stream.raw ? files.get(stream.raw)! : null,
      name: stream.name,
      times: own,
      settings: stream.settings ?? {},
      summary: { ...emptySummary(), ...(stream.summary as Partial<ImportSummary>) },
      channels: stream.channels,
      problems: [],
    });
    const values = stream.channels.map((c, i) => ({ channelNo: c.channelNo, values: columns[i] }));
    await writeBlocks(trx, streamId, own, values, () => undefined);
    await settle(streamId);
  }
}

function tableReader(
  name: string,
  { channels }: PackedStream,
  { times, columns }: { times: Column; columns: Column[] },
  count: (cells: number) => void,
): EntryReader {
  const decoder = new TextDecoder("utf-8");
  const header = ["time_ms", ...channels.map((c) => `c${c.channelNo}`)].join(",");
  let carry = "";
  let line = 0;
  let last = -Infinity;
  const take = (text: string) => {
    for (const row of Papa.parse<string[]>(text, { delimiter: ",", newline: "\n" }).data) {
      if (row.length === 1 && row[0] === "") continue;
      line++;
      if (line === 1) {
        if (row.join(",") !== header) throw new PackageRefused(`${name}: its heading is not ${header.slice(0, 60)}….`);
        continue;
      }
      if (row.length !== channels.length + 1)
        throw new PackageRefused(`${name}, line ${line}: ${row.length} cells where ${channels.length + 1} are wanted.`);
      const time = number(row[0], name, line);
      if (!(time > last)) throw new PackageRefused(`${name}, line ${line}: its time is not after the line before.`);
      last = time;
      times.push(time);
      for (let i = 1; i < row.length; i++) columns[i - 1].push(row[i] === "" ? NaN : number(row[i], name, line));
    }
    count(text.length);
  };
  return (piece) => {
    const text = carry + decoder.decode(piece ?? new Uint8Array(), { stream: piece !== null });
    const cut = piece === null ? text.length : text.lastIndexOf("\n") + 1;
    carry = text.slice(cut);
    if (carry.length > 1 << 20) throw new PackageRefused(`${name} has a line of more than a megabyte.`);
    if (cut > 0) take(text.slice(0, cut));
  };
}

function number(text: string, name: string, line: number): number {
  const value = /^-?\d+(?:\.\d+)?(?:e[+-]?\d+)?$/i.test(text) ? Number(text) : NaN;
  if (!Number.isFinite(value)) throw new PackageRefused(`${name}, line ${line}: “${text.slice(0, 30)}” is no number.`);
  return value;
}

/** Raw bytes go into a kept file as they are unpacked. */
function rawReader(
  knex: Knex,
  name: string,
  { sources, done }: { sources: Readable[]; done: (fileId: number) => void },
): EntryReader {
  const source = new Readable({ read: () => undefined });
  sources.push(source);
  const stored = storeFile(knex, name, source, { bytes: 512 * 1024 * 1024, stallMs: 60_000 });
  stored.catch(() => undefined);
  return async (piece) => {
    if (piece) {
      source.push(piece);
      return;
    }
    source.push(null);
    done((await stored).id);
  };
}
