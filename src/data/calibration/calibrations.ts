import type { Knex } from "knex";
import { noteChange } from "../journal";
import type { CalibrationHead } from "../../core/experiment/records";
import { readable } from "../json";
import { bathOptionsSchema, calibrationSchema, type StoredCalibration } from "../../core/experiment/schema/calibration";
import type { BathOptions } from "../../core/calibration/bathOptions";

const head = (r: {
  id: number;
  name: string;
  at_ms: number;
  created_at: number;
  raw_file_id: number | null;
  result: unknown;
}): CalibrationHead[] => {
  const result = readable(calibrationSchema, r.result);
  const known = {
    id: r.id,
    name: r.name,
    atMs: Number(r.at_ms),
    createdAt: Number(r.created_at),
    rawFileId: r.raw_file_id,
  };
  return result ? [{ ...known, result }] : [];
};

/** All calibrations, newest first. */
export async function listCalibrations(knex: Knex): Promise<CalibrationHead[]> {
  return (
    await knex("calibration")
      .whereNull("deleted_at")
      .orderBy("at_ms", "desc")
      .select("id", "name", "at_ms", "created_at", "raw_file_id", "result")
  ).flatMap(head);
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
  await noteChange(knex, null, "calibration kept", { id, name: input.name });
  return id;
}

/** Only marks: runs it was applied to lose the layer's effect until it is put back. */
export async function markCalibrationDeleted(knex: Knex, id: number, deleted: boolean): Promise<boolean> {
  const marked = await knex("calibration")
    .where({ id })
    .update({ deleted_at: deleted ? Date.now() : null });
  return marked > 0;
}
