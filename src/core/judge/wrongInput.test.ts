import { assembleRun, type LoggedChannel } from "../analysis/assemble";
import { wholeRun } from "../analysis/reduce";
import { asBuiltSchema } from "../experiment/schema/design";
import { CORRUGATED, simulateBench, type BenchPlan } from "../rig/bench";
import { analyseExperiment } from "../../../scripts/testing/analyse";
import { bench, day, SETTINGS } from "../../../scripts/testing/threeLanes";

const judged = (plan: BenchPlan, changed: (list: LoggedChannel[]) => LoggedChannel[] = (l) => l) =>
  analyseExperiment(
    simulateBench(plan).map((r) => wholeRun(r.setup, assembleRun(changed(r.channels)))),
    SETTINGS,
  ).judgement;

describe("what no test should be, through the whole chain", () => {
  test("no lanes: nothing, and why", () => {
    const plan = bench(1);
    const j = judged({ ...plan, runs: plan.runs.map((r) => ({ ...r, stations: {} })) });
    expect(j.verdict).toEqual({ kind: "none", reason: "noHeat" });
  });
  test("one lane: nothing to compare with", () => {
    const plan = bench(1);
    const j = judged({ ...plan, runs: plan.runs.map((r) => ({ ...r, stations: { A: 1 } })) });
    expect(j.verdict).toEqual({ kind: "none", reason: "oneLane" });
  });
  test("nine lanes side by side are ranked like three", () => {
    const letters = [..."ABCDEFGHI"];
    const stations = Object.fromEntries(letters.map((l, i) => [l, i + 1]));
    const j = judged(
      bench(2, {
        specimens: letters.map((lane, i) => ({
          lane,
          variant: lane,
          collector: { ...CORRUGATED, tauAlpha: 0.6 + 0.025 * i },
          areaM2: 2,
          massFlowKgPerS: 0.04,
        })),
        runs: [{ run: "1", days: [day(5), day(6)], stations }],
      }),
    );
    expect(j.ranking).toHaveLength(9);
    // Lanes that were never steady together are no pair.
    expect(j.pairs.length).toBeGreaterThan(30);
    expect(j.ranking[8].lane).toMatch(/[AB]/);
    for (const r of j.ranking) expect(r.rank[0]).toBeLessThanOrEqual(r.rank[1]);
  });
  test("readings all equal are no tie: nothing was heated, and that is said", () => {
    const j = judged(bench(3), (list) => list.map((c) => ({ ...c, values: c.values.map(() => 20) })));
    expect(["none", "stopped"]).toContain(j.verdict.kind);
  });
  test("ten minutes are too short", () => {
    const plan = bench(4, { hours: [12, 12 + 1 / 6], stepS: 10 });
    const j = judged({ ...plan, runs: [{ ...plan.runs[0], days: [day(5)] }] });
    expect(j.verdict).toEqual({ kind: "none", reason: "tooShort" });
  });
  test("an area of nothing is refused before anything is divided by it", () => {
    expect(asBuiltSchema.safeParse({ grossAreaM2: 0 }).success).toBe(false);
    expect(asBuiltSchema.safeParse({ grossAreaM2: 2 }).success).toBe(true);
  });
});
