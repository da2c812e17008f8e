import { execFileSync } from "node:child_process";
import { appendFileSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { strToU8, zipSync } from "fflate";
import type { Frame } from "../../src/core/ingest/frame";
import { WatchedFolder } from "./folder";

let folder: string;
let sent: Frame[];
let said: string[];
let answers: boolean;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "bravel-watch-"));
  [sent, said, answers] = [[], [], true];
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const watched = (order: "dmy" | null = null) =>
  new WatchedFolder({
    folder,
    zone: "Europe/Zurich",
    order,
    say: (t) => void said.push(t),
    send: (frames) => {
      if (answers) sent.push(...frames);
      return Promise.resolve(answers);
    },
  });
const HEAD = "time,A in (°C),A out (°C)\n";
const row = (i: number) =>
  `2026-10-06 ${String(10 + Math.floor(i / 60)).padStart(2, "0")}:${String(i % 60).padStart(2, "0")}:00,${12 + i / 100},${38 + i / 100}\n`;
const rows = (from: number, to: number) => Array.from({ length: to - from }, (_, i) => row(from + i)).join("");
const file = (name: string) => join(folder, name);

test("a log that grows is followed line by line; half a line waits for its end", async () => {
  const look = watched();
  writeFileSync(file("bench.csv"), HEAD + rows(0, 100));
  await look.look();
  expect(sent).toHaveLength(100);
  expect(sent[0]).toEqual({
    atMs: Date.UTC(2026, 9, 6, 8),
    values: [
      ["A in (°C)", 12],
      ["A out (°C)", 38],
    ],
  });
  const next = row(100);
  appendFileSync(file("bench.csv"), next.slice(0, 25));
  await look.look();
  expect(sent).toHaveLength(100);
  appendFileSync(file("bench.csv"), next.slice(25) + row(101));
  await look.look();
  expect(sent.map((f) => f.values[0][1])).toEqual(Array.from({ length: 102 }, (_, i) => 12 + i / 100));
});

test("while nothing is acknowledged it waits, and comes in order when it is", async () => {
  const look = watched();
  writeFileSync(file("bench.csv"), HEAD + rows(0, 90));
  answers = false;
  await look.look();
  appendFileSync(file("bench.csv"), rows(90, 95));
  await look.look();
  expect(sent).toEqual([]);
  answers = true;
  await look.look();
  expect(sent).toHaveLength(95);
});

test("gz and zip are read once; what is no log is left alone, once said", async () => {
  const look = watched();
  writeFileSync(file("old.csv.gz"), gzipSync(HEAD + rows(0, 50)));
  writeFileSync(file("older.zip"), zipSync({ "a/older.csv": strToU8(HEAD + rows(60, 90)) }));
  writeFileSync(file("picture.csv"), Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 1, 2, 3, 0, 0]));
  for (let i = 0; i < 3; i++) await look.look();
  expect(sent).toHaveLength(80);
  expect(said.filter((t) => t.includes("picture.csv"))).toHaveLength(1);
});

test("dates that can be read two ways are not guessed", async () => {
  const text =
    "time,A in (°C),A out (°C)\n" +
    Array.from({ length: 90 }, (_, i) => `04/05/2026 10:${String(i % 60).padStart(2, "0")}:00,12,38\n`).join("");
  writeFileSync(file("bench.csv"), text);
  await watched().look();
  expect(sent).toEqual([]);
  expect(said.join()).toMatch(/two ways: say dmy, mdy or ymd/);
  await watched("dmy").look();
  expect(new Date(sent[0].atMs!).getUTCMonth()).toBe(4);
});

test("a file begun anew is followed anew", async () => {
  const look = watched();
  writeFileSync(file("bench.csv"), HEAD + rows(0, 100));
  await look.look();
  writeFileSync(file("bench.csv"), HEAD + rows(100, 160));
  await look.look();
  expect(sent).toHaveLength(160);
});

describe("a log whose header is written again", () => {
  const swapped = (i: number) => {
    const [time, a, b] = row(i).trim().split(",");
    return `${time},${b},${a}\n`;
  };
  test("in another order counts by it from there on; the same again changes nothing", async () => {
    const other = "time,A out (°C),A in (°C)\n" + Array.from({ length: 60 }, (_, i) => swapped(40 + i)).join("");
    writeFileSync(file("bench.csv"), HEAD + rows(0, 20) + HEAD + rows(20, 40) + other);
    await watched().look();
    expect(sent).toHaveLength(100);
    for (const { values } of sent) {
      const read = Object.fromEntries(values);
      expect(read["A out (°C)"] - read["A in (°C)"]).toBeCloseTo(26, 9);
    }
    expect(said).toEqual([]);
  });

  test("without its time column is not followed any further, and named", async () => {
    writeFileSync(file("bench.csv"), HEAD + rows(0, 20) + "stamp,A in (°C),A out (°C)\n" + rows(20, 40));
    await watched().look();
    expect(said.join()).toMatch(/row 22 is a new header, and none of its columns is called time/);
    expect(sent.every((f) => f.atMs! < Date.UTC(2026, 9, 6, 8, 20))).toBe(true);
  });

  test("with a name twice keeps both columns, the later by its place", async () => {
    writeFileSync(file("bench.csv"), "time,T,T\n" + rows(0, 20));
    await watched().look();
    expect(sent[3].values).toEqual([
      ["T", 12.03],
      ["T (column 3)", 38.03],
    ]);
  });
});

describe("two logs of one folder", () => {
  test("with like columns and rows between each other's are two loggers: the second is not mixed in, and named", async () => {
    const late = rows(0, 60).replaceAll(":00,", ":30,");
    writeFileSync(file("box1.csv"), HEAD + rows(0, 60));
    writeFileSync(file("box2.csv"), HEAD + late);
    await watched().look();
    expect(sent).toHaveLength(60);
    expect(said).toEqual([
      expect.stringMatching(/box2.csv is not followed: “A in \(°C\)” was read from box1.csv at the same time/),
    ]);
  });

  test("of which one goes on where the other ended, or repeats it, are one logger's", async () => {
    writeFileSync(file("log001.csv"), HEAD + rows(0, 60));
    writeFileSync(file("log002.csv"), HEAD + rows(60, 120));
    writeFileSync(file("whole.csv"), HEAD + rows(0, 200));
    await watched().look();
    expect(said).toEqual([]);
    expect(new Set(sent.map((f) => f.atMs)).size).toBe(200);
  });

  test("with columns of their own are both followed", async () => {
    writeFileSync(file("a.csv"), HEAD + rows(0, 30));
    writeFileSync(file("b.csv"), HEAD.replaceAll("A ", "B ") + rows(0, 30));
    await watched().look();
    expect(sent).toHaveLength(60);
  });
});

test("a folder named like a log, a link that leads nowhere and a pipe keep nobody from the others, each said once", async () => {
  mkdirSync(file("a.csv"));
  symlinkSync(file("gone"), file("b.csv"));
  execFileSync("mkfifo", [file("c.csv")]);
  writeFileSync(file("d.csv"), HEAD + rows(0, 30));
  const look = watched();
  for (let i = 0; i < 3; i++) await look.look();
  expect(sent).toHaveLength(30);
  expect(said.map((t) => t.slice(0, 5))).toEqual(["a.csv", "b.csv", "c.csv"]);
});

test.each([
  ["longer than before", 140],
  ["as long as before", 100],
  ["shorter than before", 60],
])("a file rewritten in place, %s, is read anew: no row of it is lost", async (_, until) => {
  const look = watched();
  writeFileSync(file("bench.csv"), HEAD + rows(0, 100));
  await look.look();
  const other = rows(200, 200 + until);
  writeFileSync(file("bench.csv"), HEAD + other);
  utimesSync(file("bench.csv"), new Date(), new Date(Date.now() + 5000));
  await look.look();
  expect(sent.slice(100).map((f) => f.values[0][1])).toEqual(
    Array.from({ length: until }, (_, i) => 12 + (200 + i) / 100),
  );
});

test("UTF-16 inside a gz is read", async () => {
  writeFileSync(file("old.csv.gz"), gzipSync(Buffer.from(`\ufeff${HEAD}${rows(0, 40)}`, "utf16le")));
  await watched().look();
  expect(sent).toHaveLength(40);
});
