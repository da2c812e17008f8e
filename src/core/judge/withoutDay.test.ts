import { assembleRun } from "../analysis/assemble";
import { reduceExperiment, wholeRun, type Reduction } from "../analysis/reduce";
import { standardRules } from "../log/windows";
import { CORRUGATED, simulateBench } from "../rig/bench";
import { judgeReduction } from "./judgeReduction";
import { withoutEachDay } from "./withoutDay";

const settings = {
  rules: standardRules("air"),
  basis: "mean" as const,
  operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
  smallestDifference: 15,
  stationShare: 0.004,
  curvature: "auto" as const,
  seed: 1,
};

function bench(days: number): Reduction {
  const [run] = simulateBench({
    seed: 5,
    stepS: 30,
    hours: [9, 17],
    accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
    specimens: [
      { lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
      { lane: "B", variant: "b", collector: { ...CORRUGATED, streamTransfer: 46 }, areaM2: 2, massFlowKgPerS: 0.04 },
    ],
    inletProgram: [
      { fromHour: 0, aboveAmbientK: 0 },
      { fromHour: 11.5, aboveAmbientK: 12 },
      { fromHour: 13, aboveAmbientK: 24 },
    ],
    runs: [
      {
        run: "1",
        days: Array.from({ length: days }, (_, d) => ({
          dateMs: Date.UTC(2026, 9, 5 + d, 10),
          cloudiness: 0,
          meanAmbientC: 9,
          meanWind: 1.5,
        })),
        stations: { A: 1, B: 2 },
      },
    ],
  });
  return reduceExperiment([wholeRun(run.setup, assembleRun(run.channels))], settings);
}

test("a plain lead stays whichever day is left out, and every day is left out once", () => {
  const reduction = bench(3);
  const whole = judgeReduction(reduction, settings);
  const left = withoutEachDay(reduction, settings, whole);
  expect(left.map((d) => d.day)).toEqual(["2026-10-05", "2026-10-06", "2026-10-07"]);
  for (const d of left) {
    expect(d).toMatchObject({ best: ["B"], turned: false });
    expect(d.difference!.value).toBeGreaterThan(20);
  }
  // The points themselves are untouched.
  expect(judgeReduction(reduction, settings).verdict).toEqual(whole.verdict);
});

test("one day that stands against all others turns the answer when it goes", () => {
  const reduction = bench(3);
  const flipped: Reduction = {
    ...reduction,
    runs: reduction.runs.map((r) => ({
      ...r,
      points: r.points.map((p) =>
        p.lane === "B" && p.day !== "2026-10-06"
          ? {
              ...p,
              efficiency: { ...p.efficiency, value: p.efficiency.value * 0.84 },
              heat: { ...p.heat, value: p.heat.value * 0.84 },
            }
          : p,
      ),
    })),
  };
  const whole = { ...judgeReduction(reduction, settings) };
  const left = withoutEachDay(flipped, settings, whole);
  expect(left.find((d) => d.day === "2026-10-06")).toMatchObject({ turned: true });
});

test("one day alone has nothing to leave out", () => {
  const reduction = bench(1);
  expect(withoutEachDay(reduction, settings, judgeReduction(reduction, settings))).toEqual([]);
});
