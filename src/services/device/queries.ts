import type { Knex } from "knex";
import type { DeviceRow } from "../../core/experiment/records";
import { listDevices } from "../../data/device/devices";
import { runningByStream } from "../../data/run/live";

export interface DevicesPage {
  devices: DeviceRow[];
  /** Live runs by stream, with the experiment each belongs to. */
  running: { streamId: number; experimentId: number; experiment: string; run: number }[];
}

/** Every device with what it has sent, and which live run looks at it. */
export async function devicesPage(knex: Knex): Promise<DevicesPage> {
  return { devices: await listDevices(knex), running: await runningByStream(knex) };
}
