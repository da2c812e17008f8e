import type { Knex } from "knex";
import { recordChange } from "../experiment/experiments";
import { json } from "../json";
import { bathOptionsSchema, calibrationSchema, type StoredCalibration } from "../../core/experiment/schema/calibration";
import { flowLayerSchema, layerDetailSchema, type FlowLayerDetail } from "../../core/experiment/schema/layer";
import type { BathOptions } from "../../core/calibration/bath";

export interface CalibrationHead {
  id: number;
  name: string;
  atMs: number;
  createdAt: number;
  rawFileId: number | null;
  result: StoredCalibration;
}

const head = (r: {
  id: number;
  name: string;
  at_ms: number;
  created_at: number;
  raw_file_id: number | null;
  result: unknown;
}): CalibrationHead => ({
  id: r.id,
  name: r.name,
  atMs: Number(r.at_ms),
  createdAt: Number(r.created_at),
  rawFileId: r.raw_file_id,
  result: calibrationSchema.parse(json(r.result)),
});

/** All calibrations, newest first. */
export async function listCalibrations(knex: Knex): Promise<CalibrationHead[]> {
  return (
    await knex("calibration")
      .whereNull("deleted_at")
      .orderBy("at_ms", "desc")
      .select("id", "name", "at_ms", "created_at", "raw_file_id", "result")
  ).map(head);
}

export async function insertCalibration(
  knex: Knex,
  input: {
    name: string;
    rawFileId: number | null;
    settings: { options: BathOptions } | Record<string, unknown>;
    result: StoredCalibration;
    atMs: number;
  },
): Promise<number> {
  if ("options" in input.settings) bathOptionsSchema.parse(input.settings.options);
  const [id] = await knex("calibration").insert({
    name: input.name,
    kind: input.result.kind,
    raw_file_id: input.rawFileId,
    settings: JSON.stringify(input.settings),
    result: JSON.stringify(calibrationSchema.parse(input.result)),
    at_ms: Math.round(input.atMs),
    created_at: Date.now(),
  });
  await knex("journal").insert({
    at: Date.now(),
    action: "calibration kept",
    detail: JSON.stringify({ id, name: input.name }),
  });
  return id;
}

/** Only marks: runs it was applied to lose the layer's effect until it is put back. */
export async function markCalibrationDeleted(knex: Knex, id: number, deleted: boolean): Promise<void> {
  await knex("calibration")
    .where({ id })
    .update({ deleted_at: deleted ? Date.now() : null });
}

/** Lays a calibration over runs of an experiment, with its reason. @returns false when calibration or a run is not there */
export async function applyCalibration(
  knex: Knex,
  experimentId: number,
  input: { calibrationId: number; runIds: readonly number[]; probes: Record<string, string>; reason: string },
): Promise<boolean> {
  return knex.transaction(async (trx) => {
    const calibration = await trx("calibration").where({ id: input.calibrationId }).whereNull("deleted_at").first("id");
    const runs = await trx("run")
      .where({ experiment_id: experimentId })
      .whereIn("id", [...input.runIds])
      .whereNull("deleted_at")
      .pluck("id");
    if (!calibration || runs.length !== input.runIds.length || !runs.length) return false;
    // The same calibration is not laid over a run twice.
    await trx("run_layer")
      .whereIn("run_id", runs)
      .where({ calibration_id: input.calibrationId })
      .whereNull("removed_at")
      .update({ removed_at: Date.now() });
    for (const runId of runs) {
      await trx("run_layer").insert({
        run_id: runId,
        kind: "calibration",
        calibration_id: input.calibrationId,
        detail: JSON.stringify(layerDetailSchema.parse({ probes: input.probes })),
        reason: input.reason,
        created_at: Date.now(),
      });
    }
    await recordChange(trx, experimentId, "calibration applied", {
      calibrationId: input.calibrationId,
      runIds: input.runIds,
      reason: input.reason,
    });
    return true;
  });
}

/** Lays a measured profile factor over runs, in place of what was said at import; one a meter. */
export async function applyFlow(
  knex: Knex,
  experimentId: number,
  input: { runIds: readonly number[]; detail: FlowLayerDetail; reason: string },
): Promise<boolean> {
  return knex.transaction(async (trx) => {
    const runs = await trx("run")
      .where({ experiment_id: experimentId })
      .whereIn("id", [...input.runIds])
      .whereNull("deleted_at")
      .pluck("id");
    if (!runs.length || runs.length !== input.runIds.length) return false;
    const detail = flowLayerSchema.parse(input.detail);
    for (const runId of runs) {
      await trx("run_layer")
        .where({ run_id: runId, kind: "flow" })
        .whereNull("removed_at")
        .whereRaw("JSON_VALUE(detail, '$.meter') = ?", [detail.meter])
        .update({ removed_at: Date.now() });
      await trx("run_layer").insert({
        run_id: runId,
        kind: "flow",
        detail: JSON.stringify(detail),
        reason: input.reason,
        created_at: Date.now(),
      });
    }
    await recordChange(trx, experimentId, "flow factor applied", input);
    return true;
  });
}

/** Takes layers off, or puts them back. */
export async function markLayersRemoved(
  knex: Knex,
  experimentId: number,
  layerIds: readonly number[],
  removed: boolean,
): Promise<void> {
  await knex.transaction(async (trx) => {
    const own = await trx("run_layer as l")
      .join("run as r", "r.id", "l.run_id")
      .where("r.experiment_id", experimentId)
      .whereIn("l.id", [...layerIds])
      .pluck("l.id");
    await trx("run_layer")
      .whereIn("id", own)
      .update({ removed_at: removed ? Date.now() : null });
    await recordChange(trx, experimentId, removed ? "calibration taken off" : "calibration put back", {
      layerIds: own,
    });
  });
}
