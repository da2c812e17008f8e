import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createDatabase } from "../../src/data/database";
import { startLocalDatabase, type LocalDatabase } from "./database";
import { databasesIn, readReady, writeReady } from "./ready";

jest.setTimeout(180000);

const home = mkdtempSync(join(tmpdir(), "bravel-home-"));
const root = join(home, "database");
const ready = join(root, "ready.json");
let running: LocalDatabase | null = null;
const start = async () => (running = await startLocalDatabase(home, 4590));
const stop = async () => {
  await running?.stop();
  running = null;
};
beforeAll(() => void jest.spyOn(console, "log").mockImplementation(() => undefined));
afterAll(async () => {
  await stop();
  rmSync(home, { recursive: true, force: true });
});
const readings = async (url: string): Promise<unknown[]> => {
  const knex = createDatabase(url);
  try {
    return await knex("precious").orderBy("id");
  } finally {
    await knex.destroy();
  }
};

describe("a database of the project’s own", () => {
  test("is never removed while it holds a table, whatever became of the file of its settings", async () => {
    const knex = createDatabase((await start()).url);
    await knex.schema.createTable("precious", (t) => {
      t.increments("id");
      t.double("reading");
    });
    await knex("precious").insert([{ reading: 21.5 }, { reading: 40.25 }]);
    await knex.destroy();
    const kept = readFileSync(ready, "utf8");
    const damages: [string, () => void][] = [
      ["missing", () => rmSync(ready)],
      ["empty", () => truncateSync(ready, 0)],
      ["half", () => truncateSync(ready, 20)],
      ["not JSON", () => writeFileSync(ready, "\u0000\u0000\u0000")],
      ["without a password", () => writeFileSync(ready, JSON.stringify({ ...JSON.parse(kept), password: "" }))],
      [
        "of another password",
        () => writeFileSync(ready, JSON.stringify({ ...JSON.parse(kept), password: "wrong-wrong" })),
      ],
    ];
    for (const [name, damage] of damages) {
      await stop();
      damage();
      const { url } = await start();
      const found = await readings(url);
      expect([name, found]).toEqual([
        name,
        [
          { id: 1, reading: 21.5 },
          { id: 2, reading: 40.25 },
        ],
      ]);
      expect(readReady(root).damage).toBeNull();
      expect(statSync(ready).mode & 0o777).toBe(0o600);
    }
    await stop();
    expect(databasesIn(join(root, "data"))).toEqual(["bravel"]);
  });

  test("with a folder in place of its settings, or another database's name in them, says the way out and touches nothing", async () => {
    const kept = readFileSync(ready, "utf8");
    await stop();
    rmSync(ready);
    mkdirSync(ready);
    await expect(start()).rejects.toThrow(/ready\.json is a folder.*Nothing was changed/);
    rmSync(ready, { recursive: true });
    writeFileSync(ready, JSON.stringify({ ...JSON.parse(kept), database: "elsewhere" }));
    await expect(start()).rejects.toThrow(/names the database “elsewhere”.*holds bravel.*Nothing was changed/);
    writeFileSync(ready, kept);
    const { url } = await start();
    expect(await readings(url)).toHaveLength(2);
  });

  test("whose making was interrupted holds no table and is made anew", async () => {
    const other = mkdtempSync(join(tmpdir(), "bravel-half-"));
    mkdirSync(join(other, "database", "data", "bravel"), { recursive: true });
    writeFileSync(join(other, "database", "data", "ibdata1"), "half");
    const made = await startLocalDatabase(other, 4690);
    try {
      const knex = createDatabase(made.url);
      await knex.raw("SELECT 1");
      await knex.destroy();
    } finally {
      await made.stop();
      rmSync(other, { recursive: true, force: true });
    }
  });
});

describe("the file of settings", () => {
  const folder = mkdtempSync(join(tmpdir(), "bravel-ready-"));
  const good = { port: 4390, user: "bravel", password: "long enough", database: "bravel" };
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  test("is written whole or not at all", () => {
    writeReady(folder, good);
    expect(readReady(folder)).toEqual({ settings: good, damage: null });
    expect(existsSync(`${join(folder, "ready.json")}.${process.pid}.new`)).toBe(false);
  });

  test.each([
    ["", "empty"],
    ["{", "JSON"],
    ['{"port":0}', "port"],
    [JSON.stringify({ ...good, user: "a'; DROP USER root; --" }), "user"],
    [JSON.stringify({ ...good, database: "../mysql" }), "database"],
  ])("%s is damaged, and says how", (text, word) => {
    writeFileSync(join(folder, "ready.json"), text);
    const { settings, damage } = readReady(folder);
    expect(settings).toBeNull();
    expect(damage).toContain(word);
  });
});
