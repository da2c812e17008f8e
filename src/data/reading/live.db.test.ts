import { testDatabase } from "../../../scripts/testing/database";
import { insertDevice } from "../device/devices";
import { compactStream, KEPT_IN_TAIL } from "./compact";
import { BLOCK, readChannels, spanExtent } from "./readings";
import { appendFrames, readTail, secondReadings, type TimedFrame } from "./tail";

const knex = testDatabase("live_readings");
let stream: number;
beforeEach(async () => {
  stream = (await insertDevice(knex, { name: `logger ${Math.random()}`, kind: "logger" })).streamId;
});

const T0 = Date.UTC(2026, 9, 5, 8);
const frames = (n: number, from = 0, stepMs = 1000): TimedFrame[] =>
  Array.from({ length: n }, (_, i) => ({
    atMs: T0 + (from + i) * stepMs,
    values: [
      ["A in", from + i],
      ["A out", 2 * (from + i)],
    ],
  }));
const whole = { fromMs: 0, untilMs: null };
const all = (span: { fromMs: number; untilMs: number | null } = { fromMs: 0, untilMs: null }) =>
  readChannels(knex, stream, [0, 1, 2], span);
const held = async () => Number((await knex("stream").where({ id: stream }).first("frames")).frames);

describe("frames of a device", () => {
  test("come back in the order of time, however they came, each once", async () => {
    const list = frames(50);
    await appendFrames(knex, stream, [...list.slice(30), ...list.slice(10, 20)]);
    await appendFrames(knex, stream, [...list.slice(0, 10), ...list.slice(15, 35)]);
    const read = await all();
    expect([...read.get(0)!]).toEqual(list.map((f) => f.atMs));
    expect([...read.get(2)!]).toEqual(list.map((_, i) => 2 * i));
    expect(await held()).toBe(50);
  });

  test("a message sent again changes nothing and says so", async () => {
    expect(await appendFrames(knex, stream, frames(5))).toMatchObject({ added: 5, repeated: 0, second: 0 });
    const version = () => knex("stream").where({ id: stream }).first("version");
    const before = await version();
    expect(await appendFrames(knex, stream, frames(5))).toMatchObject({ added: 0, repeated: 5, second: 0 });
    expect(await version()).toEqual(before);
  });

  test("another reading for an instant that has one never takes its place: it is kept beside, once, and counted", async () => {
    await appendFrames(knex, stream, frames(5));
    const other: TimedFrame = {
      atMs: T0 + 2000,
      values: [
        ["A in", 99],
        ["plate", 70],
      ],
    };
    for (let k = 0; k < 2; k++)
      expect(await appendFrames(knex, stream, [other], 1234)).toMatchObject({ added: 0, repeated: 1, second: 1 });
    const read = await readChannels(knex, stream, [0, 1, 2, 3], whole);
    expect([...read.get(1)!]).toEqual([0, 1, 2, 3, 4]);
    expect([...read.get(2)!]).toEqual([0, 2, 4, 6, 8]);
    // What the instant lacked is added to it.
    expect(read.get(3)![2]).toBe(70);
    expect(
      await knex("second_reading").where({ stream_id: stream }).select("t", "channel_no", "value", "kept_at"),
    ).toEqual([{ t: T0 + 2000, channel_no: 1, value: 99, kept_at: 1234 }]);
    expect(await secondReadings(knex, [stream])).toEqual(new Map([[stream, 1]]));
    // Two in one message are no better than two in two.
    const twice: TimedFrame[] = [3, 4].map((v) => ({ atMs: T0 + 9000, values: [["A in", v]] }));
    expect(await appendFrames(knex, stream, twice)).toMatchObject({ added: 1, second: 1 });
    expect([...(await all()).get(1)!].at(-1)).toBe(3);
    expect(await held()).toBe(6);
  });

  test("fields of one instant in two messages are one frame", async () => {
    await appendFrames(knex, stream, [{ atMs: T0, values: [["A in", 1]] }]);
    await appendFrames(knex, stream, [{ atMs: T0, values: [["B in", 7]] }]);
    const read = await all();
    expect([...read.get(1)!]).toEqual([1]);
    expect([...read.get(2)!]).toEqual([7]);
  });

  test("more than 64 channels: the first are kept, the others named", async () => {
    const values = Array.from({ length: 70 }, (_, i): [string, number] => [`ch ${i}`, i]);
    const { noRoom } = await appendFrames(knex, stream, [{ atMs: T0, values }]);
    expect(noRoom).toHaveLength(6);
    expect((await readTail(knex, stream, whole))[0].values).toHaveLength(64);
  });

  test("many at a time from several connections: none lost, none doubled", async () => {
    const parts = Array.from({ length: 12 }, (_, k) => frames(40, k * 20));
    await Promise.all(parts.map((p) => appendFrames(knex, stream, p)));
    expect([...(await all()).get(1)!]).toEqual(Array.from({ length: 260 }, (_, i) => i));
    expect(await held()).toBe(260);
  });
});

describe("compaction", () => {
  const fill = async (n: number) => {
    for (let i = 0; i < n; i += 1000) await appendFrames(knex, stream, frames(Math.min(1000, n - i), i));
  };
  const blocks = () => knex("reading_block").where({ stream_id: stream, channel_no: 0 }).orderBy("t_start");

  test("moves the older tail into blocks and changes no reading", async () => {
    await fill(3 * BLOCK + 50);
    const before = await all();
    expect(await compactStream(knex, stream)).toBe(3 * BLOCK + 50 - KEPT_IN_TAIL);
    expect(await all()).toEqual(before);
    expect((await blocks()).map((b: { n: number }) => b.n)).toEqual([BLOCK, BLOCK, BLOCK - 550]);
    expect(await held()).toBe(3 * BLOCK + 50);
    // The last block takes more while there is room.
    await appendFrames(knex, stream, frames(1000, 3 * BLOCK + 50));
    await compactStream(knex, stream);
    expect((await blocks()).map((b: { n: number }) => b.n)).toEqual([BLOCK, BLOCK, BLOCK, 450]);
    expect([...(await all()).get(1)!]).toEqual(Array.from({ length: 3 * BLOCK + 1050 }, (_, i) => i));
  }, 30000);

  test("late and repeated readings find their block; those behind it are not touched", async () => {
    const list = frames(3 * BLOCK);
    const late = list.filter((_, i) => i % 7 === 3 && i < BLOCK);
    const first = list.filter((f) => !late.includes(f));
    await appendFrames(knex, stream, first);
    await compactStream(knex, stream, 0);
    const untouched = await knex("reading_block")
      .where({ stream_id: stream })
      .where("t_start", ">", T0 + 2 * BLOCK * 1000);
    const again = [...late, { atMs: list[4].atMs, values: [["A in", -4]] } as TimedFrame, ...list.slice(-3)];
    expect(await appendFrames(knex, stream, again)).toMatchObject({ added: late.length, repeated: 4, second: 1 });
    // Counted right before anything is compacted, too: what lies in a block is not counted again.
    expect(await held()).toBe(3 * BLOCK);
    const expected = list.map((_, i) => i);
    expect([...(await all()).get(1)!]).toEqual(expected);
    await compactStream(knex, stream, 0);
    expect([...(await all()).get(1)!]).toEqual(expected);
    expect([...(await all()).get(2)!]).toEqual(list.map((_, i) => 2 * i));
    expect(await held()).toBe(3 * BLOCK);
    const now = await knex("reading_block")
      .where({ stream_id: stream })
      .where("t_start", ">", T0 + 2 * BLOCK * 1000);
    expect(now.length).toBe(untouched.length);
  }, 30000);

  test("older than everything, and a channel that began late", async () => {
    await appendFrames(knex, stream, frames(100, 1000));
    await compactStream(knex, stream, 0);
    await appendFrames(knex, stream, [
      ...frames(10),
      { atMs: T0 + 5000_000, values: [["plate", 80]] },
      { atMs: T0 + 1001_000, values: [["plate", 70]] },
    ]);
    await compactStream(knex, stream, 0);
    const read = await readChannels(knex, stream, [0, 1, 3], { fromMs: 0, untilMs: null });
    expect([...read.get(0)!].slice(0, 11)).toEqual([...frames(10), ...frames(1, 1000)].map((f) => f.atMs));
    expect([...read.get(3)!].filter((v) => !Number.isNaN(v))).toEqual([70, 80]);
    expect(await held()).toBe(111);
  });

  test("appends during compaction are neither lost nor doubled", async () => {
    await fill(3000);
    await Promise.all([
      compactStream(knex, stream, 0),
      ...Array.from({ length: 6 }, (_, k) => appendFrames(knex, stream, frames(100, 2950 + 50 * k))),
      compactStream(knex, stream, 0),
    ]);
    expect([...(await all()).get(1)!]).toEqual(Array.from({ length: 3300 }, (_, i) => i));
  }, 30000);
});

describe("a span of a stream", () => {
  test("begins and ends where it was said, across blocks and tail", async () => {
    await appendFrames(knex, stream, frames(2 * BLOCK + 300));
    await compactStream(knex, stream, 100);
    const span = { fromMs: T0 + 1500_000, untilMs: T0 + (2 * BLOCK + 250) * 1000 };
    const read = await all(span);
    expect(read.get(1)![0]).toBe(1500);
    expect(read.get(1)!.at(-1)).toBe(2 * BLOCK + 249);
    expect(await spanExtent(knex, stream, span)).toEqual({
      frames: 2 * BLOCK + 250 - 1500,
      startMs: span.fromMs,
      endMs: span.untilMs - 1000,
    });
    expect(await spanExtent(knex, stream, { fromMs: T0 - 5000, untilMs: T0 })).toBeNull();
  }, 30000);
});
