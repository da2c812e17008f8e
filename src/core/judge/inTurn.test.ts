import { backyardSettings } from "../../../scripts/testing/bench";
import { assembleRun } from "../analysis/assemble";
import { reduceExperiment, wholeRun } from "../analysis/reduce";
import { seededRandom } from "../random/seededRandom";
import { CORRUGATED, simulateBench, type BenchPlan } from "../rig/bench";
import { steadyHeat, type RigCollector } from "../rig/simulate";
import { weatherLeft, weatherShare, type DayHeat } from "./inTurn";
import type { Judgement } from "./judge";
import { judgeReduction } from "./judgeReduction";

const BETTER: RigCollector = { ...CORRUGATED, streamTransfer: 44 };

/** One place, one logger: the lane that stands in the sun changes with the days, and so do haze, outside air and wind. */
function judged(
  order: string,
  { seed = 3, better = true, sensor = true } = {},
): { judgement: Judgement; truth: number } {
  const own = seededRandom(seed);
  const specimens: BenchPlan["specimens"] = ["A", "B"].map((lane) => ({
    lane,
    variant: lane,
    collector: better && lane === "B" ? BETTER : CORRUGATED,
    areaM2: 2,
    massFlowKgPerS: 0.04,
  }));
  const runs = simulateBench({
    seed,
    stepS: 60,
    hours: [8, 18],
    accuracy: { probeK: 0.3, speedShare: 0.03, profileLimit: 0.03, sunShare: 0.05, ambientK: 0.5, stationShare: 0.005 },
    inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
    specimens,
    runs: [...order].map((lane, d) => ({
      run: String(d + 1),
      days: [
        {
          dateMs: Date.UTC(2026, 8, 20 + d, 10),
          cloudiness: 0.1,
          meanAmbientC: 10 + own.within(5),
          meanWind: 1.7 + own.within(0.8),
        },
      ],
      stations: { [lane]: 1 },
      linkeTurbidity: 2.9 + own.within(0.8),
    })),
  }).map(({ setup, channels }) => {
    const modelled = { key: "modelled", limitShare: 0.15, mounting: "modelled" as const };
    const logged = sensor ? channels : channels.filter((c) => c.kind !== "irradiance");
    return wholeRun(sensor ? setup : { ...setup, sunSensor: modelled }, assembleRun(logged));
  });
  const judgement = judgeReduction(reduceExperiment(runs, backyardSettings), backyardSettings);
  const at = judgement.tested!.condition;
  const heat = (c: RigCollector) => steadyHeat(c, { ...at, wind: 1.7 }, 88500).heatPerArea;
  return { judgement, truth: heat(specimens[0].collector) - heat(specimens[1].collector) };
}

describe("one box after another at one place", () => {
  const { judgement, truth } = judged("AAABBB");

  test("has a verdict, and its interval holds what the boxes really give", () => {
    const [pair] = judgement.pairs;
    expect(judgement.verdict).toMatchObject({ kind: "winner", best: ["B"] });
    expect(truth).toBeLessThan(-30);
    expect(Math.abs(pair.difference.value - truth)).toBeLessThan(pair.expanded);
    expect(pair).toMatchObject({ inTurn: true, swapped: true, days: 6 });
  });

  test("says that they ran one after another, with the weather's part, and does not ask for a swap", () => {
    expect(judgement.doubts.map((d) => d.kind)).toContain("testedInTurn");
    expect(judgement.doubts.map((d) => d.kind)).not.toContain("neverSwapped");
    const doubt = judgement.doubts.find((d) => d.kind === "testedInTurn");
    expect(doubt).toMatchObject({ days: 6, modelledSun: false });
  });

  test("the ranking's chance is the sentence's", () => {
    const { verdict, ranking } = judged("ABAB", { better: false }).judgement;
    expect(verdict.kind).not.toBe("none");
    const best = ranking[0];
    const chance = verdict.kind === "cannotTell" ? verdict.chanceWrong : 0.5;
    expect(Math.abs(1 - best.chanceBest - chance)).toBeLessThan(0.08);
  });

  test("is wider without a sun sensor, and says that haze is part of it", () => {
    const without = judged("AAABBB", { sensor: false }).judgement;
    expect(without.pairs[0].expanded).toBeGreaterThan(1.5 * judgement.pairs[0].expanded);
    expect(without.doubts.find((d) => d.kind === "testedInTurn")).toMatchObject({ modelledSun: true });
  });

  test("equal boxes show no winner on twenty benches", () => {
    const said = Array.from(
      { length: 20 },
      (_, i) => judged("AABB", { seed: 50 + i, better: false }).judgement.verdict,
    );
    expect(said.filter((v) => v.kind === "none")).toEqual([]);
    expect(said.filter((v) => v.kind === "winner").length).toBeLessThanOrEqual(2);
  });
});

test("boxes that stood side by side are compared so, though no window of one is a window of the other", () => {
  const specimens: BenchPlan["specimens"] = ["A", "B"].map((lane) => ({
    lane,
    variant: lane,
    collector: CORRUGATED,
    areaM2: 2,
    massFlowKgPerS: 0.04,
  }));
  const [run] = simulateBench({
    seed: 8,
    stepS: 60,
    hours: [8, 18],
    accuracy: { probeK: 0.3, speedShare: 0.03, profileLimit: 0.03, sunShare: 0.05, ambientK: 0.5, stationShare: 0.005 },
    inletProgram: [
      { fromHour: 0, aboveAmbientK: 2 },
      { fromHour: 12, aboveAmbientK: 12 },
      { fromHour: 13.6, aboveAmbientK: 22 },
    ],
    specimens,
    runs: [
      {
        run: "1",
        days: [5, 6].map((d) => ({
          dateMs: Date.UTC(2026, 9, d, 10),
          cloudiness: 0.05,
          meanAmbientC: 9,
          meanWind: 1.6,
        })),
        stations: { A: 1, B: 2 },
      },
    ],
  });
  const reduction = reduceExperiment([wholeRun(run.setup, assembleRun(run.channels))], backyardSettings);
  // As if each lane had been steady at its own times only.
  const points = reduction.points.filter((p) => (p.window % 2 === 0) === (p.lane === "A"));
  const apart = { ...reduction, points, compared: points };
  const judgement = judgeReduction(apart, backyardSettings);
  expect(judgement.way).toBe("tested");
  expect(judgement.pairs[0].inTurn).toBe(false);
  expect(judgement.doubts.map((d) => d.kind)).not.toContain("testedInTurn");
});

describe("the weather's part", () => {
  const days = (...of: [number, number][]): DayHeat[] =>
    of.map(([d, value]) => ({ day: `2026-10-${String(d).padStart(2, "0")}`, value }));

  test("one day each rests on what is held beforehand alone", () => {
    const left = weatherLeft(days([1, 400]), days([30, 400]), weatherShare(false));
    expect(left.difference).toBeCloseTo(0.01 * 400 * Math.SQRT2, 6);
    expect(left.dof).toBeCloseTo(4, 6);
  });

  test("many days far apart say it themselves", () => {
    const random = seededRandom(9);
    const many = (from: number) =>
      Array.from({ length: 60 }, (_, i) => ({
        day: new Date(Date.UTC(2026, 0, from + 12 * i)).toISOString().slice(0, 10),
        value: 400 + 20 * random.normal(),
      }));
    const left = weatherLeft(many(1), many(7), weatherShare(false));
    expect(left.difference / (20 * Math.sqrt(2 / 60))).toBeGreaterThan(0.85);
    expect(left.difference / (20 * Math.sqrt(2 / 60))).toBeLessThan(1.15);
  });

  test("a block of days here and a block there are worth less than as many apart", () => {
    const block = weatherLeft(days([1, 400], [2, 410], [3, 405]), days([4, 400], [5, 402], [6, 398]), 0.015);
    const apart = weatherLeft(days([1, 400], [11, 410], [21, 405]), days([6, 400], [16, 402], [26, 398]), 0.015);
    expect(block.difference).toBeGreaterThan(1.1 * apart.difference);
  });

  test("is the same whichever lane is named first", () => {
    const [a, b] = [days([1, 400], [2, 380]), days([3, 390], [9, 405], [10, 401])];
    expect(weatherLeft(a, b, 0.02).difference).toBeCloseTo(weatherLeft(b, a, 0.02).difference, 9);
  });
});
