import { Readable } from "node:stream";
import type { Knex } from "knex";
import { findFile, readFileChunks, storeFile } from "@/data/file/files";
import { inspectFile } from "@/services/imports";
import { freshDatabase } from "../../../scripts/testing/database";
import { keepFile, LANES } from "../../../scripts/testing/twoBoxes";

let knex: Knex;
const keep = (name: string, content: string | Uint8Array, limit?: number) => keepFile(knex, name, content, limit);

beforeAll(async () => {
  knex = await freshDatabase("files");
}, 60000);
afterAll(() => knex.destroy());

describe("files", () => {
  test("come back byte for byte, whatever their size", async () => {
    for (const size of [1, 1 << 20, (1 << 20) + 17, 3_500_000]) {
      const bytes = Buffer.alloc(size, "0123456789abcdef\n");
      const file = await storeFile(
        knex,
        "x.csv",
        Readable.from([bytes.subarray(0, size >> 1), bytes.subarray(size >> 1)]),
        1 << 24,
      );
      const parts: Buffer[] = [];
      for await (const chunk of readFileChunks(knex, file.id)) parts.push(chunk);
      expect(Buffer.concat(parts).equals(bytes)).toBe(true);
      expect((await findFile(knex, file.id))!.bytes).toBe(size);
    }
  });
  test("one too large leaves nothing", async () => {
    const before = await knex("raw_file").count({ n: "*" });
    await expect(keep("big.csv", "x".repeat(5000), 4000)).rejects.toThrow(RangeError);
    expect(await knex("raw_file").count({ n: "*" })).toEqual(before);
  });
  test.each([
    ["empty.csv", "", "empty"],
    ["picture.csv", Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0, 0]), "binary"],
    ["head.csv", "Time;A in;A out\n", "headerOnly"],
    ["line.csv", "7".repeat(300000), "longLine"],
  ])("%s is refused with its reason", async (name, content, kind) => {
    const inspection = await inspectFile(knex, (await keep(name, content)).id);
    expect(inspection).toMatchObject({ layout: null, problem: { kind } });
  });
  test("UTF-16 with a byte-order mark reads like any other", async () => {
    const text = `\uFEFF${LANES.slice(0, 4000)}`;
    const inspection = await inspectFile(knex, (await keep("wide.csv", Buffer.from(text, "utf16le"))).id);
    expect(inspection).toMatchObject({ encoding: "utf-16le", layout: { delimiter: ";", timeColumns: [0] } });
    expect(inspection!.layout!.columns.filter((c) => c.kind === "inlet").map((c) => c.lane)).toEqual(["A", "B"]);
  });
});
