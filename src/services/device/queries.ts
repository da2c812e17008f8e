import type { Knex } from "knex";
import type { DeviceRow } from "../../core/experiment/records";
import { listDevices } from "../../data/device/devices";

export interface DevicesPage {
  devices: DeviceRow[];
  /** Live runs by stream, with the experiment each belongs to. */
  running: { streamId: number; experimentId: number; experiment: string; run: number }[];
}

/** Every device with what it has sent, and which live run looks at it. */
export async function devicesPage(knex: Knex): Promise<DevicesPage> {
  const running = await knex("run_stream as s")
    .join("run as r", "r.id", "s.run_id")
    .join("experiment as e", "e.id", "r.experiment_id")
    .whereNull("r.ended_at")
    .whereNull("r.deleted_at")
    .whereNull("e.deleted_at")
    .select({ streamId: "s.stream_id", experimentId: "e.id", experiment: "e.name", run: "r.number" });
  return { devices: await listDevices(knex), running };
}
