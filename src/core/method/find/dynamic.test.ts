import { assembleRun } from "../../analysis/assemble";
import { reduceRun, wholeRun } from "../../analysis/reduce";
import { standardRules } from "../../log/windows";
import { CORRUGATED, simulateBench, type BenchPlan } from "../../rig/bench";
import { steadyHeat } from "../../rig/simulate";
import { coverageFactor } from "../../uncertainty/coverage";
import { effectiveDof, standardUncertainty, type Uncertain } from "../../uncertainty/uncertain";
import { dynamic } from "./dynamic";
import type { FinderInput, Finding } from "./finding";
import { methodSpans } from "./span";

const OP = { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 };
const BETTER = { ...CORRUGATED, streamTransfer: 46 };

function bench(seed: number, cloudiness: number, more: Partial<BenchPlan> = {}, days = 3) {
  return simulateBench({
    seed,
    stepS: 20,
    hours: [8, 18],
    accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0 },
    specimens: [
      { lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
      { lane: "B", variant: "b", collector: BETTER, areaM2: 2, massFlowKgPerS: 0.04 },
    ],
    inletProgram: [
      { fromHour: 0, aboveAmbientK: 0 },
      { fromHour: 11, aboveAmbientK: 12 },
      { fromHour: 14, aboveAmbientK: 24 },
    ],
    runs: [
      {
        run: "1",
        days: Array.from({ length: days }, (_, d) => ({
          dateMs: Date.UTC(2026, 8, 5 + d, 10),
          cloudiness,
          meanAmbientC: 9,
          meanWind: 1.5,
        })),
        stations: { A: 1, B: 2 },
      },
    ],
    ...more,
  })[0];
}

function inputOf({ setup, channels }: ReturnType<typeof bench>): FinderInput {
  return {
    spans: methodSpans(wholeRun(setup, assembleRun(channels)), []),
    lanes: setup.lanes.map(({ lane, variant }) => ({ lane, variant, tank: null, pipeM: null })),
    basis: "mean",
    operatingPoint: OP,
    stationShare: 0,
  };
}
const half = (u: Uncertain) => coverageFactor(effectiveDof(u)) * standardUncertainty(u);
const pick = (all: readonly Finding[], name: string, lane = "A") =>
  all.find((f) => f.name === name && f.lane === lane)!;
const truth = (collector: typeof CORRUGATED) =>
  steadyHeat(collector, { ...OP, wind: 1.5, flowPerArea: 0.02 }, 88500).heatPerArea;

test("broken cloud, few windows or none: the terms and the heat at the point are found, with their ±", () => {
  const run = bench(4, 0.8);
  const { findings } = dynamic(inputOf(run));
  const heat = pick(findings, "heatAtPoint");
  expect(Math.abs(heat.figure.value - truth(CORRUGATED))).toBeLessThan(half(heat.figure));
  expect(half(heat.figure)).toBeLessThan(60);
  const eta0 = pick(findings, "eta0").figure;
  expect(eta0.value).toBeGreaterThan(0.55);
  expect(eta0.value).toBeLessThan(0.8);
  const difference = pick(findings, "difference").figure;
  const expected = truth(CORRUGATED) - truth(BETTER);
  expect(Math.abs(difference.value - expected)).toBeLessThan(half(difference));
  // What both share has cancelled: the difference is known better than either heat.
  expect(half(difference)).toBeLessThan(1.5 * half(heat.figure));
  // The box's lag, about capacity over what cools it.
  expect(pick(findings, "tau").figure.value).toBeGreaterThan(60);
  expect(pick(findings, "tau").figure.value).toBeLessThan(600);
});

test("intervals hold what they promise over seeded benches, clear and cloudy", () => {
  let held = 0;
  let all = 0;
  for (let seed = 1; seed <= 8; seed++) {
    const { findings } = dynamic(inputOf(bench(seed, seed % 2 ? 0.7 : 0.1)));
    for (const [lane, collector] of [
      ["A", CORRUGATED],
      ["B", BETTER],
    ] as const) {
      const heat = pick(findings, "heatAtPoint", lane).figure;
      all++;
      if (Math.abs(heat.value - truth(collector)) < half(heat)) held++;
    }
    const d = pick(findings, "difference").figure;
    all++;
    if (Math.abs(d.value - (truth(CORRUGATED) - truth(BETTER))) < half(d)) held++;
  }
  expect(held / all).toBeGreaterThan(0.8);
});

test("on one clear record it agrees with the steady windows", () => {
  const run = bench(9, 0.05, {}, 4);
  const input = inputOf(run);
  const { points } = reduceRun(wholeRun(run.setup, assembleRun(run.channels)), {
    rules: standardRules("air"),
    basis: "mean",
  });
  expect(points.length).toBeGreaterThan(8);
  const { findings } = dynamic(input);
  for (const p of points.slice(0, 6)) {
    const at = dynamic({
      ...input,
      operatingPoint: {
        ...OP,
        irradianceWm2: p.irradiance.value * p.modifier.value,
        ambientC: p.ambient.value,
        inletC: p.inlet.value,
      },
    });
    const q = pick(at.findings, "heatAtPoint", p.lane).figure.value;
    expect(Math.abs(q - p.heat.value / 2)).toBeLessThan(0.06 * q);
  }
  expect(pick(findings, "a1").figure.value).toBeGreaterThan(1);
});

test("wind that cools a bare-faced box is told, and no wind term is made of none", () => {
  const windy = { ...CORRUGATED, windLoss: 4 };
  const specimens = [{ lane: "A", variant: "a", collector: windy, areaM2: 2, massFlowKgPerS: 0.04 }];
  const plan = {
    specimens,
    runs: [
      {
        run: "1",
        days: [1, 2, 3, 4].map((d) => ({
          dateMs: Date.UTC(2026, 8, 4 + d, 10),
          cloudiness: 0.3,
          meanAmbientC: 9,
          meanWind: 0.5 + d,
        })),
        stations: { A: 1 },
      },
    ],
  };
  const { findings } = dynamic(inputOf(bench(3, 0.3, plan)));
  const a3 = findings.find((f) => f.name === "a3");
  expect(a3).toBeDefined();
  expect(a3!.figure.value).toBeGreaterThan(0.5);
});

test("what it needs and lacks is named", () => {
  const run = bench(2, 0.1, {}, 1);
  const without = (kind: string) =>
    dynamic(inputOf({ ...run, channels: run.channels.filter((c) => c.kind !== kind) })).gaps;
  expect(without("irradiance")).toEqual([{ lane: null, why: "noSun" }]);
  expect(without("ambient")).toEqual([{ lane: null, why: "noAmbient" }]);
  const short = run.channels.map((c) => ({ ...c, times: c.times.slice(0, 200), values: c.values.slice(0, 200) }));
  expect(dynamic(inputOf({ ...run, channels: short })).gaps).toEqual([{ lane: null, why: "fewHours" }]);
});
