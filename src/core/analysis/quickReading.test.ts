import { standardPressure } from "../fluids/moistAir";
import { simulateBench } from "../rig/bench";
import { monteCarlo } from "../uncertainty/monteCarlo";
import { seededRandom } from "../random/seededRandom";
import {
  fromLimit,
  standardUncertainty,
  subtract,
  combine,
  scale,
  withSource,
  type Uncertain,
  divide,
} from "../uncertainty/uncertain";
import { type SourceIdentity } from "../uncertainty/source";
import { whatIfs } from "../uncertainty/whatIf";
import { wholeRun } from "./reduce";
import { analyseExperiment } from "../../../scripts/testing/analyse";
import { assembleRun } from "./assemble";
import { quickHeat, quickHeatModel, type QuickReading } from "./quickReading";
import { testBench, testLane, testSettings } from "../../../scripts/testing/bench";

const READING: QuickReading = {
  inletC: 18,
  outletC: 41,
  speedMs: 3.6,
  diameterM: 0.125,
  pressurePa: standardPressure(1120),
  relativeHumidity: 0.3,
  probeLimitK: 0.5,
  speedLimitShare: 0.03,
  profileFactor: 0.86,
  profileLimit: 0.03,
};

test("heat of a stream by hand: about 0.97 kg/m³ · 0.01227 m² · 0.86 · 3.6 m/s · 1,008 J/(kg·K) · 23 K", () => {
  expect(quickHeat(READING).heat.value / (0.974 * 0.012272 * 0.86 * 3.6 * 1008 * 23)).toBeCloseTo(1, 1);
  expect(quickHeat({ ...READING, outletC: 18 }).heat.value).toBeCloseTo(0, 9);
  expect(() => quickHeat({ ...READING, speedMs: -1 })).toThrow(RangeError);
});

test("first order agrees with drawing (GUM Supplement 1) within 3 %", () => {
  const r = READING;
  const drawn = monteCarlo(
    [
      { kind: "rectangular", value: r.inletC, limit: r.probeLimitK },
      { kind: "rectangular", value: r.outletC, limit: r.probeLimitK },
      { kind: "rectangular", value: r.speedMs, limit: r.speedMs * r.speedLimitShare },
      { kind: "rectangular", value: r.profileFactor, limit: r.profileLimit },
    ],
    quickHeatModel(r),
    { draws: 20000, seed: 4 },
  );
  const { heat } = quickHeat(r);
  expect(drawn.mean / heat.value).toBeCloseTo(1, 2);
  expect(drawn.standardUncertainty / standardUncertainty(heat)).toBeGreaterThan(0.97);
  expect(drawn.standardUncertainty / standardUncertainty(heat)).toBeLessThan(1.03);
});

test("a gain error of the shared sun sensor leaves the ratio of two lanes alone", () => {
  const sun = withSource(850, 30, { kind: "sunSensor", sensor: "sun", owner: "", dof: Infinity });
  const [a, b] = [480, 420].map((q) => divide({ value: q, parts: new Map() }, sun));
  expect(standardUncertainty(divide(a, b))).toBeLessThan(1e-12);
  expect(standardUncertainty(subtract(a, b))).toBeLessThan(standardUncertainty(a) / 5);
});

test("what-if: the largest source gains most; a carried meter cancels; nothing makes it worse", () => {
  const part = (standard: number, source: SourceIdentity) =>
    withSource(0, Math.abs(standard), { ...source, owner: "", dof: Infinity });
  const figure = combine(20, [
    [1, part(9, { kind: "probe", probe: "a" })],
    [-1, part(8, { kind: "probe", probe: "b" })],
    [1, part(4, { kind: "speedMeter", meter: "1" })],
    [-1, part(4, { kind: "speedMeter", meter: "2" })],
    [1, part(2, { kind: "curveFit", lane: "A", scatter: "window", row: 0 })],
  ]);
  const options = whatIfs(figure, { probeK: 0.29, profileShare: 0 });
  expect(options[0].kind).toBe("calibrateProbes");
  expect(options.every((o) => o.gain > 0 && o.gain < 1)).toBe(true);
  const carried = options.find((o) => o.kind === "carryMeter")!;
  expect(carried.expanded).toBeCloseTo(1.96 * Math.sqrt(81 + 64 + 4), 1);
});

test("95 % intervals of heat, efficiency and ratio of lanes hold the truth in about 95 of 100", () => {
  const random = seededRandom(9);
  const inside = { heat: 0, efficiency: 0, ratio: 0 };
  const N = 600;
  for (let n = 0; n < N; n++) {
    // The truth, then what imperfect instruments show of it: each error within its stated limit, the sun sensor shared.
    const sunGain = 1 + random.within(0.03);
    const lanes = [41, 38.5].map((outletC) => {
      const truth = { ...READING, outletC };
      const shown: QuickReading = {
        ...truth,
        inletC: truth.inletC + random.within(0.5),
        outletC: outletC + random.within(0.5),
        speedMs: truth.speedMs * (1 + random.within(0.03)),
      };
      const profile = truth.profileFactor + random.within(0.03);
      return { truth: quickHeatModel(truth)([truth.inletC, outletC, truth.speedMs, profile]), read: quickHeat(shown) };
    });
    const sun = withSource(850 * sunGain, fromLimit(0.03 * 850), {
      kind: "sunSensor",
      sensor: "sun",
      owner: "",
      dof: Infinity,
    });
    // Each lane has instruments of its own: their sources get the lane's name.
    const own = lanes.map(({ read }, i): Uncertain => ({
      value: read.heat.value,
      parts: new Map([...read.heat.parts].map(([k, part]) => [`${i}${k}`, part])),
    }));
    const holds = (figure: Uncertain, truth: number) =>
      Math.abs(figure.value - truth) <= 1.96 * standardUncertainty(figure);
    if (holds(own[0], lanes[0].truth)) inside.heat++;
    const efficiencies = own.map((h) => divide(h, scale(sun, 2)));
    if (holds(efficiencies[0], lanes[0].truth / 1700)) inside.efficiency++;
    if (holds(divide(efficiencies[0], efficiencies[1]), lanes[0].truth / lanes[1].truth)) inside.ratio++;
  }
  // Sums of rectangular errors have short tails: somewhat above 95 % is right, below 93 % would be wrong.
  for (const count of Object.values(inside)) {
    expect(count / N).toBeGreaterThan(0.93);
    expect(count / N).toBeLessThan(0.995);
  }
});

test("without a sun sensor the modelled clear sky stands in, near what a sensor would have shown on a clear day, and says so", () => {
  const [run] = simulateBench(
    testBench({
      seed: 8,
      accuracy: {
        probeK: 0.2,
        speedShare: 0.02,
        profileLimit: 0.01,
        sunShare: 0.02,
        ambientK: 0.2,
        stationShare: 0.003,
      },
      specimens: [testLane("A", "A", 26), testLane("B", "B", 44)],
    }),
  );
  const settings = { ...testSettings, smallestDifference: 10, stationShare: 0.003 };
  const assembled = assembleRun(run.channels.filter((c) => c.kind !== "irradiance"));
  const blind = analyseExperiment([wholeRun(run.setup, assembled)], settings);
  expect(blind.points).toEqual([]);
  const modelled = analyseExperiment(
    [wholeRun({ ...run.setup, sunSensor: { key: "model", limitShare: 0.15, mounting: "modelled" } }, assembled)],
    settings,
  );
  const measuredRun = analyseExperiment([wholeRun(run.setup, assembleRun(run.channels))], settings);
  expect(modelled.points.length).toBeGreaterThan(5);
  expect(modelled.curves.get("A")!.eta0.value / measuredRun.curves.get("A")!.eta0.value).toBeCloseTo(1, 0);
  expect(modelled.judgement.doubts[0]).toMatchObject({ kind: "modelledSun", runs: ["1"] });
  expect(measuredRun.judgement.doubts.some((d) => d.kind === "modelledSun")).toBe(false);
});
