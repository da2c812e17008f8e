import { mkdirSync, writeFileSync } from "node:fs";
import { CORRUGATED, simulateBench, type BenchPlan } from "../src/core/rig/bench";
import { fromSi, unitOf, type QuantityId } from "../src/core/quantity/quantities";
import { toWall } from "../src/core/log/zone";
import type { RigLog } from "../src/core/rig/simulate";
import { CANS, SITE } from "./tansyRidge";

/** Small logs to try the import with: one a kind of bench. Written once by `npx tsx demo/samples.ts` and shipped as they are. */
const plan = (seed: number, over: Partial<BenchPlan> = {}): BenchPlan => ({
  seed,
  stepS: 120,
  hours: [9, 16.5],
  accuracy: { probeK: 0.3, speedShare: 0.03, profileLimit: 0.03, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
  inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
  specimens: [
    { lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
    { lane: "B", variant: "b", collector: CANS, areaM2: 2, massFlowKgPerS: 0.04 },
  ],
  runs: [
    {
      run: "1",
      stations: { A: 1, B: 2 },
      days: [{ dateMs: Date.UTC(2026, 9, 6, 10), cloudiness: 0.08, meanAmbientC: 8, meanWind: 1.4 }],
    },
  ],
  ...over,
});

const log = (p: BenchPlan): RigLog => simulateBench(p)[0].log;
const as = (si: number, quantity: QuantityId, unit: string, digits: number) =>
  fromSi(si, unitOf(quantity, unit)).toFixed(digits);
const wall = (ms: number) => new Date(toWall(ms, SITE.zone)).toISOString().slice(0, 19).replace("T", " ");

/** Two boxes on outside air: no sun sensor, no outside probe. */
function noSun(): string {
  const { times, lanes } = log(plan(11));
  const rows = Array.from(times, (t, i) => [
    wall(t),
    ...[...lanes].flatMap(([, c]) => [c.inlet[i].toFixed(1), c.outlet[i].toFixed(1), c.speed[i].toFixed(2)]),
  ]);
  const head = ["time", "A in (°C)", "A out (°C)", "A speed (m/s)", "B in (°C)", "B out (°C)", "B speed (m/s)"];
  return [head, ...rows].map((r) => r.join(",")).join("\n") + "\n";
}

/** The same with a sun sensor and an outside probe, in Fahrenheit and feet a minute. */
function withSun(): string {
  const { times, lanes, shared } = log(plan(12));
  const rows = Array.from(times, (t, i) => [
    wall(t),
    ...[...lanes].flatMap(([, c]) => [
      as(c.inlet[i], "temperature", "°F", 1),
      as(c.outlet[i], "temperature", "°F", 1),
      as(c.speed[i], "speed", "ft/min", 0),
    ]),
    shared.irradiance[i].toFixed(0),
    as(shared.ambient[i], "temperature", "°F", 1),
  ]);
  const lane = (l: string) => [`${l} inlet [F]`, `${l} outlet [F]`, `${l} air speed [fpm]`];
  const head = ["Date Time", ...lane("A"), ...lane("B"), "Sun in plane [W/m2]", "Outside [F]"];
  return [head, ...rows].map((r) => r.join(",")).join("\n") + "\n";
}

/** A proper bench: a heater steps the inlet, sun, outside air, wind and humidity are logged. */
function properBench(): string {
  const { times, lanes, shared } = log(
    plan(13, {
      stepS: 60,
      hours: [8, 17],
      inletProgram: [0, 9, 18, 27, 5].map((aboveAmbientK, i) => ({ fromHour: i ? 10 + 1.2 * i : 0, aboveAmbientK })),
    }),
  );
  const rows = Array.from(times, (t, i) => [
    wall(t),
    ...[...lanes].flatMap(([, c]) => [c.inlet[i].toFixed(2), c.outlet[i].toFixed(2), c.speed[i].toFixed(2)]),
    shared.irradiance[i].toFixed(0),
    shared.ambient[i].toFixed(2),
    shared.wind[i].toFixed(1),
    (100 * shared.humidity[i]).toFixed(0),
  ]);
  const lane = (l: string) => [`${l} in (°C)`, `${l} out (°C)`, `${l} speed (m/s)`];
  const weather = ["sun in plane (W/m²)", "outside (°C)", "wind (m/s)", "RH (%)"];
  return [["time", ...lane("A"), ...lane("B"), ...weather], ...rows].map((r) => r.join(";")).join("\n") + "\n";
}

mkdirSync("public/samples", { recursive: true });
for (const [name, text] of [
  ["two-boxes-no-sun.csv", noSun()],
  ["two-boxes-with-sun.csv", withSun()],
  ["proper-bench.csv", properBench()],
] as const)
  writeFileSync(`public/samples/${name}`, text);
