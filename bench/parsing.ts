/**
 * How the time to read a text grows with its length: twenty times the text, as a ratio to the short one.
 * About 20 is linear; 400 would be its square. Run: `npx tsx bench/parsing.ts`.
 */
import { guessTimeFormat, parseTimestamp } from "../src/core/log/timestamp";
import { sniffLog } from "../src/core/log/sniff";
import { isZone } from "../src/core/log/zone";
import { materialsFromCsv } from "../src/core/materials/csv";
import { parseNumber, parseQuantity } from "../src/core/quantity/parseQuantity";
import { parseClimateCsv } from "../src/core/site/climate";
import { parseCoordinates } from "../src/core/site/coordinates";
import { parseHorizon } from "../src/core/site/horizon";

const TEXTS: [string, (n: number) => string][] = [
  ["digits", (n) => "7".repeat(n)],
  ["spaces", (n) => " ".repeat(n) + "x"],
  ["signs", (n) => "-".repeat(n)],
  ["marks", (n) => "1,".repeat(n / 2)],
  ["points", (n) => "1.1".repeat(n / 3)],
  ["quotes", (n) => '"'.repeat(n)],
  ["degrees", (n) => "4°".repeat(n / 2)],
  ["letters", (n) => "NE".repeat(n / 2)],
  ["dates", (n) => "2026-10-06 ".repeat(n / 11)],
  ["columns", (n) => "A in (°C);".repeat(n / 10)],
];
const READERS: [string, (text: string) => unknown][] = [
  ["numbers", parseNumber],
  ["quantities", (t) => parseQuantity(t, "temperature")],
  ["coordinates", parseCoordinates],
  ["skylines", parseHorizon],
  ["climates", (t) => parseClimateCsv(t, "x")],
  ["materials", materialsFromCsv],
  ["times", (t) => parseTimestamp(t, { kind: "calendar", order: "ymd" }, "UTC")],
  ["elapsed times", (t) => parseTimestamp(t, { kind: "elapsed", unit: "s", startMs: 0 }, "UTC")],
  ["guesses of time", (t) => guessTimeFormat([t, t, t], t)],
  ["logs", (t) => sniffLog(`${t}\n${t}\n`, { whole: true })],
  ["zones", isZone],
];
/** Below this a ratio says only how the clock ticks. */
const TICK_MS = 0.2;

function took(read: (text: string) => unknown, text: string): number {
  const start = performance.now();
  read(text);
  return Math.max(TICK_MS, performance.now() - start);
}

/** A table of 12,000 columns and a cell of 200 kB among good rows: how long each reader takes, ms. */
const WIDE: [string, string][] = [
  [
    "12,000 columns",
    Array.from({ length: 3 }, (_, r) => Array.from({ length: 12000 }, (_, i) => (r ? i : `c${i}`)).join(",")).join(
      "\n",
    ),
  ],
  [
    "2,000 columns",
    Array.from({ length: 12 }, (_, r) =>
      Array.from({ length: 2000 }, (_, i) =>
        r ? (i ? i / 7 : `2026-10-06 12:00:${10 + r}`).toString().slice(0, 19) : `A in ${i} (°C)`,
      ).join(","),
    ).join("\n"),
  ],
  [
    "a cell of 200 kB",
    `time,A in,A out\n${Array.from({ length: 50 }, (_, i) => `2026-10-06 12:00:${String(i).padStart(2, "0")},1,2`).join("\n")}\n2026-10-06 12:01:00,${"1 ".repeat(100_000)},2\n`,
  ],
];

console.warn = () => undefined;
for (const [reader, read] of READERS) {
  let worst = { ratio: 0, name: "" };
  for (const [name, of] of TEXTS) {
    read(of(2000));
    const ratio = took(read, of(200_000)) / took(read, of(10_000));
    if (ratio > worst.ratio) worst = { ratio, name };
  }
  console.log(`${reader.padEnd(16)} ${worst.ratio.toFixed(0).padStart(5)} (${worst.name})`);
}

for (const [name, text] of WIDE)
  for (const [reader, read] of READERS) {
    read(text.slice(0, 2000));
    const ms = took(read, text);
    if (ms > 20) console.log(`${reader.padEnd(16)} ${ms.toFixed(0).padStart(5)} ms (${name})`);
  }
