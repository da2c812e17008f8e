import type { Knex } from "knex";
import { freshDatabase } from "../../../scripts/testing/database";
import { importTwoBoxes } from "../../../scripts/testing/twoBoxes";
import { findExperiment } from "../experiment/experiments";
import { BLOCK, channelRanges, readChannels, writeBlocks } from "./readings";

let knex: Knex;
/** A stream that is there and has room for more channels. */
let streamId: number;
beforeAll(async () => {
  knex = await freshDatabase("readings");
  const id = await importTwoBoxes(knex);
  streamId = (await findExperiment(knex, id))!.runs[0].streams[0].id;
  await knex("reading_block").delete();
}, 90000);
afterAll(() => knex.destroy());

const write = (times: Float64Array, values: Float64Array, onProgress: (share: number) => void = () => undefined) =>
  knex.transaction((trx) => writeBlocks(trx, streamId, times, [{ channelNo: 1, values }], onProgress));
const clear = () => knex("reading_block").delete();
afterEach(clear);

const series = (n: number) => Float64Array.from({ length: n }, (_, i) => 20 + Math.sin(i / 7));
const times = (n: number) => Float64Array.from({ length: n }, (_, i) => 1.79e12 + i * 1000);

describe("blocks of readings", () => {
  test.each([1, BLOCK - 1, BLOCK, BLOCK + 1, 3 * BLOCK + 17])("%s readings come back bit for bit", async (n) => {
    await write(times(n), series(n));
    const back = await readChannels(knex, streamId, [0, 1]);
    expect(back.get(0)).toEqual(times(n));
    expect(back.get(1)).toEqual(series(n));
    expect(Number((await knex("reading_block").where({ channel_no: 1 }).count({ n: "*" }))[0].n)).toBe(
      Math.ceil(n / BLOCK),
    );
  });

  test("NaN, infinities, negative zero and the smallest number survive", async () => {
    const odd = Float64Array.of(Number.NaN, -0, Number.MIN_VALUE, -1e308, 0.1 + 0.2);
    await write(times(odd.length), odd);
    const back = (await readChannels(knex, streamId, [1])).get(1)!;
    expect([...back].map((v, i) => Object.is(v, odd[i]))).toEqual([...odd].map(() => true));
  });

  test("their statistics leave out what was not measured, and tell it from zero", async () => {
    const values = series(BLOCK + 10);
    values[5] = Number.NaN;
    values[BLOCK + 2] = 99;
    await write(times(values.length), values);
    const [range] = await channelRanges(knex, streamId);
    expect(range).toMatchObject({ channelNo: 1, readings: BLOCK + 10, highest: 99 });
    expect(range.lowest).toBeCloseTo(19, 1);
    await clear();
    await write(times(3), new Float64Array(3).fill(Number.NaN));
    expect((await channelRanges(knex, streamId))[0]).toMatchObject({ lowest: null, highest: null, readings: 3 });
  });

  test("progress grows to the whole, and a throw from it leaves not a block", async () => {
    const shares: number[] = [];
    await write(times(3 * BLOCK), series(3 * BLOCK), (s) => shares.push(s));
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBe(1);
    await clear();
    const stopped = write(times(3 * BLOCK), series(3 * BLOCK), (s) => {
      if (s > 0.5) throw new Error("enough");
    });
    await expect(stopped).rejects.toThrow("enough");
    expect(await knex("reading_block").count({ n: "*" })).toEqual([{ n: 0 }]);
  });

  test("no readings are no blocks; unknown channels are simply not there", async () => {
    await write(new Float64Array(0), new Float64Array(0));
    expect((await readChannels(knex, streamId, [0, 1, 9])).size).toBe(0);
    expect(await channelRanges(knex, streamId)).toEqual([]);
  });
});
