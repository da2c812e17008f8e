import { z } from "zod";
import { listDevices } from "../../data/device/devices";
import { storeFile } from "../../data/file/files";
import { readChannels } from "../../data/reading/readings";
import { command, done, refused } from "../web/command";

/** What the person is shown to map by; the run itself may be any span of what has arrived. */
const SHOWN_MS = 6 * 3600_000;
const MOST_ROWS = 5000;

/** What a device has sent of late as a file to be looked at: how its channels are to be read is said as for any log. */
export const offerDevice = command({
  right: "hand",
  input: z.tuple([z.number().int().positive()]),
  async run(knex, id) {
    const device = (await listDevices(knex)).find((d) => d.id === id);
    if (!device) return refused("This device is no longer there. Choose another under Devices.");
    if (device.endMs === null)
      return refused(
        `“${device.name}” has sent nothing yet. Send a few readings first: what its channels are is asked once they are seen.`,
      );
    const numbers = device.channels.map((_, i) => i + 1);
    const series = await readChannels(knex, device.streamId, [0, ...numbers], {
      fromMs: device.endMs - SHOWN_MS,
      untilMs: null,
    });
    const times = series.get(0)!;
    const first = Math.max(0, times.length - MOST_ROWS);
    const rows = [["time", ...device.channels].map(cell).join(",")];
    for (let i = first; i < times.length; i++)
      rows.push([new Date(times[i]).toISOString(), ...numbers.map((no) => number(series.get(no)![i]))].join(","));
    const file = await storeFile(knex, `${device.name}, as it sends`, once(`${rows.join("\n")}\n`), {
      bytes: Infinity,
      stallMs: 60_000,
    });
    const nowMs = device.simulated ? device.endMs : Date.now();
    const { streamId, startMs } = device;
    return done({ fileId: file.id, streamId, device: device.name, startMs, firstMs: times[first], nowMs });
  },
  touches: () => "nothing",
});

const cell = (text: string): string => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
const number = (v: number): string => (Number.isNaN(v) ? "" : String(v));

async function* once(text: string): AsyncIterable<Uint8Array> {
  yield new TextEncoder().encode(text);
}
