import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Knex } from "knex";
import { createDatabase } from "../../src/data/database";
import { findExperiments } from "../../src/data/experiment/experiments";
import { addLayer } from "../../src/data/run/layers";
import { recordSpot } from "../../src/data/spot/spots";
import { migrate, migrateBackTo, NewerDatabase } from "../../src/data/migrate";
import { freshDatabase, ownUrl } from "../testing/database";
import { importTwoBoxes } from "../testing/twoBoxes";
import { dumpDatabase, loadDatabase } from "./dump";
import { dropTables, tablesOf, upgrade } from "./upgrade";

jest.setTimeout(240000);

const url = new URL(process.env.BRAVEL_TEST_DATABASE_URL!);
url.pathname = "/bravel_upgrade";
const address = url.href;
const home = mkdtempSync(join(tmpdir(), "bravel-upgrade-"));
const old = join(home, "old.copy.gz");
const backup = join(home, "backup");
/** The marks of upgrades that did not end. */
const marks = () => readdirSync(backup).filter((name) => name.startsWith("upgrading"));

let knex: Knex;
/** Everything in the database as text, but for what tells when migrations were run. */
async function whole(): Promise<Record<string, string[]>> {
  const out: Record<string, string[]> = {};
  for (const name of (await tablesOf(knex)).sort()) {
    if (name.startsWith("schema_migration")) continue;
    const [[{ "Create Table": made }]] = (await knex.raw("SHOW CREATE TABLE ??", [name])) as [
      [{ "Create Table": string }],
    ];
    const rows = (await knex(name)).map((r: object) => JSON.stringify(r)).sort();
    out[name] = [made.replace(/ AUTO_INCREMENT=\d+/, ""), ...rows];
  }
  return out;
}
const asOld = async () => {
  await dropTables(knex);
  await loadDatabase(address, old);
};

/** Brings the tables up to date until so many statements were sent, and then nothing more: as if killed there. */
const killedAt = (statement: number) => async (own: Knex) => {
  let sent = 0;
  const count = () => {
    if (++sent > statement) throw new Error("killed");
  };
  own.on("query", count);
  try {
    await migrate(own);
  } finally {
    own.removeListener("query", count);
  }
};

let expected: Record<string, string[]>;
let statements = 0;
beforeAll(async () => {
  knex = await freshDatabase("upgrade");
  const id = await importTwoBoxes(knex);
  const [run] = (await findExperiments(knex, [id]))[0].runs;
  await addLayer(knex, id, run.id, {
    kind: "exclusion",
    detail: { lane: "A", fromMs: run.streams[0].startMs, toMs: run.streams[0].startMs + 60000 },
    reason: "a hand",
  });
  await recordSpot(knex, id, { text: "20 in", values: {} });
  await migrateBackTo(knex, "20261125_0002_designs");
  await dumpDatabase(address, old);
  const count = () => statements++;
  knex.on("query", count);
  await migrate(knex);
  knex.removeListener("query", count);
  expected = await whole();
});
// Knex tells of each migration that was stopped.
beforeAll(() => void jest.spyOn(console, "log").mockImplementation(() => undefined));
afterAll(async () => {
  await knex.destroy();
  rmSync(home, { recursive: true, force: true });
});

describe("an upgrade", () => {
  test("interrupted at any statement begins again from its copy, and ends as if nothing had happened", async () => {
    expect(statements).toBeGreaterThan(40);
    // Every seventh: each costs a whole upgrade. BRAVEL_LONG tries every one.
    for (let at = 1; at < statements; at += process.env.BRAVEL_LONG ? 1 : 7) {
      await asOld();
      await expect(upgrade(address, home, undefined, killedAt(at))).rejects.toThrow("killed");
      expect(marks()).toHaveLength(1);
      const said: string[] = [];
      await upgrade(address, home, (text) => said.push(text));
      expect(said.join()).toMatch(/interrupted; beginning again/);
      expect(await whole()).toEqual(expected);
      expect(marks()).toEqual([]);
    }
    // What an interrupted one had come to was kept beside before it was put back.
    expect(readdirSync(backup).filter((f) => f.endsWith("-aside.copy.gz")).length).toBeGreaterThan(0);
  }, 1_800_000);

  test("whose copy is spoilt drops nothing: it is read to its end first", async () => {
    await asOld();
    await expect(upgrade(address, home, undefined, killedAt(20))).rejects.toThrow("killed");
    const [mark] = marks();
    const { copy } = JSON.parse(readFileSync(join(backup, mark), "utf8")) as { copy: string };
    const bytes = readFileSync(join(backup, copy));
    writeFileSync(join(backup, copy), bytes.subarray(0, bytes.length - 40));
    const before = await whole();
    await expect(upgrade(address, home)).rejects.toThrow(/cut short. Nothing was changed/);
    expect(await whole()).toEqual(before);
    writeFileSync(join(backup, copy), bytes);
    await upgrade(address, home);
    expect(await whole()).toEqual(expected);
  });

  test("interrupted twice, the second time while it is put back, still ends well", async () => {
    await asOld();
    await expect(upgrade(address, home, undefined, killedAt(12))).rejects.toThrow("killed");
    // As left by a kill in the middle of putting back: tables gone, the mark still there.
    await dropTables(knex);
    await upgrade(address, home);
    expect(await whole()).toEqual(expected);
  });

  test("keeps the last three copies, and writes none when there is nothing to do", async () => {
    expect(readdirSync(backup).filter((f) => /-before-.*\.copy\.gz$/.test(f))).toHaveLength(3);
    const before = readdirSync(backup);
    await upgrade(address, home);
    expect(readdirSync(backup)).toEqual(before);
  });

  test("by two at once is done once; the other waits", async () => {
    await asOld();
    const said: string[] = [];
    await Promise.all([upgrade(address, home, (t) => said.push(t)), upgrade(address, home, (t) => said.push(t))]);
    expect(await whole()).toEqual(expected);
    expect(said.filter((t) => t.includes("waiting"))).toHaveLength(1);
    expect(said.filter((t) => /^\d+ step/.test(t))).toHaveLength(1);
  });

  test("whose copy is gone changes nothing and says where to put it", async () => {
    const before = await whole();
    const [{ identity }] = (await knex("bravel_identity")) as { identity: string }[];
    const mark = join(backup, `upgrading-${identity}.json`);
    const mine = { identity, database: "bravel_upgrade" };
    for (const copy of ["20260101T000000-before-x.copy.gz", "../../etc/passwd", 7]) {
      writeFileSync(mark, JSON.stringify({ ...mine, copy }));
      await expect(upgrade(address, home)).rejects.toThrow(/is not there.*nothing was changed/);
    }
    writeFileSync(mark, "");
    await expect(upgrade(address, home)).rejects.toThrow(/is not there.*nothing was changed/);
    rmSync(mark);
    expect(await whole()).toEqual(before);
  });

  test("of a restored copy, interrupted, leaves the home's own database alone; each goes on with its own", async () => {
    const copy = await freshDatabase("upgrade_copy");
    const copyAddress = ownUrl("upgrade_copy");
    try {
      // The home's own database is up to date; the copy of an older one is interrupted on its way.
      await asOld();
      await upgrade(address, home);
      const own = await whole();
      await dropTables(copy);
      await loadDatabase(copyAddress, old);
      await expect(upgrade(copyAddress, home, undefined, killedAt(12))).rejects.toThrow("killed");
      await upgrade(address, home);
      expect(await whole()).toEqual(own);
      // Both interrupted at once: none takes the other's copy.
      await asOld();
      await expect(upgrade(address, home, undefined, killedAt(30))).rejects.toThrow("killed");
      expect(marks()).toHaveLength(2);
      await upgrade(address, home);
      expect(await whole()).toEqual(expected);
      expect(marks()).toHaveLength(1);
      const said: string[] = [];
      await upgrade(copyAddress, home, (text) => said.push(text));
      expect(said.join()).toMatch(/beginning again/);
      expect(marks()).toEqual([]);
    } finally {
      await copy.destroy();
    }
  });

  test("never acts on a mark that names no database, or on one of a database cloned under another name", async () => {
    await asOld();
    writeFileSync(join(backup, "upgrading.json"), '{"copy":"20260101T000000-before-x.copy.gz"}');
    const before = await whole();
    await expect(upgrade(address, home)).rejects.toThrow(/does not say of which database.*Nothing was changed/s);
    expect(await whole()).toEqual(before);
    rmSync(join(backup, "upgrading.json"));
    const [{ identity }] = (await knex("bravel_identity")) as { identity: string }[];
    const [copy] = readdirSync(backup).filter((f) => /-before-.*\.copy\.gz$/.test(f));
    const foreign = join(backup, `upgrading-${identity}.json`);
    writeFileSync(foreign, JSON.stringify({ copy, identity, database: "bravel_elsewhere" }));
    await knex("experiment").update({ name: "changed since" });
    await upgrade(address, home);
    expect(await knex("experiment").first("name")).toEqual({ name: "changed since" });
    rmSync(foreign, { force: true });
    await asOld();
    await upgrade(address, home);
    // Up to date, it is not the one that was interrupted: a nameless mark keeps nobody from starting.
    writeFileSync(join(backup, "upgrading.json"), "{}");
    await upgrade(address, home);
    rmSync(join(backup, "upgrading.json"));
  });

  test("of a database that a newer Bravel changed is refused, and nothing is changed", async () => {
    await knex("schema_migration").insert({ name: "29990101_0099_of_tomorrow", batch: 99, migration_time: new Date() });
    await expect(upgrade(address, home)).rejects.toThrow(NewerDatabase);
    await knex("schema_migration").where({ batch: 99 }).delete();
  });

  test("of an empty database needs no copy", async () => {
    await dropTables(knex);
    const copies = readdirSync(backup).length;
    await upgrade(address, home);
    expect((await tablesOf(knex)).length).toBeGreaterThan(10);
    expect(readdirSync(backup)).toHaveLength(copies);
  });
});

describe("a copy", () => {
  test("read into another database is the same to the last byte", async () => {
    await asOld();
    const before = await whole();
    const file = join(home, "whole.copy.gz");
    await dumpDatabase(address, file);
    await dropTables(knex);
    await loadDatabase(address, file);
    expect(await whole()).toEqual(before);
  });

  test("cut short is refused before anything is made", async () => {
    const file = join(home, "cut.copy.gz");
    await dumpDatabase(address, file);
    writeFileSync(file, readFileSync(file).subarray(0, 2000));
    await dropTables(knex);
    await expect(loadDatabase(address, file)).rejects.toThrow(/cut short. Nothing was changed/);
    expect(await tablesOf(knex)).toEqual([]);
  });

  test("of a database nobody answers for leaves no half file", async () => {
    const away = new URL(address);
    away.port = "1";
    await expect(dumpDatabase(away.href, join(home, "away.copy.gz"))).rejects.toThrow(/failed/);
    expect(readdirSync(home).some((f) => f.startsWith("away"))).toBe(false);
    await createDatabase(address).destroy();
  });
});
