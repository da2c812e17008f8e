import { z } from "zod";
import { insertDevice, listDevices, renewToken, revokeDevice } from "../../data/device/devices";
import { settleHeld } from "../../data/reading/held";
import { command, done, refused } from "../web/command";
import { lineSchema } from "../../core/text/line";

const id = z.number().int().positive();
const NO_DEVICE = refused("This device is no longer there. Reload the page.");

/** A device that may send readings. Its token is in the answer and nowhere else. */
export const addDevice = command({
  input: z.tuple([
    z.object({ name: lineSchema().min(1, "a device needs a name").max(80), kind: z.enum(["logger", "browser"]) }),
  ]),
  async run(knex, input) {
    const { id: made, streamId, token } = await insertDevice(knex, input);
    return done({ id: made, streamId, token });
  },
  touches: () => "everything",
});

/** Says when readings were taken that are kept apart. */
export const settleHeldFrames = command({
  input: z.tuple([id, z.enum(["stamped", "arrived", "left out"])]),
  async run(knex, device, answer) {
    const found = (await listDevices(knex)).find((d) => d.id === device);
    return found ? done({ settled: await settleHeld(knex, found.streamId, answer) }) : NO_DEVICE;
  },
  touches: () => "everything",
});

export const newToken = command({
  input: z.tuple([id]),
  async run(knex, device) {
    const token = await renewToken(knex, device);
    return token ? done({ token }) : NO_DEVICE;
  },
  touches: () => "everything",
});

export const revoke = command({
  input: z.tuple([id, z.boolean()]),
  run: async (knex, device, revoked) => ((await revokeDevice(knex, device, revoked)) ? done() : NO_DEVICE),
  touches: () => "everything",
});
