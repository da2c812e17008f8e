/**
 * From a file to curves, corrected, with every ± and a verdict, over what a plain script in pandas takes to a line without any. Both read the same
 * file, each as a process of its own. Needs Debian's python3-pandas. Run: `npx tsx bench/curve.ts`, nothing else at work.
 */
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { performance } from "node:perf_hooks";
import { assembleRun, type LoggedChannel } from "../src/core/analysis/assemble";
import { reduceExperiment, wholeRun } from "../src/core/analysis/reduce";
import { judgeReduction } from "../src/core/judge/judgeReduction";
import { readLog } from "../src/core/log/readLog";
import { sniffLog } from "../src/core/log/sniff";
import { testSettings } from "../scripts/testing/bench";
import { BENCH_ZONE, CORRUGATED, simulateBench, type BenchPlan } from "../src/core/rig/bench";
import { settingsFrom } from "../src/features/import/draft";

const LANES = [..."ABCDEF"];
const PLAN: BenchPlan = {
  seed: 5,
  stepS: 5,
  hours: [6, 20],
  accuracy: { probeK: 0.2, speedShare: 0.02, profileLimit: 0.01, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
  inletProgram: [0, 9, 18, 27].map((aboveAmbientK, i) => ({ fromHour: i ? 10 + 1.2 * i : 0, aboveAmbientK })),
  specimens: LANES.map((lane, i) => ({
    lane,
    variant: lane,
    collector: { ...CORRUGATED, streamTransfer: 22 + 2 * i },
    areaM2: 2,
    massFlowKgPerS: 0.04,
  })),
  runs: [
    {
      run: "1",
      stations: Object.fromEntries(LANES.map((l, i) => [l, i + 1])),
      days: [0, 1, 2, 3, 4].map((d) => ({
        dateMs: Date.UTC(2026, 8, 5 + d, 10),
        cloudiness: 0.06,
        meanAmbientC: 10,
        meanWind: 1.5,
      })),
    },
  ],
};

function write(file: string): void {
  const [{ log }] = simulateBench(PLAN);
  const head = [
    "time",
    ...LANES.flatMap((l) => [`${l} in (°C)`, `${l} out (°C)`, `${l} speed (m/s)`]),
    "Sun in plane [W/m2]",
    "Outside [degC]",
  ];
  const lines = Array.from(log.times, (t, i) =>
    [
      new Date(t).toISOString().slice(0, 19).replace("T", " "),
      ...LANES.flatMap((l) => {
        const c = log.lanes.get(l)!;
        return [c.inlet[i].toFixed(2), c.outlet[i].toFixed(2), c.speed[i].toFixed(2)];
      }),
      log.shared.irradiance[i].toFixed(1),
      log.shared.ambient[i].toFixed(2),
    ].join(","),
  );
  writeFileSync(file, [head.join(","), ...lines].join("\n"));
}

/** From the file's bytes to the verdict, as the server does it, without the database. */
function ours(file: string): string {
  const text = readFileSync(file, "utf8");
  const inspected = sniffLog(text.slice(0, 1 << 18), { whole: false });
  if (!inspected.ok) throw new Error("not understood");
  const { times, channels: columns } = readLog(text, { ...settingsFrom(inspected.layout, BENCH_ZONE), zone: "UTC" });
  const [run] = simulateBench({ ...PLAN, stepS: 3600 });
  const channels = columns.map(({ use: column, values }, id): LoggedChannel => ({
    id,
    name: column.header,
    kind: column.kind!,
    station: column.lane ? LANES.indexOf(column.lane) + 1 : null,
    times,
    values,
    clockOffsetMs: 0,
  }));
  const settings = testSettings;
  const reduction = reduceExperiment([wholeRun(run.setup, assembleRun(channels))], settings);
  const { verdict } = judgeReduction(reduction, settings);
  return [
    ...[...reduction.curves.values()].map(
      (c) => `${c.lane} ${c.eta0.value.toFixed(4)} ${c.a1.value.toFixed(3)} ${c.points}`,
    ),
    verdict.kind,
  ].join("\n");
}

if (process.argv[2] === "--idle") {
  // Everything is loaded, nothing done.
} else if (process.argv[2] === "--ours") {
  console.log(ours(process.argv[3]));
} else {
  const place = mkdtempSync(path.join(tmpdir(), "bravel-curve-"));
  const file = path.join(place, "log.csv");
  write(file);
  const run = (command: string, args: string[]): number => {
    const took = [0, 1, 2].map((i) => {
      const from = performance.now();
      const { status, stdout, stderr } = spawnSync(command, args, { encoding: "utf8" });
      if (status !== 0) throw new Error(stderr);
      if (i === 0) console.log(stdout.trim());
      return performance.now() - from;
    });
    return took.sort((a, b) => a - b)[1];
  };
  const own = run(process.execPath, ["--import", "tsx", process.argv[1], "--ours", file]);
  // Compiling TypeScript is no part of it: the server is compiled once.
  const idle = run(process.execPath, ["--import", "tsx", process.argv[1], "--idle"]);
  const pandas = run("/usr/bin/python3", [path.join(import.meta.dirname, "curve.py"), file]);
  rmSync(place, { recursive: true });
  console.log(
    `ours ${(own - idle).toFixed(0)} ms, pandas ${pandas.toFixed(0)} ms, ratio ${((own - idle) / pandas).toFixed(2)} (aim under 1)`,
  );
}
