import { spawn, type ChildProcess } from "node:child_process";
import { join } from "node:path";
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
