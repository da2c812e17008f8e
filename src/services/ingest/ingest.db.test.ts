import { EXAMPLES, openApi } from "./openapi";
import { testDatabase } from "../../../scripts/testing/database";
import { insertDevice, listDevices, renewToken, revokeDevice } from "../../data/device/devices";
import { readChannels } from "../../data/reading/readings";
import { addDevice, newToken, revoke, settleHeldFrames } from "../device/commands";
import { sendingExamples } from "../../features/devices/examples";
import { ingest } from "./ingest";
import type { IngestAnswer } from "./take";
import { Buckets } from "./rate";

const knex = testDatabase("ingest");

const NOW = Date.UTC(2026, 9, 6, 12);
let sender = 0;
const send = (token: string, body: string, type = "application/json", precision: string | null = null) =>
  ingest(knex, { authorization: `Bearer ${token}`, contentType: type, precision, body, from: `test ${sender++}` }, NOW);
const device = () => insertDevice(knex, { name: `logger ${Math.random()}`, kind: "logger" });

test("good lines are kept, bad ones named, and the answer says the time", async () => {
  const { token, streamId } = await device();
  const { status, answer } = await send(
    token,
    JSON.stringify([{ time: NOW, values: { a: 1 } }, { time: NOW }, { time: NOW + 1, values: { b: 2 } }]),
  );
  expect(status).toBe(200);
  expect(answer).toMatchObject({ accepted: 2, repeated: 0, rejectedCount: 1, rejected: [{ line: 2 }], time: NOW });
  const read = await readChannels(knex, streamId, [0, 1, 2], { fromMs: 0, untilMs: null });
  expect([...read.get(0)!]).toEqual([NOW, NOW + 1]);
  const [row] = (await listDevices(knex)).filter((d) => d.streamId === streamId);
  expect(row).toMatchObject({ frames: 2, seenAt: NOW, endMs: NOW + 1, channels: ["a", "b"] });
  expect(row.lastFault).toContain("line 2");
});

test("five frames of a device without a clock in one message are five, the last when the message came", async () => {
  const { token, streamId } = await device();
  const body = [1, 2, 3, 4, 5].map((a) => ({ time: "now", values: { a } }));
  expect((await send(token, JSON.stringify(body))).answer).toMatchObject({ accepted: 5, repeated: 0, second: 0 });
  const read = await readChannels(knex, streamId, [0, 1], { fromMs: 0, untilMs: null });
  expect([...read.get(1)!]).toEqual([1, 2, 3, 4, 5]);
  expect(read.get(0)!.at(-1)).toBe(NOW);
});

test("another reading for an instant that has one is kept beside, named in the answer and under Devices", async () => {
  const { token, streamId } = await device();
  const say = (a: number) => send(token, JSON.stringify({ time: NOW, values: { a } }));
  expect((await say(1)).answer).toMatchObject({ accepted: 1, second: 0 });
  expect((await say(2)).answer).toMatchObject({ accepted: 1, repeated: 1, second: 1 });
  const read = await readChannels(knex, streamId, [0, 1], { fromMs: 0, untilMs: null });
  expect([...read.get(1)!]).toEqual([1]);
  expect((await listDevices(knex)).find((d) => d.streamId === streamId)).toMatchObject({ frames: 1, second: 1 });
});

test("the description's examples, and those to be copied, are taken as they stand", async () => {
  const { token } = await device();
  for (const example of [EXAMPLES.json, EXAMPLES.one, EXAMPLES.clockless])
    expect((await send(token, JSON.stringify(example))).answer).toMatchObject({ rejectedCount: 0 });
  expect((await send(token, EXAMPLES.lines, "text/plain")).answer).toMatchObject({ accepted: 2, rejectedCount: 0 });
  // Lines of the copied programs with what they put in filled out.
  const [shell, lines] = sendingExamples("http://127.0.0.1", token);
  const body = /-d '(.*)'$/s.exec(shell.text)![1].replace(/'"\$\(date[^)]*\)"'/, "2026-10-06T11:00:00Z");
  expect((await send(token, body)).answer).toMatchObject({ accepted: 1, rejectedCount: 0 });
  const line = /--data-binary "(.*)"$/s.exec(lines.text)![1].replace(/\$\(date \+%s\)/, String(NOW / 1000));
  expect((await send(token, line, "text/plain", "s")).answer).toMatchObject({ accepted: 1, rejectedCount: 0 });
  const { paths } = openApi("http://127.0.0.1");
  expect(Object.keys(paths["/api/readings"].post.responses)).toEqual(
    expect.arrayContaining(["200", "400", "401", "413", "415", "422", "429", "503"]),
  );
});

test.each([
  ["no JSON", "{", "application/json", null, 400, /not JSON/],
  [
    "an object of names without end",
    `{${Array.from({ length: 5000 }, (_, i) => `"n${i}":1`).join(",")}}`,
    ...["application/json", null, 400, /more than 4096 names/],
  ],
  ["nested without end", `${"[".repeat(100)}${"]".repeat(100)}`, "application/json", null, 400, /more than 64 deep/],
  ["a name twice", '{"time":1,"values":{"a":1,"b":2,"a":3}}', "application/json", null, 400, /“a” stands twice/],
  ["a NaN", '[{"time":1,"values":{"a":NaN}}]', "application/json", null, 400, /holds NaN.*send null/],
  ["another type", "a", "text/csv", null, 415, /application\/json, or text\/plain/],
  ["an unknown precision", "b a=1 1", "text/plain", "min", 400, /ns, us, ms or s/],
  ["too large", "x".repeat(8 * 1024 * 1024 + 1), "text/plain", null, 413, /8 MB/],
] as const)("%s is refused with the way out", async (_name, body, type, precision, status, words) => {
  const { token } = await device();
  const refused = await send(token, body, type, precision);
  expect(refused.status).toBe(status);
  const { error } = refused.answer as { error: string };
  expect(error).toMatch(words);
  // Whoever looks at Devices sees that it talks in vain.
  const noted = (await listDevices(knex)).find((d) => d.tokenEnd === token.slice(-4))!;
  expect(noted).toMatchObject({ lastFault: error, heardAt: null });
});

test("nothing that can be taken is 422, so that a device does not send it for ever", async () => {
  const { token } = await device();
  const { status, answer } = await send(token, JSON.stringify({ time: 1e10, values: { a: 1 } }));
  expect(status).toBe(422);
  expect((answer as IngestAnswer).accepted).toBe(0);
});

/** Three frames ten seconds apart by a clock that began at the turn of 2010. */
const RESET = Date.UTC(2010, 0, 1);
const stamped = [0, 10, 20].map((s) => ({ time: RESET + s * 1000, values: { a: s } }));

test.each([
  ["arrived", [NOW - 20_000, NOW - 10_000, NOW]],
  ["stamped", stamped.map((f) => f.time)],
  ["left out", []],
] as const)("readings of a clock that was reset are kept apart and asked about: %s", async (answer, times) => {
  const { id, token, streamId } = await device();
  const good = { time: NOW - 60_000, values: { a: 9 } };
  const sent = await send(token, JSON.stringify([good, ...stamped]));
  expect(sent).toMatchObject({ status: 200, answer: { accepted: 4, held: 3, rejectedCount: 0 } });
  // Sent again because its answer got lost.
  expect((await send(token, JSON.stringify(stamped))).answer).toMatchObject({ held: 3 });
  const shown = async () => (await listDevices(knex)).find((d) => d.id === id)!;
  expect(await shown()).toMatchObject({
    frames: 1,
    startMs: good.time,
    held: { frames: 3, firstMs: RESET, lastMs: RESET + 20_000, firstArrivedMs: NOW - 20_000, lastArrivedMs: NOW },
  });
  expect(await settleHeldFrames.run(knex, id, answer)).toMatchObject({ ok: true, settled: 3 });
  expect(await shown()).toMatchObject({ frames: 1 + times.length, held: null });
  const kept = await knex("tail_frame").where({ stream_id: streamId }).orderBy("t").pluck("t");
  expect(kept.map(Number)).toEqual([...times, good.time].sort((a, b) => a - b));
});

test("a large message of nothing but faults is counted, named to fifty, and answered", async () => {
  const { token } = await device();
  const { status, answer } = await send(token, "bench in=x\n".repeat(100_000), "text/plain", "s");
  expect(status).toBe(422);
  expect(answer).toMatchObject({ accepted: 0, rejectedCount: 100_000 });
  expect((answer as IngestAnswer).rejected).toHaveLength(50);
});

test("tokens: unknown, revoked, given anew; the database holds no token", async () => {
  const { id, token } = await device();
  const good = JSON.stringify({ time: NOW, values: { a: 1 } });
  expect((await send("bravel_nobodys", good)).status).toBe(401);
  await revokeDevice(knex, id, true);
  expect((await send(token, good)).answer).toMatchObject({ error: expect.stringContaining("revoked") });
  const fresh = (await renewToken(knex, id))!;
  expect((await send(token, good)).status).toBe(401);
  expect((await send(fresh, good)).status).toBe(200);
  expect(JSON.stringify(await knex("device"))).not.toContain(fresh);
});

test("wrong tokens from one place are locked out; a device's own pace is not", async () => {
  const tries = await Promise.all(
    Array.from({ length: 25 }, () =>
      ingest(knex, { authorization: "Bearer guess", contentType: "", precision: null, body: "", from: "guesser" }, NOW),
    ),
  );
  expect(tries.map((t) => t.status)).toContain(429);
  expect(tries.find((t) => t.status === 429)!.waitMs).toBeGreaterThan(0);
  const buckets = new Buckets(500, 2000);
  const waits = Array.from({ length: 3000 }, (_, i) => buckets.take("device", NOW + i * 4));
  expect(waits.every((w) => w === 0)).toBe(true);
});

test("devices by command: added, renewed, revoked; a name is needed", async () => {
  const made = await addDevice.run(knex, { name: "new one", kind: "logger" });
  expect(made).toMatchObject({ ok: true, token: expect.stringMatching(/^bravel_[\w-]{32}$/) });
  expect(addDevice.input.safeParse([{ name: " ", kind: "logger" }]).success).toBe(false);
  if (!made.ok) return;
  expect(await newToken.run(knex, made.id)).toMatchObject({ ok: true });
  expect(await revoke.run(knex, made.id, true)).toMatchObject({ ok: true });
  expect(await revoke.run(knex, 9e8, true)).toMatchObject({ ok: false });
});
