import type { Knex } from "knex";
import type { RunLayer } from "../../core/experiment/layers";
import { calibrationSchema } from "../../core/experiment/schema/calibration";
import { LAYER_DETAILS, RUN_LAYER_KINDS, type LayerDetail, type LayerKind } from "../../core/experiment/schema/layer";
import { recordChange } from "../journal";
import { readable, sawUnreadable } from "../json";
import { transact } from "../transact";

/** All layers of runs in their order, those that are off too; what was removed, or whose calibration is gone, is not there. @returns by run */
export const findLayers = async (knex: Knex, runIds: readonly number[]): Promise<Map<number, RunLayer[]>> =>
  (await readLayers(knex, runIds)).layers;

/** The runs that some layers belong to. */
export const runsOfLayers = (knex: Knex, layerIds: readonly number[]): Promise<number[]> =>
  knex("run_layer")
    .whereIn("id", [...layerIds])
    .distinct()
    .pluck("run_id");

/** Layers by run, and the runs one of whose layers cannot be read. */
export async function readLayers(
  knex: Knex,
  runIds: readonly number[],
): Promise<{ layers: Map<number, RunLayer[]>; unreadable: Set<number> }> {
  const rows = await knex("run_layer as l")
    .leftJoin("calibration as c", "c.id", "l.calibration_id")
    .whereIn("l.run_id", [...runIds])
    .whereNull("l.removed_at")
    .whereNull("c.deleted_at")
    .orderBy(["l.position", "l.id"])
    .select({
      id: "l.id",
      runId: "l.run_id",
      kind: "l.kind",
      reason: "l.reason",
      createdAt: "l.created_at",
      on: "l.is_on",
      detail: "l.detail",
      calibrationId: "c.id",
      name: "c.name",
      result: "c.result",
    });
  const layers = new Map<number, RunLayer[]>();
  const unreadable = new Set<number>();
  for (const { runId, kind, detail, result, on, createdAt, calibrationId, name, ...head } of rows) {
    const read = RUN_LAYER_KINDS.includes(kind)
      ? readable<object>(LAYER_DETAILS[kind as LayerKind], detail)
      : sawUnreadable();
    const calibration = kind === "calibration" ? readable(calibrationSchema, result) : null;
    if (!read || (kind === "calibration" && !calibration)) {
      unreadable.add(runId);
      continue;
    }
    const layer = {
      ...head,
      kind,
      on: Boolean(on),
      createdAt: Number(createdAt),
      detail: read,
      ...(kind === "calibration" ? { calibrationId, name, calibration } : {}),
    } as RunLayer;
    layers.set(runId, [...(layers.get(runId) ?? []), layer]);
  }
  return { layers, unreadable };
}

export interface NewLayer<K extends LayerKind = LayerKind> {
  kind: K;
  detail: LayerDetail<K>;
  reason: string;
  calibrationId?: number;
}

/** Lays a layer over a run, above those of its order. @returns its id */
export async function insertLayer<K extends LayerKind>(trx: Knex, runId: number, layer: NewLayer<K>): Promise<number> {
  const detail = LAYER_DETAILS[layer.kind].parse(layer.detail);
  const [id] = await trx("run_layer").insert({
    run_id: runId,
    kind: layer.kind,
    // Kinds go in a fixed order, within a kind the newest last.
    position: RUN_LAYER_KINDS.indexOf(layer.kind),
    detail: JSON.stringify(detail),
    reason: layer.reason,
    calibration_id: layer.calibrationId ?? null,
    created_at: Date.now(),
  });
  return id;
}

/** A layer that does nothing until it is switched on. */
export const switchOff = (trx: Knex, id: number): Promise<number> =>
  trx("run_layer").where({ id }).update({ is_on: false });

/** Lays a layer over a run of an experiment, with its journal entry. @returns its id, or null when the run is not there */
export async function addLayer<K extends LayerKind>(
  knex: Knex,
  experimentId: number,
  runId: number,
  layer: NewLayer<K>,
): Promise<number | null> {
  return transact(knex, async (trx) => {
    const run = await trx("run").where({ id: runId, experiment_id: experimentId }).whereNull("deleted_at").first("id");
    if (!run) return null;
    const id = await insertLayer(trx, runId, layer);
    await recordChange(trx, experimentId, `${layer.kind} layer added`, { id, runId, ...layer });
    return id;
  });
}

const ofExperiment = (trx: Knex, experimentId: number, layerIds: readonly number[]) =>
  trx("run_layer as l")
    .join("run as r", "r.id", "l.run_id")
    .where("r.experiment_id", experimentId)
    .whereIn("l.id", [...layerIds])
    .pluck("l.id");

/** Takes layers off the list, or puts them back. @returns how many there were */
export async function markLayersRemoved(
  knex: Knex,
  experimentId: number,
  layerIds: readonly number[],
  removed: boolean,
): Promise<number> {
  return transact(knex, async (trx) => {
    const own = await ofExperiment(trx, experimentId, layerIds);
    await trx("run_layer")
      .whereIn("id", own)
      .update({ removed_at: removed ? Date.now() : null });
    if (own.length)
      await recordChange(trx, experimentId, removed ? "layers removed" : "layers put back", { layerIds: own });
    return own.length;
  });
}

/** Switches a layer off or on; it keeps its place in the list. @returns false when it is not there */
export async function switchLayer(knex: Knex, experimentId: number, layerId: number, on: boolean): Promise<boolean> {
  return transact(knex, async (trx) => {
    const [own] = await ofExperiment(trx, experimentId, [layerId]);
    if (own === undefined) return false;
    await trx("run_layer").where({ id: own }).update({ is_on: on });
    await recordChange(trx, experimentId, on ? "layer switched on" : "layer switched off", { layerId });
    return true;
  });
}

const ownRuns = (trx: Knex, experimentId: number, runIds: readonly number[]): Promise<number[]> =>
  trx("run")
    .where({ experiment_id: experimentId })
    .whereIn("id", [...runIds])
    .whereNull("deleted_at")
    .pluck("id");

/** Lays a calibration over runs of an experiment, with its reason. @returns false when calibration or a run is not there */
export async function applyCalibration(
  knex: Knex,
  experimentId: number,
  input: { calibrationId: number; runIds: readonly number[]; probes: Record<string, string>; reason: string },
): Promise<boolean> {
  return transact(knex, async (trx) => {
    const { calibrationId, reason } = input;
    const calibration = await trx("calibration").where({ id: calibrationId }).whereNull("deleted_at").first("id");
    const runs = await ownRuns(trx, experimentId, input.runIds);
    if (!calibration || runs.length !== input.runIds.length || !runs.length) return false;
    // The same calibration is not laid over a run twice.
    await trx("run_layer")
      .whereIn("run_id", runs)
      .where({ calibration_id: calibrationId })
      .whereNull("removed_at")
      .update({ removed_at: Date.now() });
    for (const runId of runs)
      await insertLayer(trx, runId, { kind: "calibration", detail: { probes: input.probes }, reason, calibrationId });
    await recordChange(trx, experimentId, "calibration applied", { calibrationId, runIds: input.runIds, reason });
    return true;
  });
}

/** Lays a measured profile factor over runs, in place of what was said at import; one a meter. */
export async function applyFlow(
  knex: Knex,
  experimentId: number,
  input: { runIds: readonly number[]; detail: LayerDetail<"flow">; reason: string },
): Promise<boolean> {
  return transact(knex, async (trx) => {
    const runs = await ownRuns(trx, experimentId, input.runIds);
    if (!runs.length || runs.length !== input.runIds.length) return false;
    for (const runId of runs) {
      await trx("run_layer")
        .where({ run_id: runId, kind: "flow" })
        .whereNull("removed_at")
        .whereRaw("JSON_VALUE(detail, '$.meter') = ?", [input.detail.meter])
        .update({ removed_at: Date.now() });
      await insertLayer(trx, runId, { kind: "flow", detail: input.detail, reason: input.reason });
    }
    await recordChange(trx, experimentId, "flow factor applied", input);
    return true;
  });
}
