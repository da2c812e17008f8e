/**
 * Live readings on real sizes: `npx tsx bench/live.ts` with BRAVEL_DATABASE_URL naming an empty MariaDB database.
 * Durable frames a second, one by one and batched; a whole-run read against the same bytes from a file; one view of the live bench, and
 * of one a hundred times asked; everything in one run, as ratios where a ratio tells more.
 */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createDatabase } from "../src/data/database";
import { migrate } from "../src/data/migrate";
import { insertDevice } from "../src/data/device/devices";
import { compactStream } from "../src/data/reading/compact";
import { readChannels } from "../src/data/reading/readings";
import { insertSite } from "../src/data/site/sites";
import { ingest } from "../src/services/ingest/ingest";
import { LiveRig } from "../src/core/rig/liveRig";
import { findRig } from "../src/data/rig/rigs";
import { appendFrames } from "../src/data/reading/tail";
import { liveFeed } from "../src/services/live/feed";
import { liveView } from "../src/services/live/view";
import { BOXES, loadLive } from "../demo/live";
import { SITE } from "../demo/tansyRidge";

const url = process.env.BRAVEL_DATABASE_URL;
if (!url) throw new Error("set BRAVEL_DATABASE_URL to an empty database");
const knex = createDatabase(url);
const CHANNELS = 16;
const T0 = Date.UTC(2026, 9, 1);
const names = Array.from({ length: CHANNELS }, (_, c) => `channel ${c}`);
const frame = (i: number) => ({
  time: T0 + i * 1000,
  values: Object.fromEntries(names.map((n, c) => [n, Math.sin(i / 50 + c) * 20 + 30])),
});
const seconds = async (work: () => Promise<unknown>): Promise<number> => {
  const start = performance.now();
  await work();
  return (performance.now() - start) / 1000;
};
const say = (what: string, value: string) => console.log(`${what.padEnd(66)} ${value}`);

await migrate(knex);
const { token, streamId } = await insertDevice(knex, { name: "bench", kind: "logger" });
let sent = 0;
const send = async (n: number) => {
  const frames = Array.from({ length: n }, () => frame(sent++));
  const { status } = await ingest(
    knex,
    {
      authorization: `Bearer ${token}`,
      contentType: "application/json",
      precision: null,
      body: JSON.stringify({ frames }),
      from: "bench",
    },
    T0 + 1e9,
  );
  if (status !== 200) throw new Error(`refused with ${status}`);
};

const single = await seconds(async () => {
  for (let i = 0; i < 1000; i++) await send(1);
});
say("frames a second, one by one, each durable (aim 200)", (1000 / single).toFixed(0));
const batched = await seconds(async () => {
  for (let i = 0; i < 40; i++) await send(500);
});
say("frames a second in messages of 500, each durable (aim 1,000)", (20_000 / batched).toFixed(0));
const WHOLE = 100_000;
const fill = await seconds(async () => {
  while (sent < WHOLE) {
    await send(1000);
    if (sent % 10_000 < 1000) while (await compactStream(knex, streamId));
  }
});
say(`frames a second over ${WHOLE.toLocaleString("en")}, compacted on the way`, ((WHOLE - 21_000) / fill).toFixed(0));
while (await compactStream(knex, streamId));

const all = Array.from({ length: CHANNELS + 1 }, (_, i) => i);
const folder = mkdtempSync(join(tmpdir(), "bravel-bench-"));
const file = join(folder, "raw");
writeFileSync(file, Buffer.alloc(WHOLE * (CHANNELS + 1) * 8, 1));
const span = { fromMs: 0, untilMs: null };
await readChannels(knex, streamId, all, span);
const fromFile = await seconds(async () => new Float64Array(new Uint8Array(readFileSync(file)).buffer));
const fromTables = await seconds(() => readChannels(knex, streamId, all, span));
rmSync(folder, { recursive: true });
say("whole stream from blocks and tail ÷ the same bytes from a file (aim 10)", (fromTables / fromFile).toFixed(1));
const hour = { fromMs: T0 + (WHOLE - 3600) * 1000, untilMs: null };
say("its last hour, ms", (1000 * (await seconds(() => readChannels(knex, streamId, all, hour)))).toFixed(0));

const EIGHT = "ABCDEFGH".split("").map((letter, i) => ({
  ...BOXES[i % BOXES.length],
  letter,
  variantKey: letter,
  variantName: `Box ${letter}`,
}));
await loadLive(knex, await insertSite(knex, SITE), EIGHT);
const { id } = await knex("experiment").first("id");
await liveView(knex, id, Date.now());
const views = await seconds(async () => {
  for (let i = 0; i < 20; i++) await liveView(knex, id, Date.now());
});
say("one view of a live bench of 8 lanes, ms", ((1000 * views) / 20).toFixed(0));

/** Ten viewers of eight lanes, a reading every second: how long each waits for it. */
const live = await knex("run").whereNotNull("started_at").first("id");
const { stream_id: liveStream } = await knex("run_stream").where({ run_id: live.id }).first("stream_id");
const stop = new AbortController();
const sentAt = new Map<number, number>();
const waits: number[] = [];
const viewers = Array.from({ length: 10 }, async () => {
  const reader = liveFeed(
    knex,
    id,
    () => liveView(knex, id, Date.now()),
    stop.signal,
    async () => true,
  ).getReader();
  let newest = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const data = /data: (\{.*\})/.exec(new TextDecoder().decode(value))?.[1];
    const seen = data ? (JSON.parse(data) as { newestMs: number }).newestMs : 0;
    if (seen > newest && sentAt.has(seen)) waits.push(performance.now() - sentAt.get(seen)!);
    newest = Math.max(newest, seen);
  }
});
const { settings } = (await findRig(knex))!;
const rig = new LiveRig(settings, (await liveView(knex, id, Date.now()))!.nowMs);
for (let i = 0; i < 30; i++) {
  const next = rig.step();
  sentAt.set(next.atMs, performance.now());
  await appendFrames(knex, liveStream, [next]);
  await new Promise((done) => setTimeout(done, 1000));
}
stop.abort();
await Promise.all(viewers);
waits.sort((a, b) => a - b);
say(
  "8 lanes × 10 viewers, a reading each second: its wait, median and longest, ms (aim 1,000)",
  `${waits[waits.length >> 1].toFixed(0)}, ${waits.at(-1)!.toFixed(0)} of ${waits.length}`,
);
await knex.destroy();
