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
import { liveView } from "../src/services/live/view";
import { loadLive } from "../demo/live";
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

await loadLive(knex, await insertSite(knex, SITE));
const { id } = await knex("experiment").first("id");
await liveView(knex, id, Date.now());
const views = await seconds(async () => {
  for (let i = 0; i < 20; i++) await liveView(knex, id, Date.now());
});
say("one view of a live bench of 3 lanes, ms", ((1000 * views) / 20).toFixed(0));
await knex.destroy();
