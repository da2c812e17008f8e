import { spawn, type ChildProcess } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Knex } from "knex";
import { createDatabase } from "../../src/data/database";
import { insertDevice } from "../../src/data/device/devices";
import { migrate } from "../../src/data/migrate";
import { compactStream } from "../../src/data/reading/compact";
import { readChannels } from "../../src/data/reading/readings";
import { startLocalDatabase, type LocalDatabase } from "./database";

let home: string;
let local: LocalDatabase;
let knex: Knex;
beforeAll(async () => {
  home = mkdtempSync(join(tmpdir(), "bravel-killed-"));
  local = await startLocalDatabase(home, 4620);
  knex = createDatabase(local.url);
  await migrate(knex);
}, 180_000);
afterAll(async () => {
  await knex.destroy();
  await local.stop();
  rmSync(home, { recursive: true, force: true });
}, 60_000);

const EACH = 7;

/** A sender in a process of its own, and what it says was acknowledged. */
function sender(
  stream: number,
  from = 0,
): { child: ChildProcess; acknowledged(): number; reaches(n: number): Promise<void> } {
  const child = spawn(process.execPath, [
    "--import",
    "tsx",
    "scripts/testing/sender.ts",
    local.url,
    String(stream),
    String(from),
  ]);
  let said = "";
  child.stdout!.on("data", (data: Buffer) => (said += data.toString()));
  const acknowledged = () => (said.match(/^ack \d+$/gm) ?? []).length;
  const reaches = async (n: number) => {
    for (let waited = 0; acknowledged() < n; waited += 50) {
      if (waited > 60_000) throw new Error(`only ${acknowledged()} of ${n} were acknowledged`);
      await new Promise((r) => setTimeout(r, 50));
    }
  };
  return { child, acknowledged, reaches };
}
const kill = (child: ChildProcess) =>
  new Promise((done) => {
    child.once("exit", done);
    child.kill("SIGKILL");
  });

/** Every acknowledged reading is there, once, as it was sent; one message more may have been kept unanswered. */
async function whole(stream: number, acknowledged: number): Promise<number> {
  const read = await readChannels(knex, stream, [0, 1, 2], { fromMs: 0, untilMs: null });
  const values = [...read.get(1)!];
  expect(values).toEqual(values.map((_, i) => i));
  expect([...read.get(2)!]).toEqual(values.map((v) => -v));
  expect(values.length % EACH).toBe(0);
  expect(values.length).toBeGreaterThanOrEqual(acknowledged * EACH);
  expect(values.length).toBeLessThanOrEqual((acknowledged + 1) * EACH);
  return values.length / EACH;
}
const fresh = async () => (await insertDevice(knex, { name: `sender ${Math.random()}`, kind: "logger" })).streamId;

test("the sender's process killed again and again, compacting too: each acknowledged reading once", async () => {
  const stream = await fresh();
  let from = 0;
  for (let round = 0; round < 4; round++) {
    const { child, acknowledged, reaches } = sender(stream, from);
    await reaches(60 + 37 * round);
    await kill(child);
    from = await whole(stream, from + acknowledged());
  }
  while (await compactStream(knex, stream, 0));
  await whole(stream, from);
}, 120_000);

test("the database killed while readings come and are compacted: it comes back, nothing acknowledged is lost", async () => {
  const stream = await fresh();
  const { child, acknowledged, reaches } = sender(stream);
  for (let round = 1; round <= 3; round++) {
    await reaches(150 * round);
    process.kill(Number(readFileSync(join(home, "database", "mariadb.pid"), "utf8")), "SIGKILL");
    await new Promise((r) => setTimeout(r, 300));
    await local.startAgain();
  }
  await reaches(600);
  await kill(child);
  await whole(stream, acknowledged());
}, 180_000);
