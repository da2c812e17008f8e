import { createHash } from "node:crypto";
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

/** The copy's lines, changed, with a hash that fits them again: as somebody would who knows the format. */
function rewritten(name: string, change: (lines: string[]) => string[]): string {
  const lines = gunzipSync(readFileSync(file)).toString("utf8").trimEnd().split("\n");
  const body = change(lines.slice(0, -1));
  const tables = body.slice(1).filter((l) => !l.startsWith("[")).length;
  const rows = body.length - 1 - tables;
  const sha256 = createHash("sha256")
    .update(`${body.join("\n")}\n`)
    .digest("hex");
  const spoilt = join(home, name);
  writeFileSync(spoilt, gzipSync(`${[...body, JSON.stringify({ end: true, tables, rows, sha256 })].join("\n")}\n`));
  return spoilt;
}

test("a reading changed in the copy is noticed by the verdict it changes", async () => {
  const spoilt = rewritten("changed.bravel", (lines) => {
    const changed = lines.map((l) => l.replace(/(inletC[\\":\s]*)20\b/g, (_, before: string) => `${before}60`));
    expect(changed).not.toEqual(lines);
    return changed;
  });
  await expect(restore(to, home, spoilt, quiet)).rejects.toThrow(/“Two boxes” does not say what it did/);
  // It is read all the same: what there is, is kept to be looked at.
  expect((await tablesOf(target)).length).toBeGreaterThan(10);
});

describe("a copy is data and never a program", () => {
  const first = (lines: string[], table: string) => lines.findIndex((l) => l.startsWith(`{"table":"${table}"`));
  const plain = async () => ({
    source: (await listExperiments(source)).map((e) => e.name),
    tables: (await source.raw("SHOW DATABASES"))[0].length as number,
  });

  test.each([
    ["a client's command", (l: string[]) => [l[0], "system touch /tmp/bravel-was-here", ...l.slice(1)]],
    ["a client's escape", (l: string[]) => [l[0], "\\! touch /tmp/bravel-was-here", ...l.slice(1)]],
    ["a statement", (l: string[]) => [...l, "DROP TABLE bravel_backup.experiment;"]],
    ["a table that is none", (l: string[]) => [...l, '{"table":"mysql.user","columns":["x"]}']],
    ["an object for a value", (l: string[]) => [...l, '{"table":"site","columns":["id"]}', '[{"toSqlString":"1"}]']],
    ["a row too short", (l: string[]) => [...l, '{"table":"site","columns":["id","name"]}', "[1]"]],
    ["a row before any table", (l: string[]) => [l[0], "[1]", ...l.slice(1)]],
    ["another kind of file", (l: string[]) => ['{"bravel":"package"}', ...l.slice(1)]],
  ])("with %s in it is refused before anything is made", async (_, change) => {
    const before = await plain();
    await expect(restore(to, home, rewritten("program.bravel", change), quiet)).rejects.toThrow(
      /is not a copy made by .* Nothing was changed/,
    );
    expect(await tablesOf(target)).toEqual([]);
    expect(await plain()).toEqual(before);
    expect(existsSync("/tmp/bravel-was-here")).toBe(false);
  });

  test.each([
    ["a table that Bravel does not know", (l: string[]) => [...l, '{"table":"elsewhere","columns":["id"]}']],
    ["a column that it does not know", (l: string[]) => [...l, '{"table":"site","columns":["id","sudo"]}', "[99,1]"]],
  ])("with %s reads no row", async (_, change) => {
    await expect(restore(to, home, rewritten("odd.bravel", change), quiet)).rejects.toThrow(/does not know/);
    expect(await target("experiment").select("id")).toEqual([]);
  });

  test("whose strings are pieces of SQL holds them as names, to the letter", async () => {
    const name = "x'; DROP TABLE bravel_backup.experiment; -- \\";
    const spoilt = rewritten("quoted.bravel", (lines) => {
      const at = first(lines, "experiment");
      const { columns } = JSON.parse(lines[at]) as { columns: string[] };
      const row = JSON.parse(lines[at + 1]) as unknown[];
      row[columns.indexOf("name")] = name;
      return lines.map((l, i) => (i === at + 1 ? JSON.stringify(row) : l));
    });
    await restore(to, home, spoilt, quiet);
    expect((await listExperiments(target)).map((e) => e.name)).toEqual([name]);
    expect((await listExperiments(source)).length).toBe(1);
  });

  test("of a newer Bravel is refused with what it does not know", async () => {
    const spoilt = rewritten("newer.bravel", ([head, ...rest]) => [
      head.replace('"migrations":[', '"migrations":["29990101_0001_of_tomorrow",'),
      ...rest,
    ]);
    await expect(restore(to, home, spoilt, quiet)).rejects.toThrow(/does not know: 29990101_0001_of_tomorrow/);
    expect(await tablesOf(target)).toEqual([]);
  });
});

test("a database that does not answer leaves no file", async () => {
  const away = new URL(from);
  away.port = "1";
  await expect(backup(away.href, join(home, "away.bravel"), quiet)).rejects.toThrow();
  expect(existsSync(join(home, "away.bravel"))).toBe(false);
});
