import { spawn } from "node:child_process";
import { performance } from "node:perf_hooks";
import { Readable } from "node:stream";
import Papa from "papaparse";
import { assembleRun } from "../src/core/analysis/assemble";
import { reduceExperiment, wholeRun } from "../src/core/analysis/reduce";
import { judgeReduction } from "../src/core/judge/judgeReduction";
import { readLog, LogReader } from "../src/core/log/readLog";
import { sniffLog } from "../src/core/log/sniff";
import { standardRules } from "../src/core/log/windows";
import { BENCH_ZONE, CORRUGATED, simulateBench } from "../src/core/rig/bench";
import { createDatabase } from "../src/data/database";
import { readFileChunks, storeFile } from "../src/data/file/files";
import { migrate } from "../src/data/migrate";
import { readChannels } from "../src/data/reading/readings";
import { importRun, inspectFile } from "../src/services/import/imports";
import { ABSORBER_FORMS } from "../src/core/collector/form/list";
import { buildNetwork } from "../src/core/collector/network";
import { presetDesign } from "../src/core/collector/presets";
import { solveNetwork } from "../src/core/collector/solve";
import { studyDesign } from "../src/core/collector/study";
import { settingsFrom } from "../src/features/import/draft";
import { benchRequest } from "./request";
import { startLocalDatabase } from "../scripts/launcher/database";

/**
 * Performance as ratios measured in one run, so that the machine's speed cancels. Not part of the tests.
 * `npx tsx bench/all.ts`
 */
const time = async (work: () => unknown): Promise<number> => {
  const started = performance.now();
  await work();
  return performance.now() - started;
};
/** Median of a few repeats. */
const median = async (times: number, work: () => unknown): Promise<number> => {
  const all: number[] = [];
  for (let i = 0; i < times; i++) all.push(await time(work));
  return all.sort((a, b) => a - b)[times >> 1];
};
const report = (name: string, value: number, aim: string) =>
  console.log(`${name.padEnd(62)} ${value.toFixed(2).padStart(8)}   aim ${aim}`);

/** 100,000 rows of 20 columns: six lanes of three and two shared. */
function largeLog(rows: number): string {
  const head = [
    "time",
    ..."ABCDEF".split("").flatMap((l) => [`${l} in (°C)`, `${l} out (°C)`, `${l} speed (m/s)`]),
    "Sun (W/m2)",
  ].join(",");
  const lines = [head];
  const start = Date.UTC(2026, 8, 1);
  for (let i = 0; i < rows; i++) {
    const cells = [new Date(start + i * 10000).toISOString().slice(0, 19).replace("T", " ")];
    for (let c = 0; c < 18; c++)
      cells.push((20 + (c % 3) * 7 + 3 * Math.sin(i / 500 + c) + ((i * 7919 + c * 104729) % 97) / 300).toFixed(2));
    cells.push((500 + 400 * Math.sin(i / 1500)).toFixed(1));
    lines.push(cells.join(","));
  }
  return lines.join("\n");
}

async function importBench(): Promise<void> {
  const text = largeLog(100_000);
  const inspected = sniffLog(text.slice(0, 1 << 18), { whole: false });
  if (!inspected.ok) throw new Error("the bench's log was not understood");
  const settings = settingsFrom(inspected.layout, BENCH_ZONE);
  const tokenise = await median(5, () => Papa.parse(text, { delimiter: ",", newline: "\n" }));
  const parse = await median(3, () => readLog(text, settings));
  report("100,000 × 20: reading ÷ tokenising", parse / tokenise, "–");

  const database = await startLocalDatabase(".bravel/bench", 4395);
  const knex = createDatabase(database.url);
  try {
    await migrate(knex);
    const letters = "ABCDEF".split("");
    const bytes = Buffer.from(text);
    let experimentId = 0;
    const whole = await median(3, async () => {
      const file = await storeFile(knex, "large.csv", Readable.from([bytes]), { bytes: 1 << 29, stallMs: 600_000 });
      const { layout } = (await inspectFile(knex, file.id))!;
      const asked = benchRequest({
        fileId: file.id,
        settings: settingsFrom(layout!, BENCH_ZONE),
        letters,
        zone: BENCH_ZONE,
        longitude: 9,
        flow: "mass",
        // Its invented sun shines at night too.
        accepted: ["sunAtNight"],
      });
      ({ experimentId } = await importRun(knex, asked, () => undefined, new AbortController().signal));
    });
    report("100,000 × 20: whole import, kept and stored ÷ tokenising", whole / tokenise, "≤ 2.5");
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
      "≤ 10",
    );
  } finally {
    await knex.destroy();
    await database.stop();
  }
  report("memory of a reader at 100,000 × 20, MB", await readerMemory(), "< 400");
}

/** Peak resident memory of a process that reads the large log in pieces as the server does. */
async function readerMemory(): Promise<number> {
  const child = spawn(process.execPath, ["--import", "tsx", process.argv[1], "--reader"], {
    stdio: ["ignore", "pipe", "inherit"],
  });
  let out = "";
  child.stdout.on("data", (d: Buffer) => {
    out += d.toString();
  });
  await new Promise((done) => child.on("close", done));
  return Number(out.trim()) / 1024;
}

function reader(): void {
  const text = largeLog(100_000);
  const inspected = sniffLog(text.slice(0, 1 << 18), { whole: false });
  if (!inspected.ok) throw new Error("not understood");
  const log = new LogReader(settingsFrom(inspected.layout, BENCH_ZONE));
  for (let at = 0; at < text.length; at += 1 << 18) log.push(text.slice(at, at + (1 << 18)));
  log.finish();
  console.log(process.resourceUsage().maxRSS);
}

async function analysisBench(): Promise<void> {
  const plan = (stepS: number, days: number) => ({
    seed: 3,
    stepS,
    hours: [6, 20] as [number, number],
    accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
    specimens: "ABCDEFGH".split("").map((lane, i) => ({
      lane,
      variant: String(i >> 1),
      collector: { ...CORRUGATED, streamTransfer: 22 + 4 * i },
      areaM2: 2,
      massFlowKgPerS: 0.04,
    })),
    inletProgram: [
      { fromHour: 0, aboveAmbientK: 0 },
      { fromHour: 11, aboveAmbientK: 9 },
      { fromHour: 12.3, aboveAmbientK: 18 },
      { fromHour: 13.6, aboveAmbientK: 27 },
    ],
    runs: [
      {
        run: "1",
        days: Array.from({ length: days }, (_, d) => ({
          dateMs: Date.UTC(2026, 9, 5 + d, 10),
          cloudiness: 0.05,
          meanAmbientC: 9,
          meanWind: 1.5,
        })),
        stations: Object.fromEntries("ABCDEFGH".split("").map((l, i) => [l, i + 1])),
      },
    ],
  });
  const [run] = simulateBench(plan(10, 7));
  const settings = {
    rules: standardRules("air"),
    basis: "mean" as const,
    operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
    smallestDifference: 15,
    stationShare: 0.004,
    curvature: "auto" as const,
    seed: 1,
  };
  const pass = await median(15, () => {
    let sum = 0;
    for (const c of run.channels) for (let i = 0; i < c.values.length; i++) sum += c.values[i] * c.times[i];
    return sum;
  });
  const assemble = await median(3, () => assembleRun(run.channels));
  const assembled = assembleRun(run.channels);
  const reduce = await median(3, () => reduceExperiment([wholeRun(run.setup, assembled)], settings));
  const reduction = reduceExperiment([wholeRun(run.setup, assembled)], settings);
  const verdict = await median(3, () => judgeReduction(reduction, settings));
  const cells = run.channels.reduce((s, c) => s + c.values.length, 0);
  console.log(
    `a week of 8 lanes at 10 s: ${cells.toLocaleString("en")} readings, ${reduction.points.length} points; one plain pass ${pass.toFixed(1)} ms`,
  );
  report("cleaning and common clock ÷ one plain pass", assemble / pass, "–");
  report("windows, points and curves ÷ one plain pass", reduce / pass, "≤ 10");
  report("verdict at a new operating point ÷ one plain pass", verdict / pass, "–");
  // Before every stage had its own store, a changed limit cleaned everything again (and read it again, not counted here).
  report("a changed limit, everything again ÷ one plain pass", (assemble + reduce + verdict) / pass, "–");
  report("a changed limit, what follows from it only ÷ one plain pass", (reduce + verdict) / pass, "–");
}

/** The builder's question, against solving the same box once: what ± and curve cost, and whether figures can move while one types. */
async function predictionBench(): Promise<void> {
  const op = {
    irradianceWm2: 900,
    ambientC: 8,
    inletC: 15,
    windMs: 1.5,
    tilt: 60,
    pressurePa: 88500,
    massFluxKgM2S: 0.02,
    extremeAmbientC: 32,
    extremeIrradianceWm2: 1050,
    basis: "gross" as const,
    reduced: "mean" as const,
  };
  let slowest = { form: "", ms: 0, ratio: 0 };
  for (const form of ABSORBER_FORMS) {
    const design = presetDesign(form);
    const net = buildNetwork(design);
    const c = {
      irradianceWm2: 900,
      ambientC: 8,
      inletC: 15,
      windMs: 1.5,
      massFlowKgPerS: 0.04,
      tilt: 60,
      pressurePa: 88500,
    };
    const once = await median(25, () => solveNetwork(net, c));
    const study = await median(9, () => studyDesign(design, op, -15));
    if (study > slowest.ms) slowest = { form, ms: study, ratio: study / once };
  }
  report(`study of a design (${slowest.form}) ÷ one solution of its network`, slowest.ratio, "–");
  report(`… the same in ms on this machine`, slowest.ms, "< 100");
}

if (process.argv.includes("--reader")) reader();
else if (process.argv.includes("--prediction")) await predictionBench();
else if (process.argv.includes("--analysis")) await analysisBench();
else {
  await predictionBench();
  await importBench();
  await analysisBench();
}
