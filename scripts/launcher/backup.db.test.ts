import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gunzipSync, gzipSync } from "node:zlib";
import type { Knex } from "knex";
import { findExperiment, listExperiments } from "../../src/data/experiment/experiments";
import { addLayer } from "../../src/data/run/layers";
import { freshDatabase } from "../testing/database";
import { importTwoBoxes } from "../testing/twoBoxes";
import { backup, restore } from "./backup";
import { dropTables, tablesOf } from "./upgrade";

jest.setTimeout(120000);

const home = mkdtempSync(join(tmpdir(), "bravel-backup-"));
const file = join(home, "all.bravel");
const quiet = () => undefined;
const addressOf = (name: string) => {
  const url = new URL(process.env.BRAVEL_TEST_DATABASE_URL!);
  url.pathname = `/bravel_${name}`;
  return url.href;
};
const [from, to] = [addressOf("backup"), addressOf("restored")];
let source: Knex;
let target: Knex;
beforeAll(async () => {
  source = await freshDatabase("backup");
  target = await freshDatabase("restored");
  const id = await importTwoBoxes(source);
  const [run] = (await findExperiment(source, id))!.runs;
  await addLayer(source, id, run.id, {
    kind: "exclusion",
    detail: { lane: null, fromMs: run.streams[0].startMs, toMs: run.streams[0].startMs + 60000 },
    reason: "door open",
  });
});
beforeEach(() => dropTables(target));
afterAll(async () => {
  await source.destroy();
  await target.destroy();
  rmSync(home, { recursive: true, force: true });
});

test("a copy holds everything, and every verdict is what it was", async () => {
  expect(await backup(from, file, quiet)).toBe(1);
  const said: string[] = [];
  expect(await restore(to, home, file, (t) => said.push(t))).toBe(1);
  expect(said.join()).toContain("every verdict as it was");
  const [before] = await listExperiments(source);
  expect(await findExperiment(target, before.id)).toEqual(await findExperiment(source, before.id));
  expect(await target("reading_block").orderBy(["stream_id", "channel_no", "seq"])).toEqual(
    await source("reading_block").orderBy(["stream_id", "channel_no", "seq"]),
  );
});

test("nothing is written over: neither a file nor a database that holds tables", async () => {
  const bytes = readFileSync(file);
  await expect(backup(from, file, quiet)).rejects.toThrow(/is there already/);
  expect(readFileSync(file).equals(bytes)).toBe(true);
  await restore(to, home, file, quiet);
  await expect(restore(to, home, file, quiet)).rejects.toThrow(/holds \d+ tables.*Nothing was changed/);
});

test.each([
  ["cut short", (b: Buffer) => b.subarray(0, b.length >> 1)],
  ["not compressed", (b: Buffer) => gunzipSync(b)],
  ["of something else", () => gzipSync("CREATE TABLE x (id INT)")],
  ["empty", () => Buffer.alloc(0)],
])("a file %s is refused", async (_, spoil) => {
  const spoilt = join(home, "spoilt.bravel");
  writeFileSync(spoilt, spoil(readFileSync(file)));
  await expect(restore(to, home, spoilt, quiet)).rejects.toThrow(/is not a copy made by .* Nothing was changed/);
  expect(await tablesOf(target)).toEqual([]);
});

test("a reading changed in the copy is noticed by the verdict it changes", async () => {
  const text = gunzipSync(readFileSync(file)).toString("latin1");
  // The smallest difference that matters is part of no reading; the areas are part of every point.
  const other = text
    .replace(/\\"grossAreaM2\\":2\b/g, '\\"grossAreaM2\\":3')
    .replace(/"grossAreaM2\\?":\s*2\b/g, (m) => m.replace("2", "3"));
  const changed = other === text ? text.replace(/\\"inletC\\": ?20/g, '\\"inletC\\": 60') : other;
  expect(changed).not.toBe(text);
  const spoilt = join(home, "changed.bravel");
  writeFileSync(spoilt, gzipSync(Buffer.from(changed, "latin1")));
  await expect(restore(to, home, spoilt, quiet)).rejects.toThrow(/“Two boxes” does not say what it did/);
  // It is read all the same: what there is, is kept to be looked at.
  expect((await tablesOf(target)).length).toBeGreaterThan(10);
});

test("a database that does not answer leaves no file", async () => {
  const away = new URL(from);
  away.port = "1";
  await expect(backup(away.href, join(home, "away.bravel"), quiet)).rejects.toThrow();
  expect(existsSync(join(home, "away.bravel"))).toBe(false);
});
