import { wholeRun, reduceExperiment } from "../analysis/reduce";
import { assembleRun, type LoggedChannel } from "../analysis/assemble";
import { analyseExperiment } from "../../../scripts/testing/analyse";
import { bench, day, SETTINGS } from "../../../scripts/testing/threeLanes";
import { CORRUGATED, simulateBench, type BenchPlan } from "../rig/bench";
import { ratioOf } from "./tested";

const OUTSIDE = [{ fromHour: 0, aboveAmbientK: 0 }];

/** Inlets at outside air, so that no curve can be claimed; B takes over more of its heat than A. */
const atOutside = (seed: number, over: Partial<BenchPlan> = {}): BenchPlan =>
  bench(seed, {
    inletProgram: OUTSIDE,
    specimens: [
      { lane: "A", variant: "sheet", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
      { lane: "B", variant: "mesh", collector: { ...CORRUGATED, streamTransfer: 60 }, areaM2: 2, massFlowKgPerS: 0.04 },
    ],
    runs: [
      { run: "1", days: [day(5), day(6, 0.3)], stations: { A: 1, B: 2 } },
      { run: "2", days: [day(8), day(9, 0.3)], stations: { A: 2, B: 1 } },
    ],
    ...over,
  });

function judged(plan: BenchPlan, channels: (c: LoggedChannel) => boolean = () => true) {
  const runs = simulateBench(plan);
  return {
    benches: runs,
    ...analyseExperiment(
      runs.map((r) => wholeRun(r.setup, assembleRun(r.channels.filter(channels)))),
      { ...SETTINGS, curvature: "auto" },
    ),
  };
}
const noSun = (c: LoggedChannel) => c.kind !== "irradiance";

/** True ratio of the lanes' heat over all hours. */
function trueRatio({ benches }: ReturnType<typeof judged>): number {
  const sum = (lane: string) => benches.reduce((s, r) => s + r.log.truth.heat.get(lane)!.reduce((t, q) => t + q, 0), 0);
  return sum("B") / sum("A");
}

describe("a bench with inlets at outside air", () => {
  const found = judged(atOutside(3));
  test("gets its verdict as tested, and says so", () => {
    const { way, verdict, tested } = found.judgement;
    expect(way).toBe("tested");
    expect(verdict).toMatchObject({ kind: "winner", best: ["B"], next: ["A"] });
    expect(tested!.condition.inletC).toBeCloseTo(tested!.condition.ambientC, 0);
  });
  test("the true ratio lies in its interval, by every unit", () => {
    const truth = trueRatio(found);
    expect(truth).toBeGreaterThan(1.05);
    expect(found.judgement.tested!.by.map((u) => u.unit)).toContain("hour");
    for (const { pairs } of found.judgement.tested!.by)
      for (const p of pairs) {
        expect(p.low).toBeLessThan(1 / truth);
        expect(p.high).toBeGreaterThan(1 / truth);
      }
  });
  test("no sun sensor is needed: hours pair the lanes, and the answer is nearly the same", () => {
    const dark = judged(atOutside(3), noSun).judgement;
    expect(dark.tested!.unit).toBe("hour");
    expect(dark.verdict).toMatchObject({ kind: "winner", best: ["B"] });
    const ratio = (j: typeof dark) => ratioOf(j.pairs[0]).ratio;
    expect(ratio(dark)).toBeCloseTo(ratio(found.judgement), 1);
  });
  test("the sun's changes are no scatter: a bench twice as sunny at noon is no less sure", () => {
    const { expanded, level } = judged(atOutside(3), noSun).judgement.pairs[0];
    expect(expanded / level).toBeLessThan(0.06);
  });
});

describe("who does not reach a verdict", () => {
  test("equal boxes are not told apart, and within what matters are equal", () => {
    const same = atOutside(7, {
      specimens: ["A", "B"].map((lane) => ({
        lane,
        variant: lane,
        collector: CORRUGATED,
        areaM2: 2,
        massFlowKgPerS: 0.04,
      })),
    });
    expect(["cannotTell", "tie"]).toContain(judged(same, noSun).judgement.verdict.kind);
  });
  test("ten minutes are too short", () => {
    const [run] = simulateBench(atOutside(3, { hours: [12, 12.17] }));
    const { judgement } = analyseExperiment([wholeRun(run.setup, assembleRun(run.channels.filter(noSun)))], SETTINGS);
    expect(judgement.verdict).toEqual({ kind: "none", reason: "noHeat" });
  });
  test("two hours are too short to have a scatter", () => {
    const plan = atOutside(3, { hours: [11.9, 14.1], runs: [{ run: "1", days: [day(5)], stations: { A: 1, B: 2 } }] });
    expect(judged(plan, noSun).judgement.verdict).toEqual({ kind: "none", reason: "tooShort" });
  });
  test("one lane has nothing beside it", () => {
    const plan = atOutside(3);
    const single = { ...plan, specimens: plan.specimens.slice(0, 1), runs: [{ ...plan.runs[0], stations: { A: 1 } }] };
    expect(judged(single, noSun).judgement.verdict).toEqual({ kind: "none", reason: "oneLane" });
  });
});

test("turned round, the ratio is its inverse", () => {
  const pair = judged(atOutside(3), noSun).judgement.pairs[0];
  const forth = ratioOf(pair);
  const back = ratioOf({ ...pair, difference: { ...pair.difference, value: -pair.difference.value } });
  expect(back.ratio).toBeCloseTo(1 / forth.ratio, 12);
  expect(back.low).toBeCloseTo(1 / forth.high, 12);
});

test("hours of a run reduce the same whatever the rules for windows are", () => {
  const runs = simulateBench(atOutside(3)).map((r) => wholeRun(r.setup, assembleRun(r.channels)));
  const hours = (minIrradiance: number) =>
    reduceExperiment(runs, { ...SETTINGS, rules: { ...SETTINGS.rules, minIrradiance } }).heat.hours.map(
      (h) => h.heat.value,
    );
  expect(hours(1200)).toEqual(hours(700));
});
