import { appendFileSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
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
