import type { Frame } from "../../src/core/ingest/frame";
import { WatchedFolder } from "./folder";

/** A folder of growing logs as a device: address and token by the environment, folder, zone and order as words. */
const { BRAVEL_WATCH_ADDRESS: address, BRAVEL_WATCH_TOKEN: token } = process.env;
const [folder, zone, order] = process.argv.slice(2);
if (!address || !token || !folder || !zone) {
  console.error("bravel: watching needs an address, a token, a folder and a zone.");
  process.exit(2);
}
const LOOK_EVERY_MS = 2000;

async function send(frames: readonly Frame[]): Promise<boolean> {
  const response = await fetch(`${address}/api/readings`, {
    method: "POST",
    headers: { authorization: `Bearer ${token}`, "content-type": "application/json" },
    body: JSON.stringify({ frames: frames.map((f) => ({ time: f.atMs, values: Object.fromEntries(f.values) })) }),
  }).catch(() => null);
  if (response?.status === 401) {
    console.error("bravel: this folder's token was revoked or given anew.");
    process.exit(1);
  }
  if (!response || (response.status !== 200 && response.status !== 422)) return false;
  const { rejectedCount, rejected, second } = (await response.json()) as {
    rejectedCount: number;
    rejected: { why: string }[];
    second: number;
  };
  if (second)
    console.error(
      `bravel: ${second} readings are there already with another value; the first ones stand, these are kept beside`,
    );
  if (rejectedCount) console.error(`bravel: ${rejectedCount} rows were left out: ${rejected[0].why}`);
  return true;
}

const watched = new WatchedFolder({
  folder,
  zone,
  order: order === "dmy" || order === "mdy" || order === "ymd" ? order : null,
  say: (text) => console.log(text),
  send,
});
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => process.exit(0));
for (;;) {
  await watched.look().catch((error: Error) => console.error(`bravel: ${error.message}`));
  await new Promise((r) => setTimeout(r, LOOK_EVERY_MS));
}
