import { mkdtempSync, rmSync } from "node:fs";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import type { Knex } from "knex";
import { buildHeavy, heavyFile } from "../../../scripts/launcher/heavy";
import { freshDatabase, ownUrl } from "../../../scripts/testing/database";
import { twoBoxes } from "../../../scripts/testing/twoBoxes";
import { heavy } from "./heavy";
import { Pool } from "./pool";
import { Running } from "./thread";
import { ThreadEnded } from "./threadEnded";

const HEAP = { maxOldGenerationSizeMb: 512, maxYoungGenerationSizeMb: 24 };

let knex: Knex;
let dist: string;
const never = new AbortController().signal;
const threads: Worker[] = [];
const here = () => {
  const { BRAVEL_HEAVY } = process.env;
  delete process.env.BRAVEL_HEAVY;
  const tasks = heavy(knex);
  process.env.BRAVEL_HEAVY = BRAVEL_HEAVY;
  return tasks;
};

beforeAll(async () => {
  knex = await freshDatabase("heavy");
  // Beside the packages it needs, as in a build.
  dist = mkdtempSync(join(process.cwd(), ".bravel", "heavy-"));
  await buildHeavy(dist);
  process.env.BRAVEL_HEAVY = heavyFile(dist);
  process.env.BRAVEL_DATABASE_URL = ownUrl("heavy");
  const builtin = process.getBuiltinModule.bind(process);
  jest.spyOn(process, "getBuiltinModule").mockImplementation(((name: string) =>
    name === "node:worker_threads"
      ? {
          Worker: class extends Worker {
            constructor(...args: ConstructorParameters<typeof Worker>) {
              super(...args);
              threads.push(this);
            }
          },
        }
      : builtin(name as "fs")) as typeof process.getBuiltinModule);
}, 90000);
afterAll(async () => {
  delete process.env.BRAVEL_HEAVY;
  for (const thread of threads) await thread.terminate();
  await knex.destroy();
  rmSync(dist, { recursive: true, force: true });
});

test("an import on a thread of its own tells its steps and its end; pages say the same as here", async () => {
  const steps: string[] = [];
  const end = await heavy(knex).importRun(await twoBoxes(knex), (p) => steps.push(p.phase), never);
  if (end.kind !== "done") throw new Error(JSON.stringify(end));
  expect(end.done.streams.map((s) => s.name)).toEqual(["lanes.csv", "weather.csv"]);
  expect(steps).toContain("reading");
  const at = Date.UTC(2026, 9, 7);
  const { experimentId } = end.done;
  expect(await heavy(knex).stepPage(experimentId, "read", at)).toEqual(await here().stepPage(experimentId, "read", at));
  const traces = await heavy(knex).runTraces(experimentId, 1, { buckets: 50 });
  // Of another thread, so of another realm than the tests: its kind by name.
  expect(Object.prototype.toString.call(traces!.traces[0].mean)).toBe("[object Float32Array]");
  expect(threads).toHaveLength(2);
}, 90000);

test("what an import asks comes over whole; a cancelled one says so and leaves nothing", async () => {
  const asked = await twoBoxes(knex);
  const zone = { ...asked, files: asked.files.map((f) => ({ ...f, settings: { ...f.settings, zone: "Mars/Base" } })) };
  expect(await heavy(knex).importRun(zone, () => undefined, never)).toEqual({
    kind: "refused",
    failure: { kind: "zoneUnknown", zone: "Mars/Base" },
  });
  const abort = new AbortController();
  const before = await knex("run").count({ n: "*" });
  const cancelled = await heavy(knex).importRun(asked, () => abort.abort(), abort.signal);
  expect(cancelled).toEqual({ kind: "cancelled" });
  expect(await knex("run").count({ n: "*" })).toEqual(before);
}, 90000);

test("a thread that ends answers with that, and the next question begins another", async () => {
  const asked = heavy(knex).benchPage(Date.now());
  await threads[1].terminate();
  await expect(asked).rejects.toThrow(ThreadEnded);
  expect((await heavy(knex).benchPage(Date.now())).experiments).toHaveLength(1);
  expect(threads).toHaveLength(3);
}, 60000);

test("a thread that computes for ever is ended, and the next question begins another", async () => {
  const hasty = new Pool((onEnd) => new Running(heavyFile(dist), "reading", HEAP, onEnd), {
    ...{ most: 1, longestMs: 1, patienceMs: 0, idleMs: 1000, waiting: 10 },
  });
  await expect(heavy(knex, hasty).benchPage(Date.now())).rejects.toThrow(ThreadEnded);
  expect((await heavy(knex).benchPage(Date.now())).experiments).toHaveLength(1);
  expect(threads).toHaveLength(4);
}, 60000);

test("a fault inside keeps its words on the way", async () => {
  await expect(heavy(knex).planView("x" as unknown as number, Date.now())).resolves.toBeNull();
  await knex.schema.renameTable("site", "elsewhere");
  await expect(heavy(knex).benchPage(Date.now())).rejects.toThrow(/site/);
  await knex.schema.renameTable("elsewhere", "site");
});
