import { standardRules } from "../log/windows";
import { CORRUGATED, simulateBench, type BenchRun } from "../rig/bench";
import { type Uncertain, fromLimit, fromResolution } from "../uncertainty/uncertain";
import { analyseExperiment } from "../../../scripts/testing/analyse";
import type { JudgeSettings } from "../judge/judgeReduction";
import { wholeRun, type ReductionSettings } from "./reduce";
import { assembleRun, type LoggedChannel } from "./assemble";

/**
 * Each figure claims how far it would move if a source were off by one standard uncertainty. Here the source really is put
 * off in the raw log, everything is computed again, and the figure must move by what was claimed, sign included.
 */
const SETTINGS: ReductionSettings & JudgeSettings = {
  rules: standardRules("air"),
  basis: "mean",
  operatingPoint: { irradianceWm2: 850, ambientC: 8, inletC: 20, flowPerArea: 0.02 },
  smallestDifference: 15,
  stationShare: 0,
  curvature: "never",
  seed: 7,
};
const ACCURACY = { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0 };

const runs = simulateBench({
  seed: 31,
  stepS: 60,
  hours: [9, 17],
  accuracy: ACCURACY,
  specimens: [
    { lane: "A", variant: "sheet", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
    { lane: "B", variant: "mesh", collector: { ...CORRUGATED, streamTransfer: 46 }, areaM2: 2, massFlowKgPerS: 0.04 },
  ],
  inletProgram: [
    { fromHour: 0, aboveAmbientK: 0 },
    { fromHour: 11, aboveAmbientK: 9 },
    { fromHour: 12.25, aboveAmbientK: 18 },
    { fromHour: 13.5, aboveAmbientK: 27 },
  ],
  runs: [
    {
      run: "1",
      days: [5, 6].map((d) => ({ dateMs: Date.UTC(2026, 9, d, 10), cloudiness: 0, meanAmbientC: 9, meanWind: 1.5 })),
      stations: { A: 1, B: 2 },
    },
    {
      run: "2",
      days: [{ dateMs: Date.UTC(2026, 9, 8, 10), cloudiness: 0, meanAmbientC: 10, meanWind: 1.5 }],
      stations: { A: 2, B: 1 },
    },
  ],
});

const analyse = (change: (channel: LoggedChannel, run: BenchRun) => ((value: number) => number) | null = () => null) =>
  analyseExperiment(
    runs.map((run) =>
      wholeRun(
        run.setup,
        assembleRun(
          run.channels.map((c) => {
            const shift = change(c, run);
            return shift ? { ...c, values: c.values.map(shift) } : c;
          }),
        ),
      ),
    ),
    SETTINGS,
  );

const base = analyse();
const difference = (a: ReturnType<typeof analyseExperiment>): Uncertain => a.judgement.pairs[0].difference;
const heat = (a: ReturnType<typeof analyseExperiment>): Uncertain =>
  a.judgement.ranking.find((r) => r.lane === "A")!.heat;
const eta0 = (a: ReturnType<typeof analyseExperiment>): Uncertain => a.curves.get("A")!.eta0;

const stationOf = (c: LoggedChannel) => c.station;
const probe = Math.hypot(fromLimit(ACCURACY.probeK), fromResolution(0.01));
const ambient = Math.hypot(fromLimit(ACCURACY.ambientK), fromResolution(0.01));

const CASES: [key: string, change: (c: LoggedChannel, run: BenchRun) => ((v: number) => number) | null][] = [
  // The true value lies above the reading by the contribution, so a log moved up plays the part of an error of +1 standard uncertainty.
  ["probe:1-out", (c) => (c.kind === "outlet" && stationOf(c) === 1 ? (v) => v + probe : null)],
  ["probe:2-in", (c) => (c.kind === "inlet" && stationOf(c) === 2 ? (v) => v + probe : null)],
  [
    "flowMeter:1",
    (c) => (c.kind === "speed" && stationOf(c) === 1 ? (v) => v * (1 + fromLimit(ACCURACY.speedShare)) : null),
  ],
  [
    "flowMeter:2",
    (c) => (c.kind === "speed" && stationOf(c) === 2 ? (v) => v * (1 + fromLimit(ACCURACY.speedShare)) : null),
  ],
  ["sunSensor:sun", (c) => (c.kind === "irradiance" ? (v) => v * (1 + fromLimit(ACCURACY.sunShare)) : null)],
  ["probe:ambient", (c) => (c.kind === "ambient" ? (v) => v + ambient : null)],
];

test.each(CASES)("%s moves every figure by what its budget claims", (key, change) => {
  const moved = analyse(change);
  expect(moved.points.length).toBe(base.points.length);
  const figures = [
    ["difference", difference, 1.2],
    ["heat of A", heat, 1.2],
    ["η0 of A", eta0, 0.0025],
  ] as const;
  for (const [, of, tolerance] of figures) {
    const claimed = of(base).parts.get(key)?.standard ?? 0;
    const real = of(moved).value - of(base).value;
    // First order holds to a tenth of what moves, and to rounding where everything cancels.
    expect(Math.abs(real - claimed)).toBeLessThan(Math.max(tolerance, 0.1 * Math.abs(claimed)));
  }
});

test("what cancels by the swap really cancels: a meter off by 3 % at one place moves the difference far less than the lane", () => {
  const moved = analyse((c) => (c.kind === "speed" && stationOf(c) === 1 ? (v) => v * 1.03 : null));
  expect(Math.abs(heat(moved).value - heat(base).value)).toBeGreaterThan(4);
  expect(Math.abs(difference(moved).value - difference(base).value)).toBeLessThan(2.5);
});
