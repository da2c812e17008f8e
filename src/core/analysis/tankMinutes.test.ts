import { backyardSettings } from "../../../scripts/testing/bench";
import { specificHeat } from "../fluids/fluid";
import { judgeReduction } from "../judge/judgeReduction";
import { backyardRules } from "../log/windows";
import { CORRUGATED, simulateBench, type BenchPlan } from "../rig/bench";
import type { RigCollector } from "../rig/simulate";
import { sunPosition } from "../sun/position";
import { coverageFactor } from "../uncertainty/coverage";
import { effectiveDof, standardUncertainty } from "../uncertainty/uncertain";
import { assembleRun, type LoggedChannel } from "./assemble";
import { reduceExperiment, wholeRun } from "./reduce";
import type { LaneSetup, RunSetup } from "./setup";
import { doubtWords } from "../../words/doubts";
import { byDaylight, leavesOpen } from "../judge/byDaylight";
import { fittedByDaylight, foundByDaylight } from "../method/find/dynamic";
import { methodSpans } from "../method/find/span";
import { TANK_WATER, tankLost, tankMinutes } from "./tankMinutes";

const MASS = 120;
const ACCURACY = {
  probeK: 0.2,
  speedShare: 0.05,
  profileLimit: 0.05,
  sunShare: 0.05,
  ambientK: 0.5,
  stationShare: 0.005,
};
const LOOP: RigCollector = { ...CORRUGATED, streamTransfer: 250, referenceFlowPerArea: 0.015, capacity: 8000 };
const plan = (better: Partial<RigCollector>, massB = MASS): BenchPlan => ({
  seed: 11,
  accuracy: ACCURACY,
  stepS: 60,
  hours: [0, 24],
  inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
  fluid: { kind: "water" },
  specimens: (["A", "B"] as const).map((lane) => ({
    lane,
    variant: lane,
    collector: lane === "A" ? LOOP : { ...LOOP, ...better },
    areaM2: 2,
    massFlowKgPerS: 0.03,
    tank: { massKg: lane === "A" ? MASS : massB, lossWK: 3, fromC: 12 },
  })),
  runs: [
    {
      run: "1",
      days: [5, 6, 7].map((d) => ({
        dateMs: Date.UTC(2026, 9, d, 10),
        cloudiness: 0.2,
        meanAmbientC: 8,
        meanWind: 1.5,
      })),
      stations: { A: 1, B: 2 },
    },
  ],
});
const tankOnly = (c: LoggedChannel) => ["tank", "irradiance", "ambient"].includes(c.kind);
const byTank = (setup: RunSetup, massKg = { A: MASS, B: MASS }): RunSetup => ({
  ...setup,
  lanes: setup.lanes.map((l): LaneSetup => ({
    ...l,
    flow: {
      kind: "tank",
      massKg: massKg[l.lane as "A" | "B"],
      meter: { key: l.lane, at: "outlet", limitShare: 0.02, limitFixed: 0 },
    },
  })),
});
const SETTINGS = {
  ...backyardSettings,
  rules: backyardRules("water"),
  operatingPoint: { ...backyardSettings.operatingPoint, flowPerArea: 0.015 },
};
const judged = (of: BenchPlan, keep: (c: LoggedChannel) => boolean, massKg?: { A: number; B: number }) => {
  const runs = simulateBench(of);
  const reduction = reduceExperiment(
    runs.map((r) => wholeRun(byTank(r.setup, massKg), assembleRun(r.channels.filter(keep)))),
    SETTINGS,
  );
  return { reduction, judgement: judgeReduction(reduction, SETTINGS), log: runs[0].log };
};

describe("a bench of tanks, whose temperatures are all that is logged", () => {
  const { reduction, judgement, log } = judged(plan({ tauAlpha: 0.88 }), tankOnly);

  test("gives heat by the hour and by the day, and lacks nothing", () => {
    expect(reduction.runs[0].missing).toEqual([]);
    expect(reduction.heat.days.map((d) => d.lane)).toEqual(["A", "B", "A", "B", "A", "B"]);
    expect(reduction.heat.hours.length).toBeGreaterThan(20);
  });

  test("an hour's heat is the rig's own, within its ±", () => {
    const { hours } = reduction.heat;
    for (const hour of hours) {
      const truth = log.truth.heat.get(hour.lane)!;
      const own = truth.filter((_, i) => log.times[i] >= hour.startMs && log.times[i] < hour.endMs);
      const watts = (2 * own.reduce((s, v) => s + v, 0)) / own.length;
      const half = coverageFactor(effectiveDof(hour.heat)) * standardUncertainty(hour.heat);
      expect(Math.abs(hour.heat.value - watts)).toBeLessThan(half + 10);
      expect(half).toBeLessThan(0.12 * Math.max(300, watts));
    }
  });

  test("the better box wins as tested, by hours, with no flow told", () => {
    expect(judgement.way).toBe("tested");
    expect(judgement.verdict).toMatchObject({ kind: "winner", best: ["B"] });
    expect(judgement.doubts.map((d) => d.kind)).not.toContain("unequalFlow");
    expect(judgement.doubts.map((d) => d.kind)).not.toContain("impossible");
  });
});
describe("tanks that began the day with one of them warm", () => {
  const told = (better: Partial<RigCollector>) => {
    const cold = plan(better);
    const specimens = cold.specimens.map((s) => (s.lane === "B" ? { ...s, tank: { ...s.tank!, fromC: 38 } } : s));
    const runs = simulateBench({ ...cold, specimens }).map((r) =>
      wholeRun(byTank(r.setup), assembleRun(r.channels.filter(tankOnly))),
    );
    const reduction = reduceExperiment(runs, SETTINGS);
    const judgement = judgeReduction(reduction, SETTINGS);
    const lanes = ["A", "B"].map((lane) => ({ lane, variant: lane, tank: null, pipeM: null }));
    const input = { ...SETTINGS, lanes, spans: runs.flatMap((r) => methodSpans(r, [])) };
    const found = foundByDaylight(fittedByDaylight(input), input);
    return { judgement, found, verdict: byDaylight(judgement, reduction.lanes, found, { ...SETTINGS, dismissed: {} }) };
  };

  test("are named, and not led by hours; all daylight moves both boxes to one inlet and names the better one", () => {
    const { judgement, verdict, found } = told({ tauAlpha: 0.88 });
    const doubt = judgement.doubts.find((d) => d.kind === "inletsDiffer")!;
    expect(doubt).toMatchObject({ tanks: true });
    const words = doubtWords(doubt, { zone: "UTC", system: "metric" });
    expect(words.title).toMatch(/^The tanks of [AB] and [AB] were not equally warm$/);
    expect(words.remedy).toContain("both tanks at one temperature");
    expect(judgement.verdict.kind).toBe("cannotTell");
    expect(leavesOpen(judgement)).toBe(true);
    expect(verdict).toMatchObject({ kind: "daylight", decision: "winner", best: ["B"] });
    expect([...found.capacities.values()]).toEqual([NaN, NaN]);
    // What each tank loses itself is in the ± of its heat.
    const heat = found.findings.find((f) => f.name === "heatAtPoint" && f.lane === "A")!.figure;
    expect([...heat.parts.values()].map((p) => p.source.kind)).toEqual(
      expect.arrayContaining(["tankWater", "tankLoss"]),
    );
  });

  test("and hold like boxes are never told apart", () => {
    expect(told({}).verdict?.decision ?? "open").not.toBe("winner");
  });
});

test("like boxes are no winner; a tank that holds a tenth less than was said makes one look better, and the water's ± says how far", () => {
  expect(judged(plan({}), tankOnly).judgement.verdict.kind).not.toBe("winner");
  const { judgement } = judged(plan({}), tankOnly, { A: MASS, B: 0.9 * MASS });
  const [pair] = judgement.pairs;
  expect(pair.difference.value).toBeGreaterThan(20);
  const water = [...pair.difference.parts.values()].filter((p) => p.source.kind === "tankWater");
  expect(water.length).toBe(2);
});

test("a tank beside which nobody logged the outside air is told widely", () => {
  const withAir = judged(plan({}), tankOnly).judgement.pairs[0];
  const without = judged(plan({}), (c) => c.kind === "tank").judgement.pairs[0];
  expect(without.expanded).toBeGreaterThan(withAir.expanded);
});

describe("minutes of a tank", () => {
  const setup = byTank(
    simulateBench({ ...plan({}), runs: [{ ...plan({}).runs[0], days: plan({}).runs[0].days.slice(0, 1) }] })[0].setup,
  );
  const lane = setup.lanes[0];
  const startMs = Date.UTC(2026, 9, 5);
  const cp = specificHeat(TANK_WATER, { temperatureC: 30, pressurePa: 101325, relativeHumidity: 0 });
  /** Warms by day at a power, cools by night for its own loss. */
  const curve = (stepMs: number, hours: number, { power, loss }: { power: number; loss: number }) => {
    const n = (hours * 3_600_000) / stepMs;
    const out = new Float64Array(n);
    let T = 30;
    for (let i = 0; i < n; i++) {
      out[i] = T;
      const lit = sunPosition(startMs + i * stepMs, setup.place).altitude > 0;
      T += (((lit ? power : 0) - loss * (T - 10)) * stepMs) / 1000 / (MASS * cp);
    }
    return out;
  };
  const of = (stepMs: number, tank: Float64Array) =>
    tankMinutes(setup, lane, MASS, { startMs, stepMs, tank, ambient: new Float64Array(tank.length).fill(10) });

  test("its own loss comes from its nights, its heat from its days, at whatever step", () => {
    for (const stepMs of [60_000, 300_000]) {
      const minutes = of(stepMs, curve(stepMs, 48, { power: 600, loss: 4 }));
      expect(minutes.tankLoss).toMatchObject({ nights: expect.any(Number) });
      expect(minutes.tankLoss!.wattsPerK).toBeCloseTo(4, 0);
      const noon = Math.round((11 * 3_600_000) / stepMs);
      expect(minutes.heat[noon]).toBeGreaterThan(570);
      expect(minutes.heat[noon]).toBeLessThan(630);
    }
  });

  test("without a night the loss is what tanks usually have, as wide as they differ", () => {
    const { tankLoss } = of(60_000, curve(60_000, 48, { power: 600, loss: 4 }).slice(8 * 60, 15 * 60));
    expect(tankLoss).toMatchObject({ nights: 0 });
    expect(standardUncertainty(tankLost(tankLoss!, "A", 40, 10))).toBeGreaterThan(30);
  });

  test("water drawn is no loss and water filled in is no sun", () => {
    const tank = curve(60_000, 24, { power: 600, loss: 4 });
    for (let i = 11 * 60; i < tank.length; i++) tank[i] -= 6;
    for (let i = 12 * 60; i < tank.length; i++) tank[i] += 20;
    const minutes = of(60_000, tank);
    expect(Math.min(...minutes.heat.filter((v) => !Number.isNaN(v)))).toBeGreaterThan(-200);
    expect(Math.max(...minutes.heat.filter((v) => !Number.isNaN(v)))).toBeLessThan(1500);
    expect(minutes.heat[11 * 60 - 5]).toBeNaN();
  });
});
