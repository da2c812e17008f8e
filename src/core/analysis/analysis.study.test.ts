import { analyse, bench, truthFor } from "../../../scripts/testing/threeLanes";
import { comparedWindows, drawWindows, TRUE } from "../../../scripts/testing/drawnWindows";
import { comparePairs } from "../judge/pairs";
import { seededRandom } from "../random/seededRandom";
import { figureBudget } from "../uncertainty/coverage";
import { fitLanes } from "./lanesFit";

describe("analysis of the rig over many seeds", () => {
  const SEEDS = 100;
  const counts = { eta0: 0, a1: 0, pairApart: 0, meshWins: 0, sheetWins: 0, a1Z: 0, eta0Z: 0 };
  beforeAll(() => {
    for (let seed = 1; seed <= SEEDS; seed++) {
      const { benches, points, curves, judgement } = analyse(bench(seed));
      const truth = truthFor(
        points.filter((p) => p.lane === "A"),
        benches,
      );
      const curve = curves.get("A")!;
      const eta0 = figureBudget(curve.eta0);
      const a1 = figureBudget(curve.a1);
      if (Math.abs(curve.eta0.value - truth.eta0) < eta0.expanded) counts.eta0++;
      if (Math.abs(curve.a1.value - truth.a1) < a1.expanded) counts.a1++;
      counts.eta0Z += ((curve.eta0.value - truth.eta0) / eta0.expanded) ** 2 / SEEDS;
      counts.a1Z += ((curve.a1.value - truth.a1) / a1.expanded) ** 2 / SEEDS;
      const pair = judgement.pairs.find((p) => p.identical)!;
      if (pair.decision === "aBetter" || pair.decision === "bBetter") counts.pairApart++;
      if (judgement.verdict.kind === "winner")
        counts[judgement.verdict.best.includes("B") ? "meshWins" : "sheetWins"]++;
    }
  }, 240000);

  test("η0 lies within its stated uncertainty in about 95 of 100", () =>
    expect(counts.eta0).toBeGreaterThanOrEqual(91));
  test("a1 lies within its stated uncertainty in about 95 of 100", () => expect(counts.a1).toBeGreaterThanOrEqual(91));
  test("and the stated uncertainty is not a blanket: typical errors fill a good part of it", () => {
    expect(Math.sqrt(counts.eta0Z)).toBeGreaterThan(0.2);
    expect(Math.sqrt(counts.a1Z)).toBeGreaterThan(0.2);
  });
  test("the identical pair is called different in at most about 5 of 100", () =>
    expect(counts.pairApart).toBeLessThanOrEqual(9));
  test("the better absorber wins often and the worse one hardly ever", () => {
    expect(counts.meshWins).toBeGreaterThan(60);
    expect(counts.sheetWins).toBeLessThanOrEqual(2);
  });
});

// Binomial noise of 600 draws is 0.9 %: two and a half of it about 93 to 97.
describe.each([
  [4, 1],
  [8, 2],
  [20, 2],
])("intervals over %i windows whose errors are as stated", (windows, days) => {
  const DRAWS = 600;
  const hits = { eta0: 0, a1: 0, pair: 0 };
  beforeAll(() => {
    for (let i = 0; i < DRAWS; i++) {
      const points = drawWindows({ windows, days, swapped: days > 1, unmodelled: 0 }, seededRandom(i));
      const { curves } = fitLanes(["A", "B"].map((l) => [l, points.filter((p) => p.lane === l)]));
      const { eta0, a1 } = curves.get("A")!;
      const [pair] = comparePairs(comparedWindows(points, curves)).pairs;
      if (Math.abs(eta0.value - TRUE.eta0) <= figureBudget(eta0).expanded) hits.eta0++;
      if (Math.abs(a1.value - TRUE.a1) <= figureBudget(a1).expanded) hits.a1++;
      if (Math.abs(pair.difference.value) <= pair.expanded) hits.pair++;
    }
  }, 120000);
  test.each(["eta0", "a1", "pair"] as const)("%s holds the truth in 93 to 97 of 100", (name) => {
    expect(hits[name] / DRAWS).toBeGreaterThan(0.93 - 0.022);
    expect(hits[name] / DRAWS).toBeLessThan(0.97 + 0.018);
  });
});
