import { saturationPressure, dewPoint } from "../fluids/moistAir";
import { exact, standardUncertainty, withSource } from "../uncertainty/uncertain";
import type { Curve } from "./curve";
import { efficiencyFactorOf, flowFactor, removalFactor, stagnationOf } from "./textbook";

const curve = (a2: number | null): Curve =>
  ({
    lane: "A",
    eta0: withSource(0.7, 0.01, { kind: "sunSensor", sensor: "s", owner: "", dof: Infinity }),
    a1: exact(5),
    a2: a2 === null ? null : exact(a2),
    xRange: [0.01, 0.04],
  }) as unknown as Curve;

describe("the textbook's factors", () => {
  test("F″ and F_R of DB example 6.7.1: F′ 0.84, U_L 8, 2 m², 0.03 kg/s of water: 0.95 and 0.80", () => {
    const units = (2 * 8 * 0.84) / (0.03 * 4190);
    expect(flowFactor(units)).toBeCloseTo(0.948, 3);
    expect(removalFactor(0.84, units)).toBeCloseTo(0.797, 3);
  });
  test("F″ is 1 for endless flow, meets its series, and falls", () => {
    expect(flowFactor(0)).toBe(1);
    expect(flowFactor(1e-6)).toBeCloseTo(1 - 5e-7, 9);
    expect(flowFactor(2)).toBeLessThan(flowFactor(1));
    expect(() => flowFactor(-0.1)).toThrow(RangeError);
  });
  test("F′ is η0 over (τα)", () => expect(efficiencyFactorOf(curve(null), exact(0.8)).value).toBeCloseTo(0.875, 12));
  test.each([null, 0, 0.01, 0.05])("stagnation is where the curve gives nothing, a2 %p", (a2) => {
    const t = stagnationOf(curve(a2), 1000, 30)!;
    const x = (t.value - 30) / 1000;
    expect(0.7 - 5 * x - (a2 ?? 0) * 1000 * x * x).toBeCloseTo(0, 9);
    expect(standardUncertainty(t)).toBeGreaterThan(0.5);
  });
  test("a bend nobody saw makes it wide; a curve without loss has none", () => {
    expect(standardUncertainty(stagnationOf(curve(null))!)).toBeGreaterThan(
      standardUncertainty(stagnationOf(curve(0))!),
    );
    expect(stagnationOf({ ...curve(null), a1: exact(0) })).toBeNull();
  });
});

test("air cooled to its dew point is just saturated", () => {
  for (const [t, h] of [
    [20, 0.5],
    [35, 0.2],
    [0, 0.9],
    [60, 0.05],
  ])
    expect(saturationPressure(dewPoint(t, h))).toBeCloseTo(h * saturationPressure(t), 3);
  expect(dewPoint(20, 1)).toBeCloseTo(20, 6);
  expect(dewPoint(20, 0.5)).toBeCloseTo(9.27, 1);
  expect(() => dewPoint(20, 0)).toThrow(RangeError);
});
