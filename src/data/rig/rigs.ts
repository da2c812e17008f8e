import type { Knex } from "knex";
import { rigSettingsSchema, type RigSettings } from "../../core/experiment/schema/rig";
import { insertDevice, renewToken } from "../device/devices";
import { readable } from "../json";
import { transact } from "../transact";

/** There is one simulated bench. */
const ONE = 1;

export interface RigRow {
  settings: RigSettings;
  running: boolean;
  /** Grows with every change. */
  version: number;
  /** Grows when the bench begins anew instead of going on. */
  epoch: number;
  deviceId: number | null;
  heardAt: number | null;
}

export async function findRig(knex: Knex): Promise<RigRow | null> {
  const row = await knex("rig").where({ id: ONE }).first();
  const settings = row && readable(rigSettingsSchema, row.settings);
  if (!settings) return null;
  return {
    settings,
    running: Boolean(row.is_running),
    version: row.version,
    epoch: row.epoch,
    deviceId: row.device_id,
    heardAt: row.heard_at,
  };
}

/** @param anew the bench begins again at its start; otherwise it goes on under the new settings */
export async function saveRig(
  knex: Knex,
  change: { settings: RigSettings; running: boolean; anew: boolean },
): Promise<void> {
  await transact(knex, async (trx) => {
    const row = await trx("rig").where({ id: ONE }).forUpdate().first("version", "epoch");
    const next = {
      settings: JSON.stringify(rigSettingsSchema.parse(change.settings)),
      is_running: change.running,
      version: (row?.version ?? 0) + 1,
      epoch: (row?.epoch ?? 0) + (change.anew ? 1 : 0),
    };
    if (row) await trx("rig").where({ id: ONE }).update(next);
    else await trx("rig").insert({ id: ONE, ...next });
  });
}

export const noteRigHeard = (knex: Knex, atMs: number): Promise<number> =>
  knex("rig").where({ id: ONE }).update({ heard_at: atMs });

/** A token for whoever drives the bench; the driver before it is let go. */
export async function rigToken(knex: Knex): Promise<{ token: string; deviceId: number }> {
  const known = await knex("device").where({ kind: "rig" }).orderBy("id").first("id");
  const made = known ? null : await insertDevice(knex, { name: "Simulated rig", kind: "rig", simulated: true });
  const deviceId: number = known?.id ?? made!.id;
  const token = made?.token ?? (await renewToken(knex, deviceId))!;
  await knex("rig").where({ id: ONE }).update({ device_id: deviceId });
  return { token, deviceId };
}
