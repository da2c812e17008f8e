import { Zip, ZipDeflate, ZipPassThrough } from "fflate";
import type { Knex } from "knex";
import { PACKAGE_VERSION, withStreams, type PackedExperiment } from "../../core/package/schema";
import type { Experiment, StoredRun, StoredStream } from "../../core/experiment/types";
import { findExperiment } from "../../data/experiment/experiments";
import { readFileChunks } from "../../data/file/files";
import { findPlans } from "../../data/plan/plans";
import { findEvents } from "../../data/run/events";
import { rawFileOf } from "../../data/run/runs";
import { streamReadings } from "../analysis/analyse";
import type { Results } from "../judge/results";

/** Rows written at a time. */
const ROWS = 2000;
const safe = (name: string): string => name.replace(/[^\w.() -]+/g, "_").slice(0, 80) || "log";

interface PackedRun {
  run: StoredRun;
  files: { stream: StoredStream; readings: string; raw: string | null; rawId: number | null }[];
}

/**
 * An experiment as a zipped Data Package: its description, plain tables of its readings (SI, every digit), the very bytes they were read
 * from, and its results. null when there is no such experiment.
 * @param results as reckoned where computing holds nobody up
 */
export async function writePackage(
  knex: Knex,
  experimentId: number,
  results: Results | null,
): Promise<AsyncGenerator<Uint8Array> | null> {
  const experiment = await findExperiment(knex, experimentId);
  if (!experiment) return null;
  const runs: PackedRun[] = [];
  for (const run of experiment.runs)
    runs.push({
      run,
      files: await Promise.all(
        run.streams.map(async (stream, i) => {
          const rawId = stream.live ? null : await rawFileOf(knex, stream.id);
          const base = `run-${run.number}-log-${i + 1}`;
          return {
            stream,
            readings: `data/${base}.csv`,
            raw: rawId === null ? null : `raw/${base}-${safe(stream.name)}`,
            rawId,
          };
        }),
      ),
    });
  const described = await describe(knex, experiment, runs);
  return zipped(async function* () {
    const json = (value: unknown) => new TextEncoder().encode(JSON.stringify(value, null, 1));
    yield { name: "datapackage.json", pieces: [json(dataPackage(experiment, runs))] };
    yield { name: "experiment.json", pieces: [json(described)] };
    yield { name: "results.json", pieces: [json(results)] };
    for (const { files } of runs)
      for (const f of files) {
        yield { name: f.readings, pieces: table(knex, f.stream) };
        if (f.raw && f.rawId !== null) yield { name: f.raw, pieces: readFileChunks(knex, f.rawId) };
      }
  });
}

async function describe(knex: Knex, experiment: Experiment, runs: readonly PackedRun[]): Promise<PackedExperiment> {
  const { id: _id, ...site } = experiment.site;
  const events = await findEvents(
    knex,
    runs.map((r) => r.run.id),
  );
  const built = new Set(experiment.lanes.map((l) => l.variantId));
  return {
    bravel: PACKAGE_VERSION,
    name: experiment.name,
    question: experiment.question,
    site: site as PackedExperiment["site"],
    settings: experiment.settings,
    lanes: experiment.lanes.map((l) => ({
      letter: l.letter,
      variantKey: `v${l.variantId}`,
      variantName: l.variant,
      design: l.design,
      asBuilt: l.asBuilt,
    })),
    drawn: experiment.drawn
      .filter((d) => !built.has(d.variantId))
      .map(({ letter, variant, design }) => ({ letter, name: variant, design })),
    plan: (await findPlans(knex, [experiment.id])).get(experiment.id) ?? null,
    runs: runs.map(({ run, files }) => {
      const numberOf = (streamId: number) => run.streams.findIndex((s) => s.id === streamId) + 1;
      return {
        number: run.number,
        note: run.note,
        setup: { ...run.setup, places: run.places, specimens: run.specimens },
        streams: files.map(({ stream, readings, raw }, i) => ({
          number: i + 1,
          name: stream.name,
          readings,
          raw,
          settings: {},
          summary: { ...stream.summary },
          channels: stream.channels.map(({ channelNo, name, kind, unit }) => ({ channelNo, name, kind, unit })),
        })),
        layers: run.layers.map((l) => ({
          kind: l.kind,
          detail: withStreams(l.kind, l.detail, numberOf),
          reason: l.reason,
          on: l.on,
          createdAt: l.createdAt,
          ...(l.kind === "calibration" ? { calibration: { name: l.name, result: l.calibration } } : {}),
        })),
        events: (events.get(run.id) ?? []).map(({ id: _e, key, atMs, kind, ...detail }) => ({
          key,
          atMs,
          kind,
          // A photo and a layer are named by this database's numbers.
          detail: { ...detail, photoId: null, layerId: null },
        })),
      };
    }),
  };
}

/** The package's own description, as the Data Package standard has it, each table with its Table Schema. */
function dataPackage(experiment: Experiment, runs: readonly PackedRun[]) {
  return {
    $schema: "https://datapackage.org/profiles/2.0/datapackage.json",
    name:
      experiment.name
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, "-")
        .replace(/^-|-$/g, "") || "experiment",
    title: experiment.name,
    description: experiment.question,
    resources: runs.flatMap(({ run, files }) =>
      files.map(({ stream, readings }, i) => ({
        name: `run-${run.number}-log-${i + 1}`,
        title: stream.name,
        path: readings,
        format: "csv",
        mediatype: "text/csv",
        encoding: "utf-8",
        schema: {
          primaryKey: ["time_ms"],
          missingValues: [""],
          fields: [
            { name: "time_ms", type: "number", title: "Milliseconds since 1970-01-01T00:00:00Z" },
            ...stream.channels.map((c) => ({
              name: `c${c.channelNo}`,
              type: "number",
              title: c.name,
              description: c.kind ? `${c.kind}, SI; logged in ${c.unit ?? "units of its own"}` : "as logged",
            })),
          ],
        },
      })),
    ),
  };
}

/** A stream as CSV: the shortest digits that read back as the very same double. */
async function* table(knex: Knex, stream: StoredStream): AsyncGenerator<Uint8Array> {
  const numbers = stream.channels.map((c) => c.channelNo);
  const { times, values } = await streamReadings(knex, stream, numbers, stream.live);
  const columns = numbers.map((no) => values.get(no) as Float64Array | undefined);
  const encoder = new TextEncoder();
  yield encoder.encode(`${["time_ms", ...numbers.map((n) => `c${n}`)].join(",")}\n`);
  for (let from = 0; from < times.length; from += ROWS) {
    const lines: string[] = [];
    for (let i = from; i < Math.min(times.length, from + ROWS); i++)
      lines.push(`${times[i]},${columns.map((c) => (c && !Number.isNaN(c[i]) ? String(c[i]) : "")).join(",")}`);
    yield encoder.encode(`${lines.join("\n")}\n`);
  }
}

interface Entry {
  name: string;
  pieces: Iterable<Uint8Array> | AsyncIterable<Uint8Array>;
}

/** Packs entries one after another; nothing is held but the piece under way. */
async function* zipped(entries: () => AsyncGenerator<Entry>): AsyncGenerator<Uint8Array> {
  let out: Uint8Array[] = [];
  let failed: Error | null = null;
  const zip = new Zip((error, chunk) => {
    if (error) failed = error;
    else out.push(chunk);
  });
  const take = function* () {
    if (failed) throw failed;
    yield* out;
    out = [];
  };
  for await (const { name, pieces } of entries()) {
    const packed = /\.(?:gz|zip)$/i.test(name);
    const file = packed ? new ZipPassThrough(name) : new ZipDeflate(name, { level: 6 });
    file.mtime = new Date(1980, 0, 1);
    zip.add(file);
    for await (const piece of pieces) {
      file.push(piece);
      yield* take();
      // Others are answered in between.
      await new Promise((r) => setImmediate(r));
    }
    file.push(new Uint8Array(), true);
    yield* take();
  }
  zip.end();
  yield* take();
}
