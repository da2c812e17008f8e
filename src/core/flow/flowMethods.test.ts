import { monteCarlo } from "../uncertainty/monteCarlo";
import { multiply, standardUncertainty, withSource } from "../uncertainty/uncertain";
import { bagFillFlow, bucketFlow, leakShare, smokeTransitFlow } from "./timedFlow";
import { rectangularTraversePoints, roundTraversePoints, traverseMean } from "./traverse";

describe("traverse", () => {
  test("log-linear points give the mean of a turbulent profile within 1 %", () => {
    // v = (distance from the wall)^(1/7): the mean over the section is 49/60 of the axis.
    for (const n of [4, 6, 10] as const) {
      const readings = roundTraversePoints(1, n).map(({ xM }) => (2 * Math.min(xM, 1 - xM)) ** (1 / 7));
      const { meanSpeedMs, profileFactor } = traverseMean([readings], 1);
      expect(Math.abs(meanSpeedMs / (49 / 60) - 1)).toBeLessThan(0.011);
      expect(profileFactor).toBeCloseTo(0.82, 1);
    }
  });
  test("points lie inside, symmetric about the axis; a grid's centres fill the section", () => {
    const points = roundTraversePoints(0.125, 10).map((p) => p.xM);
    points.forEach((x, i) => expect(x + points[points.length - 1 - i]).toBeCloseTo(0.125, 9));
    const grid = rectangularTraversePoints(0.4, 0.2, 4, 2);
    expect(grid).toHaveLength(8);
    expect(grid.reduce((s, p) => s + p.xM, 0) / 8).toBeCloseTo(0.2, 12);
    expect(grid.reduce((s, p) => s + p.yM, 0) / 8).toBeCloseTo(0.1, 12);
  });
  test("lines that disagree widen the uncertainty", () => {
    const even = traverseMean([
      [2, 3, 3, 2],
      [2, 3, 3, 2],
    ]);
    const crooked = traverseMean([
      [2, 3, 3, 2],
      [3, 4, 4, 3],
    ]);
    expect(crooked.standardShare).toBeGreaterThan(3 * even.standardShare);
    expect(even.profileFactor).toBeNull();
  });
  test("negative speeds, missing readings and zero ducts are refused", () => {
    expect(() => traverseMean([[1, 2, -3, 4]])).toThrow(RangeError);
    expect(() => traverseMean([[1, 2]])).toThrow(RangeError);
    expect(() => roundTraversePoints(0)).toThrow(RangeError);
    expect(() => rectangularTraversePoints(1, 1, 1, 4)).toThrow(RangeError);
  });
});

describe("flow by volume, mass and time", () => {
  test("bag, bucket, smoke", () => {
    expect(bagFillFlow(0.12, 4)).toBeCloseTo(0.03, 12);
    expect(bucketFlow(9, 90)).toBeCloseTo(0.1, 12);
    const smoke = smokeTransitFlow(0.1, 2);
    expect(smoke.floorM3PerS).toBeLessThan(smoke.ceilingM3PerS);
    for (const wrong of [() => bagFillFlow(0, 1), () => bucketFlow(1, 0), () => smokeTransitFlow(1, -1)])
      expect(wrong).toThrow(RangeError);
  });
  test("a leak is the difference of in and out, and one shared meter's gain cancels in it", () => {
    const meter = withSource(1, 0.05, { kind: "speedMeter", meter: "m", owner: "", dof: Infinity });
    const exactFlow = (v: number) => multiply({ value: v, parts: new Map() }, meter);
    const leak = leakShare(exactFlow(0.04), exactFlow(0.038));
    expect(leak.value).toBeCloseTo(-0.05, 12);
    expect(standardUncertainty(leak)).toBeCloseTo(0, 12);
  });
});

describe("first order against drawing (GUM Supplement 1)", () => {
  test("heat from flow and two probes: both ways agree within 2 %", () => {
    const source = (probe: string) => ({ kind: "probe" as const, probe, owner: "", dof: Infinity });
    const flow = withSource(0.04, 0.0012, source("flow"));
    const rise = withSource(23, 0.25, source("rise"));
    const linear = multiply(multiply(flow, { value: 1006, parts: new Map() }), rise);
    const drawn = monteCarlo(
      [
        { kind: "normal", value: 0.04, standard: 0.0012 },
        { kind: "normal", value: 23, standard: 0.25 },
      ],
      ([m, dT]) => m * 1006 * dT,
      { draws: 40000, seed: 9 },
    );
    expect(drawn.standardUncertainty / standardUncertainty(linear)).toBeCloseTo(1, 1);
    expect(Math.abs(drawn.standardUncertainty / standardUncertainty(linear) - 1)).toBeLessThan(0.02);
    expect((drawn.interval[1] - drawn.interval[0]) / (2 * 1.96 * standardUncertainty(linear))).toBeCloseTo(1, 1);
  });
  test("a stated limit has the standard uncertainty limit/√3, and its 95 % interval stays inside it", () => {
    const r = monteCarlo([{ kind: "rectangular", value: 5, limit: 0.6 }], ([v]) => v, { draws: 40000, seed: 2 });
    expect(r.standardUncertainty).toBeCloseTo(0.6 / Math.sqrt(3), 2);
    expect(r.interval[1] - r.interval[0]).toBeLessThan(1.2);
    expect(() => monteCarlo([], () => 0, { draws: 3, seed: 1 })).toThrow(RangeError);
  });
});
