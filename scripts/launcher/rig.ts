import { spawn, type ChildProcess } from "node:child_process";
import { createHash } from "node:crypto";
import { basename, join } from "node:path";
import { insertDevice, renewToken } from "../../src/data/device/devices";
import { createDatabase } from "../../src/data/database";
import { rigToken } from "../../src/data/rig/rigs";

/** Starts the process that drives the simulated bench. It sends over the network like any logger; token by the environment only. */
export async function startRig(address: string, databaseUrl: string, home: string): Promise<ChildProcess> {
  const knex = createDatabase(databaseUrl);
  const { token } = await rigToken(knex).finally(() => knex.destroy());
  return spawn(process.execPath, ["--import", "tsx", join("scripts", "rig", "main.ts")], {
    stdio: ["ignore", "inherit", "inherit"],
    env: {
      ...process.env,
      BRAVEL_RIG_ADDRESS: address,
      BRAVEL_RIG_TOKEN: token,
      BRAVEL_RIG_TRUTH: join(home, "rig-truth.jsonl"),
    },
  });
}

/** Starts the process that follows a folder of logs. The folder is a device of its own, known again by its name. */
export async function startWatch(address: string, databaseUrl: string, words: string[]): Promise<ChildProcess> {
  const knex = createDatabase(databaseUrl);
  // Two folders of one last name are two devices.
  const path = createHash("sha256").update(words[0]).digest("hex").slice(0, 6);
  const name = `Folder ${basename(words[0]).slice(0, 60)} (${path})`;
  try {
    const known = await knex("device").where({ name, kind: "logger" }).first("id");
    const token = known ? await renewToken(knex, known.id) : (await insertDevice(knex, { name, kind: "logger" })).token;
    return spawn(process.execPath, ["--import", "tsx", join("scripts", "watch", "main.ts"), ...words], {
      stdio: ["ignore", "inherit", "inherit"],
      env: { ...process.env, BRAVEL_WATCH_ADDRESS: address, BRAVEL_WATCH_TOKEN: token! },
    });
  } finally {
    await knex.destroy();
  }
}
