import { CORRUGATED, type BenchPlan, type BenchRunPlan } from "../../src/core/rig/bench";
import type { RigDay } from "../../src/core/rig/weather";
import { backyardRules, standardRules } from "../../src/core/log/windows";
import type { Operating } from "../../src/core/collector/prediction";

/** Days of October 2026 without a cloud, by their date. */
export const clearDays = (dates: readonly number[], more: Partial<RigDay> = {}): RigDay[] =>
  dates.map((d) => ({
    dateMs: Date.UTC(2026, 9, d, 10),
    cloudiness: 0,
    meanAmbientC: 9,
    meanWind: 1.5,
    ...more,
  }));

/** One run with both lanes in their own places. */
export const oneRun = (days: RigDay[]): BenchRunPlan[] => [{ run: "1", days, stations: { A: 1, B: 2 } }];

/** A lane of the bench that most tests stand on: two square metres of corrugated sheet. */
export const testLane = (lane: string, variant: string, streamTransfer = CORRUGATED.streamTransfer) => ({
  lane,
  variant,
  collector: { ...CORRUGATED, streamTransfer },
  areaM2: 2,
  massFlowKgPerS: 0.04,
});

/** Two boxes of air side by side, two clear days, one box a little better. @param part what is otherwise */
export const testBench = (part: Partial<BenchPlan> = {}): BenchPlan => ({
  seed: 5,
  stepS: 30,
  hours: [9, 17],
  accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
  specimens: [testLane("A", "a"), testLane("B", "b", 46)],
  inletProgram: [
    { fromHour: 0, aboveAmbientK: 0 },
    { fromHour: 11.5, aboveAmbientK: 12 },
    { fromHour: 13, aboveAmbientK: 24 },
  ],
  runs: oneRun(clearDays([5, 6])),
  ...part,
});

/** The inlet at outside air all day. */
export const AS_OUTSIDE: BenchPlan["inletProgram"] = [{ fromHour: 0, aboveAmbientK: 0 }];

/** How those benches are reduced and judged. */
export const testSettings = {
  rules: standardRules("air"),
  basis: "mean" as const,
  operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
  smallestDifference: 15,
  stationShare: 0.004,
  curvature: "auto" as const,
  seed: 1,
};

/** The same for a hobby bench, by the rules of a backyard. */
export const backyardSettings = {
  ...testSettings,
  rules: backyardRules("air"),
  operatingPoint: { irradianceWm2: 800, ambientC: 8, inletC: 15, flowPerArea: 0.02 },
  stationShare: 0.005,
};

/** Where drawings are predicted. */
export const TEST_OPERATING: Operating = {
  irradianceWm2: 900,
  ambientC: 10,
  inletC: 14,
  windMs: 1.5,
  tilt: 60,
  pressurePa: 89000,
  massFluxKgM2S: 0.02,
  extremeAmbientC: 32,
  extremeIrradianceWm2: 1080,
  basis: "gross",
  reduced: "mean",
};
