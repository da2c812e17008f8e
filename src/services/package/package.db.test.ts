import { strToU8, unzipSync, zipSync, type Zippable } from "fflate";
import type { Knex } from "knex";
import { freshDatabase } from "../../../scripts/testing/database";
import { demoDatabase } from "../../../scripts/testing/demo";
import { keepFile } from "../../../scripts/testing/twoBoxes";
import { experimentResults } from "../judge/results";
import { openPackage, type PackageEnd } from "./openPackage";
import { writePackage } from "./write";

let from: Knex;
let to: Knex;
const packed = new Map<number, Uint8Array>();
const names = new Map<number, string>();
beforeAll(async () => {
  from = await demoDatabase("package_from");
  to = await freshDatabase("package_to");
  for (const { id, name } of await from("experiment").select("id", "name")) {
    const pieces: Uint8Array[] = [];
    for await (const piece of (await writePackage(from, id, await experimentResults(from, id)))!) pieces.push(piece);
    packed.set(id, Buffer.concat(pieces));
    names.set(id, name);
  }
}, 240_000);
afterAll(async () => {
  await from.destroy();
  await to.destroy();
});

const open = async (bytes: Uint8Array, knex = to): Promise<PackageEnd> =>
  openPackage(knex, (await keepFile(knex, "package.zip", bytes)).id);
const count = async (table: string) => Number((await to(table).count({ n: "*" }).first())!.n);

test("every demo experiment goes out, and comes in elsewhere with the same results to the last digit", async () => {
  expect(packed.size).toBeGreaterThan(4);
  for (const [id, bytes] of packed) {
    const opened = await open(bytes);
    if (!opened.ok) throw new Error(`${names.get(id)}: ${opened.error}`);
    expect({ name: opened.name, same: opened.same }).toEqual({ name: names.get(id), same: true });
    const there = (await experimentResults(to, opened.experimentId))!;
    expect(there).toEqual((await experimentResults(from, id))!);
  }
}, 240_000);

describe("a package", () => {
  const smallest = () =>
    [...packed.values()].filter((b) => Buffer.from(b).includes("data/run-")).sort((a, b) => a.length - b.length)[0];
  const first = () => unzipSync(smallest());
  const described = () => JSON.parse(Buffer.from(first()["experiment.json"]).toString()) as Record<string, never>;

  test("is a Data Package: plain tables with their schema, the raw bytes, the results", () => {
    const files = first();
    const descriptor = JSON.parse(Buffer.from(files["datapackage.json"]).toString()) as {
      resources: { path: string; schema: { fields: { name: string }[] } }[];
    };
    for (const { path, schema } of descriptor.resources) {
      const [header, row] = Buffer.from(files[path]).toString().split("\n");
      expect(header.split(",")).toEqual(schema.fields.map((f) => f.name));
      expect(row.split(",")).toHaveLength(schema.fields.length);
    }
    expect(Object.keys(files).some((f) => f.startsWith("raw/"))).toBe(true);
    expect(Buffer.from(files["results.json"]).toString()).toContain("fingerprint");
  });

  test("opened twice is two experiments; a reading changed by its last digit is another result", async () => {
    const before = await count("experiment");
    const second = await open(smallest());
    if (!second.ok) throw new Error(second.error);
    // Told apart by its name, which is no result.
    expect(second.name).toMatch(/ \(\d+\)$/);
    expect(second.name).not.toBe(second.packed);
    expect(second.same).toBe(true);
    expect(await count("experiment")).toBe(before + 1);
    const files = first();
    const [path] = Object.keys(files).filter((f) => f.startsWith("data/"));
    const lines = Buffer.from(files[path]).toString().split("\n");
    files[path] = strToU8(
      lines
        .map((l, i) => (i > 0 && l ? l.replace(/^([^,]*),(-?[\d.]+)/, (_, t, v) => `${t},${Number(v) + 0.5}`) : l))
        .join("\n"),
    );
    expect(await open(zipSync(files))).toMatchObject({ ok: true, same: false });
  }, 60_000);

  const hostile: [string, () => Zippable, RegExp][] = [
    ["climbs out", () => ({ ...first(), "../../etc/passwd": strToU8("x") }), /climbs out/],
    ["begins at the root", () => ({ ...first(), "/data/x.csv": strToU8("x") }), /root/],
    ["holds a program", () => ({ ...first(), "run.sh": strToU8("x") }), /belongs to no package/],
    [
      "is a bomb",
      () => ({ "experiment.json": strToU8("{}"), "data/bomb.csv": new Uint8Array(80_000_000) }),
      /times its size/,
    ],
    [
      "holds too much",
      () => Object.fromEntries(Array.from({ length: 2100 }, (_, i) => [`raw/${i}`, strToU8("x")])),
      /more than 2000/,
    ],
    ["says nothing", () => ({ "results.json": strToU8("{}") }), /no experiment\.json/],
    ["is no JSON", () => ({ "experiment.json": strToU8("{") }), /not JSON/],
    ["is of another kind", () => ({ "experiment.json": strToU8('{"bravel":99}') }), /experiment\.json, bravel/],
    [
      "names what it has not",
      () => {
        const files = first();
        delete files[Object.keys(files).find((f) => f.startsWith("data/"))!];
        return files;
      },
      /does not hold/,
    ],
    [
      "has words for numbers",
      () => {
        const files = first();
        const path = Object.keys(files).find((f) => f.startsWith("data/"))!;
        const lines = Buffer.from(files[path]).toString().split("\n");
        lines[5] = lines[5].replace(/,[^,]*/, ",=cmd()");
        return { ...files, [path]: strToU8(lines.join("\n")) };
      },
      /line 6: “=cmd\(\)” is no number/,
    ],
    [
      "goes back in time",
      () => {
        const files = first();
        const path = Object.keys(files).find((f) => f.startsWith("data/"))!;
        const lines = Buffer.from(files[path]).toString().split("\n");
        [lines[3], lines[4]] = [lines[4], lines[3]];
        return { ...files, [path]: strToU8(lines.join("\n")) };
      },
      /not after the line before/,
    ],
    [
      "has a lane with a script for a name",
      () => ({
        ...first(),
        "experiment.json": strToU8(JSON.stringify({ ...described(), lanes: [{ letter: "<b>" }] })),
      }),
      /lanes 0 letter/,
    ],
  ];
  test.each(hostile)(
    "that %s is refused with its reason, and leaves nothing",
    async (_, make, reason) => {
      const all = () => Promise.all(["experiment", "run", "stream", "raw_file"].map(count));
      const before = await all();
      const end = await open(zipSync(make(), { level: 1 }));
      expect(end).toMatchObject({ ok: false, error: expect.stringMatching(reason) });
      expect(await all()).toEqual(before);
    },
    60_000,
  );

  test("that is cut, or no zip at all, says so", async () => {
    const whole = smallest();
    for (const bytes of [whole.slice(0, whole.length / 2), Buffer.from("time,A in\n1,2\n"), whole.slice(100)])
      expect(await open(bytes)).toMatchObject({ ok: false });
  });
});
