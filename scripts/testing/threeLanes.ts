import { assembleRun } from "../../src/core/analysis/assemble";
import type { EfficiencyPoint } from "../../src/core/analysis/points";
import { wholeRun, type ReductionSettings } from "../../src/core/analysis/reduce";
import { standardPressure } from "../../src/core/fluids/moistAir";
import type { JudgeSettings } from "../../src/core/judge/judgeReduction";
import { standardRules } from "../../src/core/log/windows";
import { CORRUGATED, simulateBench, type BenchPlan } from "../../src/core/rig/bench";
import { trueCurve } from "../../src/core/rig/simulate";
import { analyseExperiment } from "./analyse";

/** Two copies of a sheet and a mesh between them, on a small bench for four days with one swap: what tests of the analysis share. */
export const day = (d: number, cloudiness = 0.02, wind = 1.6) => ({
  dateMs: Date.UTC(2026, 9, d, 10),
  cloudiness,
  meanAmbientC: 9 + (d % 3),
  meanWind: wind,
});
const STEPS = [
  { fromHour: 0, aboveAmbientK: 0 },
  { fromHour: 11, aboveAmbientK: 9 },
  { fromHour: 12.25, aboveAmbientK: 18 },
  { fromHour: 13.5, aboveAmbientK: 27 },
  { fromHour: 14.75, aboveAmbientK: 4 },
];
const MESH = { ...CORRUGATED, streamTransfer: 46 };

export const bench = (seed: number, over: Partial<BenchPlan> = {}): BenchPlan => ({
  seed,
  stepS: 60,
  hours: [9, 17],
  accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
  specimens: [
    { lane: "A", variant: "sheet", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
    { lane: "B", variant: "mesh", collector: MESH, areaM2: 2, massFlowKgPerS: 0.04 },
    { lane: "C", variant: "sheet", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
  ],
  inletProgram: STEPS,
  runs: [
    { run: "1", days: [day(5), day(6)], stations: { A: 1, B: 2, C: 3 } },
    { run: "2", days: [day(8), day(9)], stations: { A: 3, B: 2, C: 1 } },
  ],
  ...over,
});

export const SETTINGS: ReductionSettings & JudgeSettings = {
  rules: standardRules("air"),
  basis: "mean",
  operatingPoint: { irradianceWm2: 850, ambientC: 8, inletC: 20, flowPerArea: 0.02 },
  smallestDifference: 15,
  stationShare: 0.004,
  curvature: "auto",
  seed: 7,
};

export const analyse = (plan: BenchPlan, settings = SETTINGS) => {
  const runs = simulateBench(plan);
  return {
    benches: runs,
    ...analyseExperiment(
      runs.map((r) => wholeRun(r.setup, assembleRun(r.channels))),
      settings,
    ),
  };
};

export const PRESSURE = standardPressure(1120);

/** What a perfect test at the windows' own conditions would find, in the bench's mean wind. */
export const truthFor = (
  points: readonly EfficiencyPoint[],
  benches: readonly { log: { truth: { wind: number } } }[],
) => {
  const wind = benches.reduce((s, b) => s + b.log.truth.wind, 0) / benches.length;
  return trueCurve(
    CORRUGATED,
    points.map((p) => ({
      irradianceWm2: p.irradiance.value,
      ambientC: p.ambient.value,
      inletC: p.inlet.value,
      wind,
      flowPerArea: 0.02,
    })),
    PRESSURE,
  );
};
