import { createDatabase } from "../../src/data/database";
import { compactStream } from "../../src/data/reading/compact";
import { appendFrames } from "../../src/data/reading/tail";

/** A device that sends on and on, each message until it is acknowledged, and says which were: for tests that kill what it sends to. */
const [url, stream, from] = process.argv.slice(2);
const knex = createDatabase(url, { limited: true });
const streamId = Number(stream);
const T0 = Date.UTC(2026, 9, 5);
const EACH = 7;

for (let i = Number(from); ; i++) {
  const frames = Array.from({ length: EACH }, (_, k) => ({
    atMs: T0 + (i * EACH + k) * 1000,
    values: [
      ["a", i * EACH + k],
      ["b", -(i * EACH + k)],
    ] as const,
  }));
  for (;;) {
    try {
      await appendFrames(knex, streamId, frames);
      break;
    } catch {
      await new Promise((r) => setTimeout(r, 100));
    }
  }
  console.log(`ack ${i}`);
  // Beside the messages, as the application does.
  if (i % 40 === 39) void compactStream(knex, streamId, 20).catch(() => undefined);
}
