import { backyardSettings } from "../../../scripts/testing/bench";
import { assembleRun } from "../analysis/assemble";
import { reduceExperiment, wholeRun } from "../analysis/reduce";
import { CORRUGATED, simulateBench } from "../rig/bench";
import { byTurns } from "./byTurns";
import { judgeReduction } from "./judgeReduction";

const SETTINGS = { ...backyardSettings, smallestDifference: 20 };
const HOUR = 3_600_000;
const at = (day: number, hour: number) => Date.UTC(2026, 8, day, 0) + hour * HOUR;
/** UTC: four times up on each of two days. */
const UP = [5, 6].flatMap((d) => [8.5, 10, 11.5, 13].map((h) => [at(d, h), at(d, h + 0.75)] as const));

/** Box A gives `factor` times its rise while its mirror is up; B stands beside it, or not. */
function turned(factor: number, { seed = 1, alone = false, presses = UP.flat() } = {}) {
  const lanes = alone ? ["A"] : ["A", "B"];
  const [run] = simulateBench({
    seed,
    stepS: 60,
    hours: [8, 18],
    accuracy: { probeK: 0.3, speedShare: 0.05, profileLimit: 0.05, sunShare: 0.05, ambientK: 0.5, stationShare: 0.005 },
    inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
    specimens: lanes.map((lane) => ({ lane, variant: lane, collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 })),
    runs: [
      {
        run: "1",
        stations: Object.fromEntries(lanes.map((l, i) => [l, i + 1])),
        days: [5, 6].map((d) => ({ dateMs: at(d, 10), cloudiness: 0.1, meanAmbientC: 9, meanWind: 1.6 })),
      },
    ],
  });
  const inlet = run.channels.find((c) => c.name === "A inlet")!.values;
  const isUp = (ms: number) => UP.some(([from, to]) => ms >= from && ms < to);
  const outlet = run.channels.find((c) => c.name === "A outlet")!.values;
  const warmer = outlet.map((v, i) => (isUp(run.log.times[i]) ? inlet[i] + factor * (v - inlet[i]) : v));
  // The meter stands in the outlet: the same mass of warmer air runs faster.
  const faster = (v: number, i: number) => (v * (warmer[i] + 273.15)) / (outlet[i] + 273.15);
  const channels = run.channels.map((c) => {
    if (c.name === "A outlet") return { ...c, values: warmer };
    return c.name === "A speed" ? { ...c, values: c.values.map(faster) } : c;
  });
  const events = presses.map((atMs) => ({ run: "1", kind: "mirror" as const, lane: "A", atMs }));
  const settings = { ...SETTINGS, events };
  const reduction = reduceExperiment([wholeRun(run.setup, assembleRun(channels))], settings);
  const found = byTurns({ points: reduction.points, events, smallestDifference: 20, level: 0.05 });
  return { found, judgement: judgeReduction(reduction, settings) };
}

const answer = (factor: number, more: Parameters<typeof turned>[1] = {}) => turned(factor, more).found!;

describe("a mirror turned up and down by turns", () => {
  test("is compared with itself, not with the other box, and the planted gain is found", () => {
    const { found, judgement } = turned(1.25);
    expect(judgement.verdict).toEqual(found);
    expect(found).toMatchObject({ lane: "A", what: "mirror", decision: "more", meaning: "exceeds", days: 2 });
    expect(found!.ratio.low).toBeLessThan(1.25);
    expect(found!.ratio.high).toBeGreaterThan(1.25);
    expect(found!.ratio.high - found!.ratio.low).toBeLessThan(0.1);
  });

  test("that takes light is said to give less", () => expect(answer(0.85).decision).toBe("less"));

  test("holds its 95 % over twenty benches, with another box beside it and alone", () => {
    for (const alone of [false, true]) {
      const found = Array.from({ length: 20 }, (_, i) => answer(1.2, { seed: 20 + i, alone }).ratio);
      const held = found.filter((r) => r.low < 1.2 && r.high > 1.2).length;
      expect(held).toBeGreaterThanOrEqual(17);
    }
  });

  test("that does nothing is never said to", () => {
    const said = Array.from({ length: 20 }, (_, i) => answer(1, { seed: 60 + i }).decision);
    expect(said.filter((d) => d === "more" || d === "less").length).toBeLessThanOrEqual(3);
    expect(said).toContain("equal");
  });

  test("what lies below still says that it takes both states together", () => {
    const doubt = turned(1.25).judgement.doubts.find((d) => d.kind === "changedMidway");
    expect(doubt).toMatchObject({ answered: true, lane: "A" });
  });

  test("aimed anew each time, without effect, leaves the comparison of the lanes as it is", () => {
    const { found, judgement } = turned(1, { seed: 61 });
    expect(["equal", "cannotTell"]).toContain(found!.decision);
    expect(judgement.verdict.kind).not.toBe("turned");
  });

  test("two questions share one level: a fifth of it is left to the lanes, all of it where nothing was turned by turns", () => {
    expect(turned(1.25).judgement.level).toBeCloseTo(0.01, 12);
    expect(turned(1.25, { presses: [UP[0][0]] }).judgement.level).toBe(0.05);
  });
  test("turned once is a change in the middle, and no test by turns", () => {
    const once = turned(1.25, { presses: [UP[0][0]] }).judgement;
    expect(once.verdict.kind).not.toBe("turned");
    expect(once.doubts.find((d) => d.kind === "changedMidway")).toMatchObject({ answered: false });
  });
});
