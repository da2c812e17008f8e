import { Readable } from "node:stream";
import Papa from "papaparse";
import { readLog } from "../src/core/log/readLog";
import { sniffLog } from "../src/core/log/sniff";
import { BENCH_ZONE } from "../src/core/rig/bench";
import { createDatabase } from "../src/data/database";
import { readFileChunks, storeFile } from "../src/data/file/files";
import { migrate } from "../src/data/migrate";
import { readChannels } from "../src/data/reading/readings";
import { importRun, inspectFile } from "../src/services/import/imports";
import { settingsFrom } from "../src/features/import/draft";
import { startLocalDatabase } from "../scripts/launcher/database";
import { compiled } from "./compiled";
import { benchRequest } from "./request";
import { median, report } from "./report";

const LANES = [..."ABCDEF"];
const HEAD = [
  "time",
  ...LANES.flatMap((l) => [`${l} in (°C)`, `${l} out (°C)`, `${l} speed (m/s)`]),
  "Sun (W/m2)",
].join(",");

/** Rows of 20 columns, six lanes of three and the sun, in pieces of ten thousand. */
function* largeLog(rows: number): Generator<string> {
  const start = Date.UTC(2026, 0, 1);
  for (let from = 0; from < rows; from += 10_000) {
    const lines = from ? [] : [HEAD];
    for (let i = from; i < Math.min(rows, from + 10_000); i++) {
      const cells = [new Date(start + i * 10000).toISOString().slice(0, 19).replace("T", " ")];
      for (let c = 0; c < 18; c++)
        cells.push((20 + (c % 3) * 7 + 3 * Math.sin(i / 500 + c) + ((i * 7919 + c * 104729) % 97) / 300).toFixed(2));
      cells.push((500 + 400 * Math.sin(i / 1500)).toFixed(1));
      lines.push(cells.join(","));
    }
    yield lines.join("\n") + "\n";
  }
}

const LIMITS = { bytes: 1 << 29, stallMs: 600_000 };

/** Looks at a kept file, imports it whole and keeps the run. @returns the experiment */
async function wholeImport(knex: ReturnType<typeof createDatabase>, fileId: number): Promise<number> {
  const { layout } = (await inspectFile(knex, fileId))!;
  const asked = benchRequest({
    fileId,
    settings: settingsFrom(layout!, BENCH_ZONE),
    letters: LANES,
    zone: BENCH_ZONE,
    longitude: 9,
    flow: "mass",
    // Its invented sun shines at night too.
    accepted: ["sunAtNight"],
  });
  return (await importRun(knex, asked, () => undefined, new AbortController().signal)).experimentId;
}

export async function importBench(): Promise<void> {
  const text = [...largeLog(100_000)].join("");
  const inspected = sniffLog(text.slice(0, 1 << 18), { whole: false });
  if (!inspected.ok) throw new Error("the bench's log was not understood");
  const settings = settingsFrom(inspected.layout, BENCH_ZONE);
  const tokenise = await median(5, () => Papa.parse(text, { delimiter: ",", newline: "\n" }));
  report("100,000 × 20: reading ÷ tokenising", (await median(3, () => readLog(text, settings))) / tokenise);
  const database = await startLocalDatabase(".bravel/bench", 4395);
  const knex = createDatabase(database.url);
  try {
    await migrate(knex);
    const bytes = Buffer.from(text);
    const keep = () => storeFile(knex, "large.csv", Readable.from([bytes]), LIMITS);
    let experimentId = 0;
    const whole = await median(5, async () => {
      experimentId = await wholeImport(knex, (await keep()).id);
    });
    report("100,000 × 20: whole import, kept and stored ÷ tokenising", whole / tokenise, 4);
    const { id } = await keep();
    report(
      "looking at a file before mapping ÷ tokenising",
      (await median(5, () => inspectFile(knex, id))) / tokenise,
      0.5,
    );
    const stream = await knex("stream")
      .join("run", "run.id", "stream.run_id")
      .where("run.experiment_id", experimentId)
      .first("stream.id", "stream.raw_file_id");
    const fromFile = await median(3, async () => {
      let size = 0;
      for await (const chunk of readFileChunks(knex, stream.raw_file_id)) size += chunk.length;
      return size;
    });
    const channels = Array.from({ length: 20 }, (_, i) => i);
    report(
      "whole run read from blocks ÷ its raw file read back",
      (await median(3, () => readChannels(knex, stream.id, channels))) / fromFile,
    );
    const { megabytes, seconds } = await millionRows();
    report("1,000,000 × 20: whole import, peak memory of its process, MB", megabytes, 300);
    report("1,000,000 × 20: whole import ÷ tokenising a tenth of it, over ten", (100 * seconds) / tokenise, 4);
  } finally {
    await knex.destroy();
    await database.stop();
  }
}

/** A million rows imported by a process of its own. */
async function millionRows(): Promise<{ megabytes: number; seconds: number }> {
  const out = await compiled("bench/million.ts", ["--max-semi-space-size=12"]);
  return JSON.parse(out.trim().split("\n").at(-1)!) as { megabytes: number; seconds: number };
}

/** What `bench/million.ts` does: the database stands already. */
export async function importMillion(): Promise<void> {
  const database = await startLocalDatabase(".bravel/bench", 4395);
  const knex = createDatabase(database.url);
  const pieces = async function* () {
    for (const piece of largeLog(1_000_000)) yield Buffer.from(piece);
  };
  const { id } = await storeFile(knex, "million.csv", pieces(), LIMITS);
  const from = performance.now();
  await wholeImport(knex, id);
  const seconds = (performance.now() - from) / 1000;
  await knex.destroy();
  console.log(JSON.stringify({ megabytes: process.resourceUsage().maxRSS / 1024, seconds }));
}
