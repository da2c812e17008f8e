import { performance } from "node:perf_hooks";
import { assembleRun } from "../src/core/analysis/assemble";
import { reduceExperiment, wholeRun, type Reduction } from "../src/core/analysis/reduce";
import { compareInput } from "../src/core/judge/evidence";
import { judgeReduction } from "../src/core/judge/judgeReduction";
import { standardRules } from "../src/core/log/windows";
import { sizeAfter } from "../src/core/plan/howLong";
import { powerOf, resolvable, type TestSize } from "../src/core/plan/power";
import { pastPrecision } from "../src/core/plan/past";
import { placeVariance, PLACE_GROUPS, type Precision } from "../src/core/plan/precision";
import { swapSchedule } from "../src/core/plan/schedule";
import { seededRandom } from "../src/core/random/seededRandom";
import { CORRUGATED, simulateBench, type BenchAccuracy, type BenchPlan } from "../src/core/rig/bench";

/**
 * Does the power that Plan promises come true? Benches with hidden errors are simulated, logged, cleaned, reduced and judged by the
 * whole chain, with a true difference that Plan says is told in 80 of 100. `npx tsx bench/power.ts [trials]`
 */
const TRIALS = Number(process.argv[2] ?? 400);
const PILOTS = 24;
const ACCURACY: BenchAccuracy = {
  probeK: 0.2,
  speedShare: 0.015,
  profileLimit: 0.01,
  sunShare: 0.03,
  ambientK: 0.3,
  stationShare: 0.004,
};
const SETTINGS = {
  operatingPoint: { irradianceWm2: 850, ambientC: 8, inletC: 18, flowPerArea: 0.02 },
  basis: "mean" as const,
  smallestDifference: 0,
  stationShare: 0.004,
  seed: 1,
};
const LEVELS = [
  { fromHour: 0, aboveAmbientK: 2 },
  { fromHour: 12, aboveAmbientK: 12 },
  { fromHour: 13.6, aboveAmbientK: 22 },
];

/** A bench of two lanes over so many days, swapped as scheduled, B better by a share of its optics. */
function experiment(seed: number, days: number, swapped: boolean, share: number): Reduction {
  const order = swapped ? swapSchedule(2, days, seed).order : Array.from({ length: days }, () => [0, 1]);
  // Boxes' own incidence factors lie anywhere within the ±0.03 that the analysis is told.
  const own = seededRandom(seed * 31 + 7);
  const plan: BenchPlan = {
    seed,
    accuracy: ACCURACY,
    stepS: 30,
    hours: [9.5, 15.5],
    inletProgram: LEVELS,
    specimens: [
      {
        lane: "A",
        variant: "a",
        collector: { ...CORRUGATED, b0: 0.1 + own.within(0.03) },
        areaM2: 2,
        massFlowKgPerS: 0.04,
      },
      {
        lane: "B",
        variant: "b",
        collector: { ...CORRUGATED, b0: 0.1 + own.within(0.03), tauAlpha: CORRUGATED.tauAlpha * (1 + share) },
        areaM2: 2,
        massFlowKgPerS: 0.04,
      },
    ],
    runs: order.map((row, d) => ({
      run: String(d + 1),
      stations: { A: row.indexOf(0) + 1, B: row.indexOf(1) + 1 },
      days: [
        {
          dateMs: Date.UTC(2026, 9, 5 + d, 10),
          cloudiness: 0.04,
          meanAmbientC: 8 + (d % 3),
          meanWind: 1.2 + 0.3 * (d % 2),
        },
      ],
    })),
  };
  const inputs = simulateBench(plan).map(({ setup, channels }) => wholeRun(setup, assembleRun(channels)));
  return reduceExperiment(inputs, { rules: standardRules("air"), basis: "mean", curvature: "never" });
}

const differenceOf = (reduction: Reduction) => judgeReduction(reduction, SETTINGS).pairs[0];

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
const rms = (values: readonly number[]) => Math.sqrt(mean(values.map((v) => v * v)));

/** What past runs teach the planner: mean of two dozen pilots, so that the pilot's own luck is not what is tested. */
function pilot(days: number, swapped: boolean): { precision: Precision; windows: number } {
  const found = Array.from({ length: PILOTS }, (_, i) => experiment(900000 + i, days, swapped, 0)).map((r) => ({
    p: pastPrecision(compareInput(r, SETTINGS), "A", "B", 0)!,
    windows: differenceOf(r).windows,
  }));
  const place = Object.fromEntries(
    PLACE_GROUPS.map((g) => [g, rms(found.map((f) => f.p.place[g]))]),
  ) as Precision["place"];
  return {
    precision: {
      place,
      fixed: rms(found.map((f) => f.p.fixed)),
      window: rms(found.map((f) => f.p.window)),
      day: rms(found.map((f) => f.p.day)),
      repeatability: 0,
    },
    windows: mean(found.map((f) => f.windows)),
  };
}

for (const [name, days, swapped] of [
  ["4 days, swapped daily", 4, true],
  ["6 days, swapped daily", 6, true],
  ["2 days, never swapped", 2, false],
] as const) {
  const started = performance.now();
  const { precision, windows } = pilot(days, swapped);
  const perDay = windows / days;
  const size: TestSize = sizeAfter(
    { specimens: 2, comparisons: 1, perDay, swaps: swapped ? "daily" : "none", seed: 1 },
    days,
  );
  const wanted = resolvable(0.8, precision, size);
  // Watts for a share of the optics, from benches with a large difference.
  const slope =
    -mean(
      Array.from(
        { length: PILOTS },
        (_, i) =>
          differenceOf(experiment(800000 + i, days, swapped, 0.1)).difference.value -
          differenceOf(experiment(800000 + i, days, swapped, 0)).difference.value,
      ),
    ) / 0.1;
  let told = 0,
    falselyTold = 0;
  const seen: number[] = [],
    stated: number[] = [];
  for (let i = 0; i < TRIALS; i++) {
    const pair = differenceOf(experiment(1000 + i, days, swapped, wanted / slope));
    seen.push(-pair.difference.value);
    stated.push(pair.measured.standardUncertainty);
    if (pair.decision === "bBetter") told++;
    if (differenceOf(experiment(500000 + i, days, swapped, 0)).decision !== "cannotTell") falselyTold++;
  }
  const sd = Math.sqrt(mean(seen.map((v) => (v - mean(seen)) ** 2)));
  console.log(
    `${name}: ${size.windows} windows; planned ${wanted.toFixed(2)} W/m² with 80 %, place ${Math.sqrt(placeVariance(precision)).toFixed(2)}, fixed ${precision.fixed.toFixed(2)}, window ${precision.window.toFixed(2)}, day ${precision.day.toFixed(2)}`,
  );
  console.log(
    `  told ${((100 * told) / TRIALS).toFixed(1)} % of ${TRIALS} (± ${(196 * Math.sqrt(((told / TRIALS) * (1 - told / TRIALS)) / TRIALS)).toFixed(1)}); without a difference told ${((100 * falselyTold) / TRIALS).toFixed(1)} %; planned power at the mean difference seen (${mean(seen).toFixed(2)}) ${(100 * powerOf(mean(seen), precision, size)).toFixed(1)} %; scatter of the result ${sd.toFixed(2)}, stated ${rms(stated).toFixed(2)}; ${((performance.now() - started) / 1000).toFixed(0)} s`,
  );
}
