/**
 * What one may not stop, against the built application with the demo world: how long `/api/health` and `/` take while five hundred streams of
 * the live bench are open, while large messages of nothing but faults arrive, and while packages are refused; and what the server's memory comes
 * to after 40 and after 400 of those. Run: `npx tsx bench/crowd.ts [REFUSED]`.
 */
import { spawn } from "node:child_process";
import { readFileSync, rmSync } from "node:fs";
import { performance } from "node:perf_hooks";
import { gzipSync } from "node:zlib";
import type { Knex } from "knex";
import { loadDemoWorld } from "../demo/load";
import { freePort, startLocalDatabase } from "../scripts/launcher/database";
import { upgrade } from "../scripts/launcher/upgrade";
import { DIST, ensureBuild, startWeb } from "../scripts/launcher/web";
import { RigDriver } from "../scripts/rig/drive";
import { createDatabase } from "../src/data/database";
import { insertDevice } from "../src/data/device/devices";
import { rigToken } from "../src/data/rig/rigs";
import { changeRig } from "../src/services/rig/rig";

const READERS = "readers";
const [first, second] = process.argv.slice(2);
const STREAMS = 500;
const REFUSED = Number(first ?? 400);
const HOME = ".bravel/crowd";
const EVERY_MS = 50;

const residentMb = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? NaN) / 1024;
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const quantile = (sorted: number[], share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];

/** Health asked steadily, and the bench's page now and then, while something goes on. */
async function meanwhile(name: string, address: string, work: () => Promise<string>): Promise<void> {
  const health: number[] = [];
  const page: number[] = [];
  let over = false;
  const asked = async (path: string, into: number[], everyMs: number) => {
    while (!over) {
      const start = performance.now();
      const answer = await fetch(`${address}${path}`);
      await answer.text();
      into.push(performance.now() - start);
      await pause(everyMs);
    }
  };
  const asking = [asked("/api/health", health, EVERY_MS), asked("/", page, 500)];
  const said = await work();
  over = true;
  await Promise.all(asking);
  const [h, p] = [health, page].map((list) => list.sort((a, b) => a - b));
  console.log(
    `${name.padEnd(34)} health p50 ${quantile(h, 0.5).toFixed(0)}, p99 ${quantile(h, 0.99).toFixed(0)}, worst ${h.at(-1)!.toFixed(0)} ms (${h.length}); page worst ${p.at(-1)!.toFixed(0)} ms; ${said}`,
  );
}

/** The readers run in a process of their own: five hundred of them would keep the one that measures from reading its clock. */
async function streams(address: string, experiment: number): Promise<string> {
  const readers = spawn("npx", ["tsx", "bench/crowd.ts", READERS, `${address}/api/experiments/${experiment}/live`], {
    stdio: ["ignore", "pipe", "inherit"],
  });
  let said = "";
  for await (const piece of readers.stdout) said += String(piece);
  return said.trim();
}

async function read(stream: string): Promise<string> {
  const stop = new AbortController();
  let [open, full] = [0, 0];
  const readers = Array.from({ length: STREAMS }, async () => {
    const answer = await fetch(stream, { signal: stop.signal });
    let heard = false;
    for await (const piece of answer.body as unknown as AsyncIterable<Uint8Array>) {
      const text = Buffer.from(piece).toString();
      if (text.includes("event: full")) full++;
      else if (text.includes("data:") && !heard) {
        heard = true;
        open++;
      }
    }
  });
  const all = Promise.allSettled(readers);
  await pause(15_000);
  const said = `${open} served, ${full} told to come again`;
  stop.abort();
  await all;
  return said;
}

/** Made before anything is measured: packing them takes longer than health may. */
const BAD_LINES = gzipSync("bench in=x\n".repeat(Math.floor((8 * 1024 * 1024) / 11)));
const WRONG_FRAMES = gzipSync(JSON.stringify(Array(4_000_000).fill(0)));

async function badMessages(address: string, token: string): Promise<string> {
  const headers = { authorization: `Bearer ${token}`, "content-type": "text/plain", "content-encoding": "gzip" };
  const took: number[] = [];
  for (let i = 0; i < 5; i++) {
    const start = performance.now();
    const answer = await fetch(`${address}/api/readings?precision=s`, { method: "POST", headers, body: BAD_LINES });
    await answer.text();
    took.push(performance.now() - start);
  }
  const start = performance.now();
  const wrong = await fetch(`${address}/api/readings`, {
    method: "POST",
    headers: { ...headers, "content-type": "application/json" },
    body: WRONG_FRAMES,
  });
  const { rejectedCount } = (await wrong.json()) as { rejectedCount: number };
  return `8 MB of bad lines in ${Math.max(...took).toFixed(0)} ms; ${rejectedCount} wrong frames in ${(performance.now() - start).toFixed(0)} ms`;
}

/** The simulated bench lives ten minutes of readings in each second, for a minute. */
async function fastBench(address: string, knex: Knex): Promise<string> {
  const { token } = await rigToken(knex);
  const changed = await changeRig.run(knex, { speed: 600, running: true });
  if (!changed.ok) throw new Error(changed.error);
  const stop = new AbortController();
  const driver = new RigDriver({ address, token, signal: stop.signal }).run();
  const before = Number((await knex("stream").sum({ n: "frames" }))[0].n);
  await pause(60_000);
  stop.abort();
  await driver;
  return `${Number((await knex("stream").sum({ n: "frames" }))[0].n) - before} frames kept`;
}

async function refusedPackages(address: string, pid: number, times: number): Promise<string> {
  const body = Buffer.alloc(1024 * 1024, 7);
  for (let i = 0; i < times; i++) {
    const answer = await fetch(`${address}/api/packages`, { method: "POST", body });
    if (answer.status !== 422) throw new Error(`a package was answered with ${answer.status}`);
    await answer.text();
  }
  return `${residentMb(pid).toFixed(0)} MB`;
}

async function main(): Promise<void> {
  rmSync(HOME, { recursive: true, force: true });
  await ensureBuild(DIST);
  const database = await startLocalDatabase(HOME, 4396);
  await upgrade(database.url, HOME, () => undefined);
  const knex = createDatabase(database.url);
  await loadDemoWorld(knex, () => undefined);
  const { token } = await insertDevice(knex, { name: "a stranger’s", kind: "logger" });
  const { experiment_id: experiment } = await knex("run").whereNotNull("started_at").first("experiment_id");
  const web = await startWeb({ port: await freePort(4400), databaseUrl: database.url, dist: DIST, quiet: true });
  const { address } = web;
  const pid = web.process.pid!;
  try {
    await (await fetch(address)).text();
    await meanwhile("at rest", address, () => pause(5000).then(() => `${residentMb(pid).toFixed(0)} MB`));
    await meanwhile(`${STREAMS} streams`, address, () => streams(address, experiment));
    await meanwhile("messages of nothing but faults", address, () => badMessages(address, token));
    await meanwhile("a bench at 600×", address, () => fastBench(address, knex));
    await meanwhile("40 refused packages", address, () => refusedPackages(address, pid, 40));
    await meanwhile(`${REFUSED} refused packages`, address, () => refusedPackages(address, pid, REFUSED));
    console.log(
      `files left of them: ${Number((await knex("raw_file").where({ name: "package.zip" }).count({ n: "*" }))[0].n)}`,
    );
  } finally {
    await web.stop();
    await knex.destroy();
    await database.stop();
    rmSync(HOME, { recursive: true, force: true });
  }
}

if (first === READERS) console.log(await read(second));
else await main();
