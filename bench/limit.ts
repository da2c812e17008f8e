/**
 * A limit changed on a week of eight lanes each second: windows, points, curves and verdict anew, over one plain pass through the
 * same readings. Run: `node --expose-gc --max-old-space-size=6000 --import tsx bench/limit.ts`, nothing else at work.
 */
import { performance } from "node:perf_hooks";
import { assembleRun } from "../src/core/analysis/assemble";
import { combineRuns, reduceRun, wholeRun } from "../src/core/analysis/reduce";
import { judgeReduction } from "../src/core/judge/judgeReduction";
import { standardRules } from "../src/core/log/windows";
import { CORRUGATED, simulateBench } from "../src/core/rig/bench";

const LANES = [..."ABCDEFGH"];
const DAYS = 7;
const [run] = simulateBench({
  seed: 3,
  stepS: 1,
  hours: [0, 24],
  accuracy: { probeK: 0.2, speedShare: 0.02, profileLimit: 0.01, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
  inletProgram: [0, 9, 18, 27].map((aboveAmbientK, i) => ({ fromHour: i ? 10 + 1.2 * i : 0, aboveAmbientK })),
  specimens: LANES.map((lane, i) => ({
    lane,
    variant: `v${i % 4}`,
    collector: { ...CORRUGATED, streamTransfer: 22 + 3 * (i % 4) },
    areaM2: 2,
    massFlowKgPerS: 0.04,
  })),
  runs: [
    {
      run: "1",
      stations: Object.fromEntries(LANES.map((l, i) => [l, i + 1])),
      days: Array.from({ length: DAYS }, (_, d) => ({
        dateMs: Date.UTC(2026, 8, 5 + d, 10),
        cloudiness: d % 3 === 2 ? 0.5 : 0.08,
        meanAmbientC: 10,
        meanWind: 1.5,
      })),
    },
  ],
});
const channels = run.channels;
const readings = channels.reduce((s, c) => s + c.values.length, 0);
console.log(`${channels.length} channels, ${(readings / 1e6).toFixed(1)} million readings`);

const timed = (name: string, times: number, work: () => unknown): number => {
  const took = Array.from({ length: times }, () => {
    const from = performance.now();
    work();
    return performance.now() - from;
  }).sort((a, b) => a - b);
  console.log(`${name.padEnd(34)} ${took[0].toFixed(0).padStart(6)} ms`);
  return took[0];
};

/** Mean and count of every channel: what any answer must at least have read. */
const pass = timed("one plain pass", 5, () => {
  let sum = 0;
  for (const c of channels) {
    const { values } = c;
    for (let i = 0; i < values.length; i++) if (values[i] === values[i]) sum += values[i];
  }
  return sum;
});
let assembled!: ReturnType<typeof assembleRun>;
timed("cleaned and put on one clock", 1, () => (assembled = assembleRun(channels)));
const input = wholeRun(run.setup, assembled);
const settings = {
  rules: standardRules("air"),
  basis: "mean" as const,
  operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
  smallestDifference: 15,
  stationShare: 0.004,
  seed: 1,
};
let least = 700;
const change = timed("limit changed: windows to verdict", 5, () => {
  const rules = { ...settings.rules, name: "backyard" as const, minIrradiance: least++ };
  const reduction = combineRuns([reduceRun(input, { ...settings, rules })], { curvature: "auto" });
  return judgeReduction(reduction, settings);
});
console.log(`ratio ${(change / pass).toFixed(1)} (aim 5)`);
