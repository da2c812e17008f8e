import type { Knex } from "knex";
import { json } from "../json";
import { findSite, type Site } from "../site/sites";
import { calibrationSchema, type StoredCalibration } from "../../core/experiment/schema/calibration";
import { asBuiltSchema, designSchema, type AsBuilt } from "../../core/experiment/schema/design";
import { flowLayerSchema, layerDetailSchema, type FlowLayerDetail } from "../../core/experiment/schema/layer";
import {
  laneSetupSchema,
  runSetupSchema,
  type LaneSetupInput,
  type StoredLaneSetup,
  type StoredRunSetup,
} from "../../core/experiment/schema/run";
import {
  experimentSettingsSchema,
  type ExperimentSettings,
  type ExperimentSettingsInput,
} from "../../core/experiment/schema/settings";
import type { Design } from "../../core/collector/design";
import type { ChannelKind } from "../../core/log/channelKinds";
import type { ImportProblem, ImportSummary } from "../../core/log/readLog";

export interface ExperimentLane {
  letter: string;
  specimenId: number;
  specimenNumber: number;
  variantId: number;
  variant: string;
  /** The revision this specimen was built to. */
  revision: number;
  design: Design;
  asBuilt: AsBuilt;
}

export interface DrawnVariant {
  letter: string;
  variantId: number;
  variant: string;
  design: Design;
}

export interface StoredChannel {
  channelNo: number;
  name: string;
  kind: ChannelKind | null;
  lane: string | null;
  unit: string | null;
}

export interface StoredStream {
  id: number;
  name: string;
  frames: number;
  startMs: number;
  endMs: number;
  clockOffsetMs: number;
  summary: ImportSummary;
  channels: StoredChannel[];
}

export interface StoredRun {
  id: number;
  number: number;
  note: string;
  setup: StoredRunSetup;
  lanes: { letter: string; station: number; setup: StoredLaneSetup }[];
  streams: StoredStream[];
  exclusions: { id: number; lane: string | null; fromMs: number; toMs: number; reason: string }[];
  /** Layers in force over this run's readings. */
  layers: RunLayer[];
  /** Profile factors measured for this run's meters, newest last. */
  flowLayers: { id: number; reason: string; createdAt: number; detail: FlowLayerDetail }[];
}

/** A calibration applied to a run: which probe of the run is which probe of the calibration. */
export interface RunLayer {
  id: number;
  kind: "calibration";
  calibrationId: number;
  name: string;
  reason: string;
  createdAt: number;
  /** Probe key in the run → key in the calibration. */
  probes: Record<string, string>;
  calibration: StoredCalibration;
}

export interface ExperimentHead {
  id: number;
  name: string;
  question: string;
  demoKey: string | null;
  changedAt: number;
  settings: ExperimentSettings;
  site: Site;
  lanes: ExperimentLane[];
  /** Variants drawn and not built yet: each may become the lane of its letter. */
  drawn: DrawnVariant[];
}

export interface Experiment extends ExperimentHead {
  runs: StoredRun[];
}

export async function listExperiments(knex: Knex): Promise<ExperimentHead[]> {
  const rows = await knex("experiment").whereNull("deleted_at").orderBy("id").select("id");
  return Promise.all(rows.map(async ({ id }: { id: number }) => (await findHead(knex, id))!));
}

async function findHead(knex: Knex, id: number): Promise<ExperimentHead | null> {
  const row = await knex("experiment").where({ id }).whereNull("deleted_at").first();
  if (!row) return null;
  const site = (await findSite(knex, row.site_id))!;
  const lanes = await knex("experiment_lane as el")
    .join("specimen as s", "s.id", "el.specimen_id")
    .join("variant as v", "v.id", "s.variant_id")
    .join("variant_revision as r", (on) => on.on("r.variant_id", "v.id").andOn("r.revision", "s.revision"))
    .where("el.experiment_id", id)
    .orderBy("el.letter")
    .select({
      letter: "el.letter",
      specimenId: "s.id",
      specimenNumber: "s.number",
      variantId: "v.id",
      variant: "v.name",
      revision: "s.revision",
      design: "r.design",
      asBuilt: "s.as_built",
    });
  const drawn = await knex("experiment_variant as ev")
    .join("variant as v", "v.id", "ev.variant_id")
    .join("variant_revision as r", "r.variant_id", "v.id")
    .whereRaw("r.revision = (SELECT MAX(revision) FROM variant_revision WHERE variant_id = v.id)")
    .where("ev.experiment_id", id)
    .whereNull("ev.removed_at")
    .whereNotIn(
      "v.id",
      lanes.map((l: { variantId: number }) => l.variantId),
    )
    .orderBy("ev.letter")
    .select({ letter: "ev.letter", variantId: "v.id", variant: "v.name", design: "r.design" });
  return {
    drawn: drawn.map((d: Omit<DrawnVariant, "design"> & { design: unknown }) => ({
      ...d,
      design: designSchema.parse(json(d.design)),
    })),
    id: row.id,
    name: row.name,
    question: row.question,
    demoKey: row.demo_key,
    changedAt: Number(row.changed_at),
    settings: experimentSettingsSchema.parse(json(row.settings)),
    site,
    lanes: lanes.map((l: Omit<ExperimentLane, "design" | "asBuilt"> & { design: unknown; asBuilt: unknown }) => ({
      ...l,
      design: designSchema.parse(json(l.design)),
      asBuilt: asBuiltSchema.parse(json(l.asBuilt)),
    })),
  };
}

export async function findExperiment(knex: Knex, id: number): Promise<Experiment | null> {
  const head = await findHead(knex, id);
  if (!head) return null;
  const rows = await knex("run").where({ experiment_id: id }).whereNull("deleted_at").orderBy("number");
  const ids = rows.map((r: { id: number }) => r.id);
  const lanes = await knex("run_lane").whereIn("run_id", ids).orderBy("letter");
  const streams = await knex("stream").whereIn("run_id", ids).whereNull("deleted_at").orderBy("id");
  const channels = await knex("channel")
    .whereIn(
      "stream_id",
      streams.map((s: { id: number }) => s.id),
    )
    .orderBy(["stream_id", "channel_no"]);
  const layers = await knex("run_layer as l")
    .join("calibration as c", "c.id", "l.calibration_id")
    .whereIn("l.run_id", ids)
    .whereNull("l.removed_at")
    .whereNull("c.deleted_at")
    .orderBy("l.id")
    .select({
      id: "l.id",
      runId: "l.run_id",
      kind: "l.kind",
      calibrationId: "c.id",
      name: "c.name",
      reason: "l.reason",
      createdAt: "l.created_at",
      detail: "l.detail",
      result: "c.result",
    });
  const flowLayers = await knex("run_layer")
    .whereIn("run_id", ids)
    .where({ kind: "flow" })
    .whereNull("removed_at")
    .orderBy("id")
    .select({ id: "id", runId: "run_id", reason: "reason", createdAt: "created_at", detail: "detail" });
  const exclusions = await knex("exclusion").whereIn("run_id", ids).whereNull("removed_at").orderBy("id");
  return {
    ...head,
    runs: rows.map((r: { id: number; number: number; note: string; setup: unknown }) => ({
      id: r.id,
      number: r.number,
      note: r.note,
      setup: runSetupSchema.parse(json(r.setup)),
      lanes: lanes
        .filter((l: { run_id: number }) => l.run_id === r.id)
        .map((l: { letter: string; station: number; setup: unknown }) => ({
          letter: l.letter,
          station: l.station,
          setup: laneSetupSchema.parse(json(l.setup)),
        })),
      streams: streams
        .filter((s: { run_id: number }) => s.run_id === r.id)
        .map((s: Record<string, unknown> & { id: number }) => ({
          id: s.id,
          name: s.name,
          frames: s.frames,
          startMs: s.t_start,
          endMs: s.t_end,
          clockOffsetMs: Number(s.clock_offset_ms),
          summary: json<ImportSummary>(s.summary),
          channels: channels
            .filter((c: { stream_id: number }) => c.stream_id === s.id)
            .map(
              (c: {
                channel_no: number;
                name: string;
                kind: ChannelKind | null;
                lane: string | null;
                unit: string | null;
              }) => ({ channelNo: c.channel_no, name: c.name, kind: c.kind, lane: c.lane, unit: c.unit }),
            ),
        })),
      layers: layers
        .filter((l: { runId: number }) => l.runId === r.id)
        .map((l: Omit<RunLayer, "probes" | "calibration"> & { detail: unknown; result: unknown }) => ({
          id: l.id,
          kind: l.kind,
          calibrationId: l.calibrationId,
          name: l.name,
          reason: l.reason,
          createdAt: Number(l.createdAt),
          probes: layerDetailSchema.parse(json(l.detail)).probes,
          calibration: calibrationSchema.parse(json(l.result)),
        })),
      flowLayers: flowLayers
        .filter((l: { runId: number }) => l.runId === r.id)
        .map((l: { id: number; reason: string; createdAt: number; detail: unknown }) => ({
          id: l.id,
          reason: l.reason,
          createdAt: Number(l.createdAt),
          detail: flowLayerSchema.parse(json(l.detail)),
        })),
      exclusions: exclusions
        .filter((e: { run_id: number }) => e.run_id === r.id)
        .map((e: { id: number; lane: string | null; from_ms: number; to_ms: number; reason: string }) => ({
          id: e.id,
          lane: e.lane,
          fromMs: e.from_ms,
          toMs: e.to_ms,
          reason: e.reason,
        })),
    })) as StoredRun[],
  };
}

export interface NewExperiment {
  name: string;
  question: string;
  siteId: number;
  settings: ExperimentSettingsInput;
  demoKey?: string;
  /** Lanes by letter; lanes with one `variantKey` are copies of one variant. */
  lanes: { letter: string; variantKey: string; variantName: string; design: Design; asBuilt?: Partial<AsBuilt> }[];
}

export async function insertExperiment(trx: Knex, input: NewExperiment): Promise<number> {
  const now = Date.now();
  const [experimentId] = await trx("experiment").insert({
    name: input.name,
    question: input.question,
    site_id: input.siteId,
    settings: JSON.stringify(experimentSettingsSchema.parse(input.settings)),
    demo_key: input.demoKey ?? null,
    created_at: now,
    changed_at: now,
  });
  await addLanes(trx, experimentId, input.lanes);
  return experimentId;
}

/** Makes a drawn variant's first specimen the lane of its letter. @returns false when no drawn variant has that letter */
export async function buildDrawn(trx: Knex, experimentId: number, letter: string): Promise<boolean> {
  const drawn = await trx("experiment_variant")
    .where({ experiment_id: experimentId, letter })
    .whereNull("removed_at")
    .first("variant_id");
  if (!drawn) return false;
  const [{ last }] = await trx("specimen").where({ variant_id: drawn.variant_id }).max({ last: "number" });
  const [{ revision }] = await trx("variant_revision")
    .where({ variant_id: drawn.variant_id })
    .max({ revision: "revision" });
  const [id] = await trx("specimen").insert({
    variant_id: drawn.variant_id,
    number: Number(last ?? 0) + 1,
    revision,
    as_built: JSON.stringify(asBuiltSchema.parse({})),
  });
  await trx("experiment_lane").insert({ experiment_id: experimentId, letter, specimen_id: id });
  return true;
}

/** Adds lanes with their variants and specimens to an experiment. */
export async function addLanes(trx: Knex, experimentId: number, lanes: NewExperiment["lanes"]): Promise<void> {
  const variants = new Map<string, { id: number; copies: number }>();
  for (const lane of lanes) {
    let variant = variants.get(lane.variantKey);
    if (!variant) {
      const [id] = await trx("variant").insert({ name: lane.variantName, created_at: Date.now() });
      await trx("variant_revision").insert({
        variant_id: id,
        revision: 1,
        design: JSON.stringify(designSchema.parse(lane.design)),
        created_at: Date.now(),
      });
      await trx("experiment_variant").insert({ experiment_id: experimentId, variant_id: id, letter: lane.letter });
      variants.set(lane.variantKey, (variant = { id, copies: 0 }));
    }
    const [specimenId] = await trx("specimen").insert({
      variant_id: variant.id,
      number: ++variant.copies,
      as_built: JSON.stringify(asBuiltSchema.parse(lane.asBuilt ?? {})),
      revision: 1,
    });
    await trx("experiment_lane").insert({ experiment_id: experimentId, letter: lane.letter, specimen_id: specimenId });
  }
}

export async function insertRun(
  trx: Knex,
  experimentId: number,
  input: {
    note: string;
    setup: StoredRunSetup;
    lanes: { letter: string; station: number; setup: LaneSetupInput }[];
  },
): Promise<{ id: number; number: number }> {
  const [{ last }] = await trx("run").where({ experiment_id: experimentId }).max({ last: "number" }).forUpdate();
  const number = (last ?? 0) + 1;
  const [id] = await trx("run").insert({
    experiment_id: experimentId,
    number,
    note: input.note,
    setup: JSON.stringify(runSetupSchema.parse(input.setup)),
    created_at: Date.now(),
  });
  for (const lane of input.lanes)
    await trx("run_lane").insert({
      run_id: id,
      letter: lane.letter,
      station: lane.station,
      setup: JSON.stringify(laneSetupSchema.parse(lane.setup)),
    });
  return { id, number };
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
      lane: c.lane,
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

/** Every change is dated in the journal, and the experiment's results know they are older. */
export async function recordChange(trx: Knex, experimentId: number, action: string, detail: unknown): Promise<void> {
  const now = Date.now();
  await trx("journal").insert({ at: now, action, experiment_id: experimentId, detail: JSON.stringify(detail) });
  await trx("experiment").where({ id: experimentId }).update({ changed_at: now });
}

export async function updateSettings(knex: Knex, experimentId: number, settings: ExperimentSettings): Promise<void> {
  await knex.transaction(async (trx) => {
    const before = await trx("experiment").where({ id: experimentId }).first("settings");
    await trx("experiment")
      .where({ id: experimentId })
      .update({ settings: JSON.stringify(experimentSettingsSchema.parse(settings)) });
    await recordChange(trx, experimentId, "settings", { before: json(before.settings), after: settings });
  });
}

/** Deleting only marks; the mark can be taken off again. */
export async function markRunDeleted(knex: Knex, experimentId: number, runId: number, deleted: boolean): Promise<void> {
  await knex.transaction(async (trx) => {
    await trx("run")
      .where({ id: runId, experiment_id: experimentId })
      .update({ deleted_at: deleted ? Date.now() : null });
    await recordChange(trx, experimentId, deleted ? "run deleted" : "run restored", { runId });
  });
}

export async function markExperimentDeleted(knex: Knex, experimentId: number, deleted: boolean): Promise<void> {
  await knex.transaction(async (trx) => {
    await trx("experiment")
      .where({ id: experimentId })
      .update({ deleted_at: deleted ? Date.now() : null });
    await recordChange(trx, experimentId, deleted ? "experiment deleted" : "experiment restored", {});
  });
}

export async function insertExclusion(
  knex: Knex,
  experimentId: number,
  input: { runId: number; lane: string | null; fromMs: number; toMs: number; reason: string },
): Promise<number> {
  return knex.transaction(async (trx) => {
    const [id] = await trx("exclusion").insert({
      run_id: input.runId,
      lane: input.lane,
      from_ms: input.fromMs,
      to_ms: input.toMs,
      reason: input.reason,
      created_at: Date.now(),
    });
    await recordChange(trx, experimentId, "span set aside", input);
    return id;
  });
}

export async function removeExclusion(knex: Knex, experimentId: number, id: number): Promise<void> {
  await knex.transaction(async (trx) => {
    await trx("exclusion")
      .where({ id })
      .whereIn("run_id", trx("run").where({ experiment_id: experimentId }).select("id"))
      .update({ removed_at: Date.now() });
    await recordChange(trx, experimentId, "span taken back", { id });
  });
}

export async function findSummary<T>(knex: Knex, experimentId: number, fingerprint: string): Promise<T | null> {
  const row = await knex("result_summary").where({ experiment_id: experimentId, fingerprint }).first("summary");
  return row ? json<T>(row.summary) : null;
}

export async function saveSummary(
  knex: Knex,
  experimentId: number,
  fingerprint: string,
  summary: unknown,
): Promise<void> {
  await knex("result_summary")
    .insert({ experiment_id: experimentId, fingerprint, summary: JSON.stringify(summary) })
    .onConflict("experiment_id")
    .merge();
}

export async function renameExperiment(
  knex: Knex,
  experimentId: number,
  change: { name: string; question: string },
): Promise<void> {
  await knex.transaction(async (trx) => {
    const before = await trx("experiment").where({ id: experimentId }).first("name", "question");
    await trx("experiment").where({ id: experimentId }).update(change);
    await recordChange(trx, experimentId, "question", { before, after: change });
  });
}
