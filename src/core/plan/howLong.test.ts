import { assembleRun } from "../analysis/assemble";
import { reduceExperiment, wholeRun } from "../analysis/reduce";
import { compareInput } from "../judge/evidence";
import { judgeReduction } from "../judge/judgeReduction";
import { standardRules } from "../log/windows";
import { CORRUGATED, simulateBench, type BenchPlan } from "../rig/bench";
import { standardUncertainty } from "../uncertainty/uncertain";
import { duration, sizeAfter, type DurationInput } from "./howLong";
import { differenceUncertainty } from "./power";
import { pastPrecision } from "./past";
import { placeVariance, statedPrecision, TYPICAL_BENCH } from "./precision";

const SETTINGS = {
  operatingPoint: { irradianceWm2: 850, ambientC: 8, inletC: 18, flowPerArea: 0.02 },
  basis: "mean" as const,
  smallestDifference: 0,
  stationShare: 0.004,
  seed: 1,
};
const ACCURACY = {
  probeK: 0.3,
  speedShare: 0.02,
  profileLimit: 0.01,
  sunShare: 0.03,
  ambientK: 0.3,
  stationShare: 0.004,
};

function bench(stations: Record<string, number>[]) {
  const plan: BenchPlan = {
    seed: 12,
    accuracy: ACCURACY,
    stepS: 30,
    hours: [9.5, 15.5],
    inletProgram: [
      { fromHour: 0, aboveAmbientK: 2 },
      { fromHour: 12, aboveAmbientK: 14 },
    ],
    specimens: [
      { lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
      { lane: "B", variant: "b", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
    ],
    runs: stations.map((s, d) => ({
      run: String(d + 1),
      stations: s,
      days: [{ dateMs: Date.UTC(2026, 9, 5 + d, 10), cloudiness: 0, meanAmbientC: 8, meanWind: 1.3 }],
    })),
  };
  return reduceExperiment(
    simulateBench(plan).map(({ setup, channels }) => wholeRun(setup, assembleRun(channels))),
    { rules: standardRules("air"), basis: "mean", curvature: "never" },
  );
}

describe("what past windows teach the planner", () => {
  const fixed = bench([
    { A: 1, B: 2 },
    { A: 1, B: 2 },
  ]);
  const swapped = bench([
    { A: 1, B: 2 },
    { A: 2, B: 1 },
  ]);
  const precision = (r: typeof fixed) => pastPrecision(compareInput(r, SETTINGS), "A", "B", 0)!;
  test("probes, meters and places stand behind a difference as their limits say", () => {
    const p = precision(fixed);
    const heat = fixed.points.reduce((s, q) => s + q.heat.value, 0) / fixed.points.length / 2;
    const rise = fixed.points.reduce((s, q) => s + q.rise.value, 0) / fixed.points.length;
    const stated = statedPrecision({
      ...TYPICAL_BENCH,
      heatWm2: heat,
      riseK: rise,
      probeLimitK: 0.3,
      meterLimitShare: 0.02,
      profileLimitShare: 0.01 / 0.86,
      stationShare: 0.004,
    });
    for (const g of ["meter", "profile", "station"] as const)
      expect(p.place[g] / stated.place[g]).toBeGreaterThan(0.85);
    for (const g of ["probe", "meter", "profile", "station"] as const)
      expect(p.place[g] / stated.place[g]).toBeLessThan(1.25);
    expect(p.place.probe / stated.place.probe).toBeGreaterThan(0.7);
  });
  test("places are the same whether lanes were swapped meanwhile or not, and the uncertainty predicted for each is the judge's", () => {
    expect(Math.sqrt(placeVariance(precision(swapped)) / placeVariance(precision(fixed)))).toBeCloseTo(1, 0);
    for (const [r, stationShareLeft, arrangements] of [
      [fixed, 1, 1],
      [swapped, 0, 2],
    ] as const) {
      const pair = judgeReduction(r, SETTINGS).pairs[0];
      const { total } = differenceUncertainty(precision(r), {
        days: 2,
        windows: pair.windows,
        stationShareLeft,
        arrangements,
        comparisons: 1,
      });
      expect(total / standardUncertainty(pair.difference)).toBeGreaterThan(0.8);
      expect(total / standardUncertainty(pair.difference)).toBeLessThan(1.25);
    }
  });
  test("two windows teach nothing", () => {
    const few = { ...fixed, compared: fixed.points.filter((q) => q.window < 1 && q.run === "1") };
    expect(pastPrecision(compareInput(few, SETTINGS), "A", "B", 0)).toBeNull();
  });
});

describe("how long", () => {
  const input: DurationInput = {
    precision: statedPrecision(TYPICAL_BENCH),
    probeK: 0.29,
    smallest: 15,
    specimens: 3,
    comparisons: 2,
    perDay: 8,
    swaps: "daily",
    seed: 4,
  };
  test("days fall as the difference that matters grows; 95 % takes no fewer than 80 %", () => {
    const small = duration(input, 0.8);
    const large = duration({ ...input, smallest: 60 }, 0.8);
    expect(large.days80!).toBeLessThanOrEqual(small.days80!);
    expect(small.days95!).toBeGreaterThanOrEqual(small.days80!);
    for (const row of small.curve) expect(row.at95).toBeGreaterThan(row.at80);
    expect(small.curve[2].balanced).toBe(true);
    expect(small.curve[0].balanced).toBe(false);
  });
  test("a bench that never swaps is told to swap, and every other advice is shorter than now", () => {
    const stuck = duration({ ...input, swaps: "none" }, 0.8);
    expect(stuck.days80).toBeNull();
    expect(stuck.shorter.map((s) => s.kind)).toContain("swap");
    const now = duration(input, 0.8);
    for (const s of now.shorter) expect(s.days!).toBeLessThan(now.days80!);
  });
  test("without a difference that matters there is nothing to reckon", () => {
    expect(duration({ ...input, smallest: 0 }, 0.8)).toMatchObject({ days80: null, days95: null });
  });
  test("even after a whole turn, uneven before; swapping at noon halves the turn", () => {
    expect(sizeAfter(input, 3).stationShareLeft).toBeLessThan(1e-9);
    expect(sizeAfter(input, 2).stationShareLeft).toBeGreaterThan(0);
    expect(sizeAfter({ ...input, specimens: 2, swaps: "noon" }, 1).stationShareLeft).toBeLessThan(1e-9);
    expect(sizeAfter({ ...input, swaps: "none" }, 5)).toMatchObject({
      stationShareLeft: 1,
      arrangements: 1,
      windows: 40,
    });
  });
});

describe("more days never tell less", () => {
  test.each(["daily", "noon", "none"] as const)("swaps %s, two to eight specimens", (swaps) => {
    const p = statedPrecision(TYPICAL_BENCH);
    for (const specimens of [2, 3, 4, 5, 6, 8]) {
      let before = Infinity;
      for (let days = 1; days <= 12; days++) {
        const size = sizeAfter({ specimens, comparisons: 1, perDay: 8, swaps, seed: 3 }, days);
        const now = differenceUncertainty(p, size).total;
        expect({ swaps, specimens, days, worse: now > before * 1.0001 }).toMatchObject({ worse: false });
        before = now;
      }
    }
  });
  test("nor does the curve that Plan draws, whichever chance is wanted", () => {
    for (const specimens of [2, 3, 4, 8])
      for (const swaps of ["daily", "noon", "none"] as const) {
        const { curve, days80 } = duration(
          {
            precision: statedPrecision(TYPICAL_BENCH),
            probeK: 0.29,
            smallest: 9,
            specimens,
            comparisons: 1,
            perDay: 8,
            swaps,
            seed: 4,
          },
          0.8,
        );
        curve.slice(1).forEach((row, i) => {
          expect(row.at80).toBeLessThanOrEqual(curve[i].at80);
          expect(row.at95).toBeLessThanOrEqual(curve[i].at95);
        });
        // Table and curve say one thing.
        const first = curve.find((row) => row.at80 <= 9);
        if (first) expect(days80).toBe(first.days);
      }
  });
  test("an odd day of two swapped boxes is weighed as the judge weighs it: places cancel all the same", () => {
    const size = (days: number) =>
      sizeAfter({ specimens: 2, comparisons: 1, perDay: 8, swaps: "daily", seed: 3 }, days);
    expect(size(3).stationShareLeft).toBeLessThan(1e-12);
    // Two days one way and one the other, each way counting half: 8 windows of three days are worth those of 2 2/3.
    expect(size(3).evenness).toBeCloseTo(8 / 9, 12);
    expect(size(4).evenness).toBeCloseTo(1, 12);
  });
});
