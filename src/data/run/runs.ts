import { randomInt } from "node:crypto";
import type { Knex } from "knex";
import type { z } from "zod";
import {
  logSettingsSchema,
  placeSetupSchema,
  specimenSetupSchema,
  storedRunSchema,
  type LaneSetupInput,
  type StoredRunSetup,
} from "../../core/experiment/schema/run";
import type { LiveRun, StoredChannel, StoredRun, StoredStream } from "../../core/experiment/types";
import { emptySummary, type ImportProblem, type ImportSummary, type LogSettings } from "../../core/log/logData";
import { recordChange } from "../journal";
import { json, readable } from "../json";
import { spanExtent } from "../reading/readings";
import { readLayers } from "./layers";
import { transact } from "../transact";

/** Runs of experiments with files, channels and layers, in order of their numbers. @returns by experiment */
export async function findRuns(knex: Knex, experimentIds: readonly number[]): Promise<Map<number, StoredRun[]>> {
  const rows = await knex("run")
    .whereIn("experiment_id", [...experimentIds])
    .whereNull("deleted_at")
    .orderBy("number")
    .select({
      id: "id",
      experimentId: "experiment_id",
      number: "number",
      note: "note",
      setup: "setup",
      startedAt: "started_at",
      endedAt: "ended_at",
      pausedAt: "paused_at",
      planSeenAt: "plan_seen_at",
    });
  const ids = rows.map((r: { id: number }) => r.id);
  const streams = await findStreams(knex, ids);
  const live = rows.filter((r: LiveRun) => r.startedAt !== null);
  const liveStreams = live.length ? await findLiveStreams(knex, live) : new Map<number, StoredStream[]>();
  const { layers, unreadable } = await readLayers(knex, ids);
  const runs = new Map<number, StoredRun[]>();
  for (const { id, experimentId, number, note, setup, startedAt, ...live } of rows) {
    const stored = readable(storedRunSchema, setup);
    // A layer that cannot be read would change the answer by its absence: its run waits with it.
    if (!stored || unreadable.has(id)) continue;
    const { places, specimens, ...stated } = stored;
    const run: StoredRun = {
      id,
      number,
      note,
      setup: stated,
      places,
      specimens,
      streams: [...(streams.get(id) ?? []), ...(liveStreams.get(id) ?? [])],
      layers: layers.get(id) ?? [],
      ...(startedAt === null
        ? {}
        : { live: { startedAt, endedAt: live.endedAt, pausedAt: live.pausedAt, planSeenAt: live.planSeenAt } }),
    };
    runs.set(experimentId, [...(runs.get(experimentId) ?? []), run]);
  }
  return runs;
}

type StreamRow = Omit<StoredStream, "channels" | "summary"> & {
  runId: number;
  summary: unknown;
  channelNo: number | null;
  channel: string;
  kind: StoredChannel["kind"];
  unit: string | null;
};

async function findStreams(knex: Knex, runIds: readonly number[]): Promise<Map<number, StoredStream[]>> {
  const rows: StreamRow[] = await knex("stream as s")
    .leftJoin("channel as c", "c.stream_id", "s.id")
    .whereIn("s.run_id", [...runIds])
    .whereNull("s.deleted_at")
    .orderBy(["s.id", "c.channel_no"])
    .select({
      id: "s.id",
      runId: "s.run_id",
      name: "s.name",
      frames: "s.frames",
      startMs: "s.t_start",
      endMs: "s.t_end",
      summary: "s.summary",
      channelNo: "c.channel_no",
      channel: "c.name",
      kind: "c.kind",
      unit: "c.unit",
    });
  const byRun = new Map<number, StoredStream[]>();
  const byId = new Map<number, StoredStream>();
  for (const { runId, summary, channelNo, channel, kind, unit, ...head } of rows) {
    let stream = byId.get(head.id);
    if (!stream) {
      stream = { ...head, summary: json<ImportSummary>(summary), channels: [] };
      byId.set(head.id, stream);
      byRun.set(runId, [...(byRun.get(runId) ?? []), stream]);
    }
    if (channelNo !== null) stream.channels.push({ channelNo, name: channel, kind, unit });
  }
  return byRun;
}

/** Spans of devices' streams that runs look at, with what each channel was during the run. @returns by run */
async function findLiveStreams(
  knex: Knex,
  runs: readonly (LiveRun & { id: number })[],
): Promise<Map<number, StoredStream[]>> {
  const ids = runs.map((r) => r.id);
  const rows: { runId: number; id: number; name: string; version: number; known: number | null }[] = await knex(
    "run_stream as rs",
  )
    .join("stream as s", "s.id", "rs.stream_id")
    .whereIn("rs.run_id", ids)
    .orderBy(["rs.run_id", "s.id"])
    .select({ runId: "rs.run_id", id: "s.id", name: "s.name", version: "rs.version", known: "rs.known_channels" });
  const channels: (StoredChannel & { runId: number; streamId: number })[] = await knex("run_channel as rc")
    .join("channel as c", (on) => on.on("c.stream_id", "rc.stream_id").andOn("c.channel_no", "rc.channel_no"))
    .whereIn("rc.run_id", ids)
    .orderBy(["rc.stream_id", "rc.channel_no"])
    .select({
      runId: "rc.run_id",
      streamId: "rc.stream_id",
      channelNo: "rc.channel_no",
      name: "c.name",
      kind: "rc.kind",
      unit: "rc.unit",
      factor: "rc.factor",
    });
  const out = new Map<number, StoredStream[]>();
  for (const { runId, id, name, version, known } of rows) {
    const { startedAt, endedAt } = runs.find((r) => r.id === runId)!;
    const span = { fromMs: startedAt, untilMs: endedAt };
    const extent = (await spanExtent(knex, id, span)) ?? { frames: 0, startMs: startedAt, endMs: startedAt };
    const own = channels
      .filter((c) => c.runId === runId && c.streamId === id)
      .map(({ runId: _r, streamId: _s, ...channel }) => channel);
    const stream = { id, name, ...extent, summary: emptySummary(), channels: own, live: { ...span, version, known } };
    out.set(runId, [...(out.get(runId) ?? []), stream]);
  }
  return out;
}

/** Numbers from here on are none: a run that is still being imported carries one. */
const UNNUMBERED = 2 ** 31;

export interface StatedLane {
  letter: string;
  station: number;
  setup: LaneSetupInput;
}

/**
 * A run with its places and specimens, as an import states them lane by lane. Layers come on top (see layers.ts).
 * It has no number yet: the number is given at the end (`numberRun`), so that one long import does not hold up another.
 */
export async function insertRun(
  trx: Knex,
  experimentId: number,
  input: {
    note: string;
    setup: StoredRunSetup;
    lanes: readonly StatedLane[];
    importKey?: string;
    startedAt?: number;
    endedAt?: number;
  },
): Promise<number> {
  const setup = storedRunSchema.parse({
    ...input.setup,
    places: input.lanes.map((l) => ({ station: l.station, setup: placeSetupSchema.parse(l.setup) })),
    specimens: input.lanes.map((l) => ({ letter: l.letter, setup: specimenSetupSchema.parse(l.setup) })),
  });
  const [id] = await trx("run").insert({
    experiment_id: experimentId,
    // Nobody sees it before the transaction ends, and no other import can have drawn the same.
    number: UNNUMBERED + randomInt(2 ** 31),
    note: input.note,
    setup: JSON.stringify(setup),
    import_key: input.importKey ?? null,
    started_at: input.startedAt ?? null,
    ended_at: input.endedAt ?? null,
    created_at: Date.now(),
  });
  return id;
}

/** A run as another database kept it, with the number it had there. */
export async function insertStoredRun(
  trx: Knex,
  experimentId: number,
  input: { number: number; note: string; setup: z.infer<typeof storedRunSchema> },
): Promise<number> {
  const [id] = await trx("run").insert({
    experiment_id: experimentId,
    number: input.number,
    note: input.note,
    setup: JSON.stringify(storedRunSchema.parse(input.setup)),
    created_at: Date.now(),
  });
  return id;
}

/** The file a stream was read from; null where a device sent it. */
export async function rawFileOf(knex: Knex, streamId: number): Promise<number | null> {
  const row = await knex("stream").where({ id: streamId }).first("raw_file_id");
  return row?.raw_file_id ?? null;
}

/** How a stream was read from its file, and the run it belongs to. */
export async function readAs(knex: Knex, streamId: number): Promise<{ runId: number; settings: LogSettings }> {
  const { runId, settings } = await knex("stream")
    .where({ id: streamId })
    .first({ settings: "settings", runId: "run_id" });
  return { runId, settings: logSettingsSchema.parse(json(settings)) };
}

/** Until this transaction ends nobody else who asks for it goes on with the run. */
export async function holdRun(trx: Knex.Transaction, runId: number): Promise<void> {
  await trx("run").where({ id: runId }).forUpdate().first("id");
}

/** Gives a new run the next number of its experiment. */
export async function numberRun(trx: Knex, experimentId: number, runId: number): Promise<number> {
  const [{ last }] = await trx("run")
    .where({ experiment_id: experimentId })
    .where("number", "<", UNNUMBERED)
    .max({ last: "number" })
    .forUpdate();
  const number = (last ?? 0) + 1;
  await trx("run").where({ id: runId }).update({ number });
  return number;
}

/** The run an import made, if it came under this key. Waits for an import under it that is just ending. */
export async function runByKey(knex: Knex, key: string): Promise<{ experimentId: number; run: number } | undefined> {
  return knex("run").where({ import_key: key }).forUpdate().first({ experimentId: "experiment_id", run: "number" });
}

export async function insertStream(
  trx: Knex,
  input: {
    runId: number;
    rawFileId: number | null;
    name: string;
    times: Float64Array;
    settings: unknown;
    summary: ImportSummary;
    channels: StoredChannel[];
    problems: ImportProblem[];
  },
): Promise<number> {
  const { times } = input;
  const [id] = await trx("stream").insert({
    run_id: input.runId,
    raw_file_id: input.rawFileId,
    name: input.name,
    frames: times.length,
    t_start: times[0],
    t_end: times[times.length - 1],
    settings: JSON.stringify(input.settings),
    summary: JSON.stringify(input.summary),
    created_at: Date.now(),
  });
  await trx("channel").insert(
    input.channels.map((c) => ({
      stream_id: id,
      channel_no: c.channelNo,
      name: c.name,
      kind: c.kind,
      unit: c.unit,
    })),
  );
  const problems = input.problems.map((problem, seq) => ({ stream_id: id, seq, problem: JSON.stringify(problem) }));
  for (let i = 0; i < problems.length; i += 200) await trx("import_problem").insert(problems.slice(i, i + 200));
  return id;
}

export async function listProblems(knex: Knex, streamId: number): Promise<ImportProblem[]> {
  const rows = await knex("import_problem").where({ stream_id: streamId }).orderBy("seq").select("problem");
  return rows.map((r: { problem: unknown }) => json<ImportProblem>(r.problem));
}

/** Deleting only marks; the mark can be taken off again. @returns false when the experiment has no such run */
export async function markRunDeleted(
  knex: Knex,
  experimentId: number,
  runId: number,
  deleted: boolean,
): Promise<boolean> {
  return transact(knex, async (trx) => {
    const marked = await trx("run")
      .where({ id: runId, experiment_id: experimentId })
      .update({ deleted_at: deleted ? Date.now() : null });
    if (marked) await recordChange(trx, experimentId, deleted ? "run deleted" : "run restored", { runId });
    return marked > 0;
  });
}

export interface LiveChannel {
  name: string;
  kind: StoredChannel["kind"];
  unit: string | null;
  factor: number | null;
}

/** Lets a run look at a device's stream, with what each of its channels is. @returns channel numbers by name */
export async function followStream(
  trx: Knex,
  runId: number,
  streamId: number,
  channels: readonly LiveChannel[],
  settings: unknown,
): Promise<Map<string, number>> {
  const rows = await trx("channel").where({ stream_id: streamId }).select("channel_no", "name");
  await trx("run_stream").insert({
    run_id: runId,
    stream_id: streamId,
    settings: JSON.stringify(settings),
    known_channels: rows.length,
  });
  const numbers = new Map<string, number>(
    rows.map((r: { name: string; channel_no: number }) => [r.name, r.channel_no]),
  );
  const known = channels.filter((c) => numbers.has(c.name));
  if (known.length)
    await trx("run_channel").insert(
      known.map(({ name, kind, unit, factor }) => ({
        run_id: runId,
        stream_id: streamId,
        channel_no: numbers.get(name)!,
        kind,
        unit,
        factor,
      })),
    );
  return numbers;
}

/** Ends, pauses or moves a live run. @returns false when the experiment has no such live run */
export async function setLive(
  trx: Knex,
  experimentId: number,
  runId: number,
  change: { startedAt?: number; endedAt?: number | null; pausedAt?: number | null; planSeenAt?: number | null },
): Promise<boolean> {
  const changed = await trx("run")
    .where({ id: runId, experiment_id: experimentId })
    .whereNull("deleted_at")
    .whereNotNull("started_at")
    .update({
      ...(change.startedAt === undefined ? {} : { started_at: change.startedAt }),
      ...(change.endedAt === undefined ? {} : { ended_at: change.endedAt }),
      ...(change.pausedAt === undefined ? {} : { paused_at: change.pausedAt }),
      ...(change.planSeenAt === undefined ? {} : { plan_seen_at: change.planSeenAt }),
    });
  return changed > 0;
}

/** What a device's channel is measured in during one run. */
export const setLiveUnit = (
  trx: Knex,
  { runId, streamId, channelNo }: { runId: number; streamId: number; channelNo: number },
  unit: string,
): Promise<number> =>
  trx("run_channel")
    .where({ run_id: runId, stream_id: streamId, channel_no: channelNo })
    .update({ unit, factor: null });
