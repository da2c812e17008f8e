import { assembleRun } from "../analysis/assemble";
import { reduceExperiment, wholeRun, type Reduction } from "../analysis/reduce";
import { simulateBench } from "../rig/bench";
import { judgeReduction } from "./judgeReduction";
import { withoutEachDay } from "./withoutDay";
import { clearDays, oneRun, testBench, testSettings as settings } from "../../../scripts/testing/bench";

function bench(days: number): Reduction {
  const dates = Array.from({ length: days }, (_, d) => 5 + d);
  const [run] = simulateBench(testBench({ runs: oneRun(clearDays(dates)) }));
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
