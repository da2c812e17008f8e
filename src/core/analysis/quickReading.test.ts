import { standardPressure } from "../fluids/moistAir";
import { monteCarlo } from "../uncertainty/monteCarlo";
import { standardUncertainty, subtract, withSource, divide, type SourceTable } from "../uncertainty/uncertain";
import { whatIfs } from "../uncertainty/whatIf";
import { quickHeat, quickHeatModel, type QuickReading } from "./quickReading";

const READING: QuickReading = { inletC: 18, outletC: 41, speedMs: 3.6, diameterM: 0.125, pressurePa: standardPressure(1120), relativeHumidity: 0.3, probeLimitK: 0.5, speedLimitShare: 0.03, profileFactor: 0.86, profileLimit: 0.03 };

test("heat of a stream by hand: about 0.97 kg/m³ · 0.01227 m² · 0.86 · 3.6 m/s · 1,008 J/(kg·K) · 23 K", () => {
  expect(quickHeat(READING).heat.value / (0.974 * 0.012272 * 0.86 * 3.6 * 1008 * 23)).toBeCloseTo(1, 1);
  expect(quickHeat({ ...READING, outletC: 18 }).heat.value).toBeCloseTo(0, 9);
  expect(() => quickHeat({ ...READING, speedMs: -1 })).toThrow(RangeError);
});

test("first order agrees with drawing (GUM Supplement 1) within 3 %", () => {
  const r = READING;
  const drawn = monteCarlo([{ kind: "rectangular", value: r.inletC, limit: r.probeLimitK }, { kind: "rectangular", value: r.outletC, limit: r.probeLimitK }, { kind: "rectangular", value: r.speedMs, limit: r.speedMs * r.speedLimitShare }, { kind: "rectangular", value: r.profileFactor, limit: r.profileLimit }], quickHeatModel(r), { draws: 20000, seed: 4 });
  const { heat } = quickHeat(r);
  expect(drawn.mean / heat.value).toBeCloseTo(1, 2);
  expect(drawn.standardUncertainty / standardUncertainty(heat)).toBeGreaterThan(0.97);
  expect(drawn.standardUncertainty / standardUncertainty(heat)).toBeLessThan(1.03);
});

test("a gain error of the shared sun sensor leaves the ratio of two lanes alone", () => {
  const table: SourceTable = new Map();
  const sun = withSource(850, 30, { key: "sun", kind: "sunSensor", owner: "", dof: Infinity }, table);
  const [a, b] = [480, 420].map((q) => divide({ value: q, parts: new Map() }, sun));
  expect(standardUncertainty(divide(a, b))).toBeLessThan(1e-12);
  expect(standardUncertainty(subtract(a, b))).toBeLessThan(standardUncertainty(a) / 5);
});

test("what-if: the largest source gains most; a carried meter cancels; nothing makes it worse", () => {
  const table: SourceTable = new Map();
  const source = (key: string, kind: "probe" | "speedMeter" | "curveFit", part: number): [string, number] => {
    table.set(key, { key, kind, owner: "", dof: Infinity });
    return [key, part];
  };
  const figure = { value: 20, parts: new Map([source("probe:a", "probe", 9), source("probe:b", "probe", -8), source("flowMeter:1", "speedMeter", 4), source("flowMeter:2", "speedMeter", -4), source("fit", "curveFit", 2)]) };
  const options = whatIfs(figure, table, { probeK: 0.29, profileShare: 0 });
  expect(options[0].kind).toBe("calibrateProbes");
  expect(options.every((o) => o.gain > 0 && o.gain < 1)).toBe(true);
  const carried = options.find((o) => o.kind === "carryMeter")!;
  expect(carried.expanded).toBeCloseTo(1.96 * Math.sqrt(81 + 64 + 4), 1);
});
