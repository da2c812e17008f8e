import { Readable } from "node:stream";
import { findFile, readFileChunks, StalledUpload, storeFile } from "@/data/file/files";
import { inspectFile } from "@/services/import/imports";
import { testDatabase } from "../../../scripts/testing/database";
import { keepFile, LANES } from "../../../scripts/testing/twoBoxes";

const knex = testDatabase("files");
const keep = (name: string, content: string | Uint8Array, limit?: number) => keepFile(knex, name, content, limit);

describe("files", () => {
  test("come back byte for byte, whatever their size", async () => {
    for (const size of [1, 1 << 20, (1 << 20) + 17, 3_500_000]) {
      const bytes = Buffer.alloc(size, "0123456789abcdef\n");
      const file = await storeFile(
        knex,
        "x.csv",
        Readable.from([bytes.subarray(0, size >> 1), bytes.subarray(size >> 1)]),
        { bytes: 1 << 24, stallMs: 10_000 },
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
  test("nine uploads that stall hold nobody up; each is given up with its reason and leaves nothing", async () => {
    const before = await knex("raw_file").count({ n: "*" });
    let arrived = 0;
    async function* stalling() {
      yield Buffer.alloc(1 << 20, "7;");
      arrived++;
      await new Promise(() => undefined);
    }
    const uploads = Array.from({ length: 9 }, () =>
      storeFile(knex, "slow.csv", stalling(), { bytes: 1 << 24, stallMs: 4000 }).catch((e: unknown) => e),
    );
    while (arrived < 9) await new Promise((r) => setTimeout(r, 20));
    // The pool has eight connections: none is held while bytes are awaited, and nobody sees what has not arrived.
    const { pool } = knex.client as { pool: { numUsed(): number } };
    let givenUp = false;
    void Promise.all(uploads).then(() => (givenUp = true));
    while (pool.numUsed() > 0) await new Promise((r) => setTimeout(r, 20));
    expect(givenUp).toBe(false);
    const [half] = await knex("raw_file").where({ name: "slow.csv" }).pluck("id");
    expect(await findFile(knex, half)).toBeUndefined();
    expect((await Promise.all(uploads)).every((e) => e instanceof StalledUpload && e.seconds === 4)).toBe(true);
    expect(await knex("raw_file").count({ n: "*" })).toEqual(before);
  }, 30000);
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
