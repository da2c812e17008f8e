import { drawWindows } from "../../../scripts/testing/drawnWindows";
import { seededRandom } from "../random/seededRandom";
import { coverageFactor } from "../uncertainty/coverage";
import { combine, effectiveDof, exact, measured, standardUncertainty, withSource } from "../uncertainty/uncertain";
import { draftCurve, fitCurve, type Curve } from "./curve";
import { atNormal, unseenBend } from "./alongCurve";
import { fitLanes, sharedScatter } from "./lanesFit";
import { overModifier, type EfficiencyPoint } from "./points";
import { claimOf, withClaimed } from "./scatter";

const noise = (standard: number, dof: number, window = 0) =>
  withSource(0, standard, { kind: "probeNoise", run: "1", window, channel: "A", owner: "A", dof });
const drawn = (windows: number, seed = 1, unmodelled = 0) =>
  drawWindows({ windows, days: 1, swapped: false, unmodelled }, seededRandom(seed));
const own = (points: EfficiencyPoint[], lane: string) => points.filter((p) => p.lane === lane);
const curveOf = (points: EfficiencyPoint[], lane = "A"): Curve => {
  const fit = fitCurve(own(points, lane));
  if (!fit.ok) throw new Error("no fit");
  return fit.curve;
};
const draftOf = (points: EfficiencyPoint[], lane: string) => {
  const fit = draftCurve(own(points, lane), { curvature: "auto" });
  if (!fit.ok) throw new Error("no fit");
  return fit.draft;
};
/** Points on a bent line, without scatter to speak of. */
const bent = (lane: string, a2: number): EfficiencyPoint[] =>
  own(drawn(12), "A").map((p, i) => {
    const x = 0.01 + 0.004 * i;
    const eta = 0.7 - 4 * x - a2 * 900 * x * x + 1e-5 * Math.sin(7 * i);
    return {
      ...p,
      lane,
      irradiance: exact(900),
      reducedTemperature: exact(x),
      efficiency: { ...p.efficiency, value: eta },
    };
  });

describe("scatter and what is claimed", () => {
  const claims = [0, 1, 2, 3].map((w) => claimOf(noise(0.01, 10, w)));
  test("agreement by luck does not make readings better: few degrees of freedom move the claim little", () => {
    const { factor, dof } = withClaimed(0.05, 2, claims)!;
    expect(factor).toBeGreaterThan(0.9);
    expect(factor).toBeLessThan(1);
    expect(dof).toBe(42);
  });
  test("scatter far beyond the claim stands alone", () => expect(withClaimed(9, 3, claims)).toBeNull());
  test("nothing claimed, nothing to join", () => expect(withClaimed(1, 3, [claimOf(exact(0))])).toBeNull());
});

describe("degrees of freedom", () => {
  const part = (row: number, estimate?: string) =>
    withSource(0, 1, { kind: "curveFit", lane: "A", scatter: "window", row, owner: "A", dof: 3, estimate });
  const both = (estimate?: string) =>
    combine(0, [
      [1, part(0, estimate)],
      [1, part(1, estimate)],
    ]);
  test("coefficients of one fit are one estimate: their sum has no more degrees of freedom than the fit", () => {
    expect(effectiveDof(both("A/window"))).toBeCloseTo(3, 12);
    expect(effectiveDof(both())).toBeCloseTo(6, 12);
    expect(measured(curveOf(drawn(5, 3, 4)).a1).dof).toBeLessThan(5);
  });
  test("rounding does not drop a degree", () => {
    expect(coverageFactor(7 - 1e-12)).toBeCloseTo(coverageFactor(7), 9);
    expect(coverageFactor(6.9)).toBeCloseTo(coverageFactor(6), 9);
  });
});

describe("lanes of one bench", () => {
  test("alike in scatter they share it, with more degrees of freedom than one has and no more than all have", () => {
    let shared = 0;
    for (let seed = 1; seed <= 20; seed++) {
      const points = drawn(8, seed, 4);
      const alone = ["A", "B"].map((l) => draftOf(points, l));
      const joint = sharedScatter(alone);
      if (!joint) continue;
      shared++;
      expect(joint.dof).toBeGreaterThanOrEqual(alone[0].dof - 1e-9);
      expect(joint.dof).toBeLessThanOrEqual(alone[0].dof + alone[1].dof);
      const { curves } = fitLanes(["A", "B"].map((l) => [l, own(points, l)]));
      expect(curves.get("A")!.scatterFrom).toBe("lanes");
      expect(curves.get("A")!.residualSd).toBeCloseTo(curves.get("B")!.residualSd, 12);
    }
    expect(shared).toBeGreaterThan(3);
  });
  test("a restless lane keeps its scatter to itself", () => {
    const points = drawn(10, 2, 4).map((p, i) =>
      p.lane === "B"
        ? { ...p, efficiency: { ...p.efficiency, value: p.efficiency.value + 0.2 * (i % 4 === 1 ? 1 : -1) } }
        : p,
    );
    expect(sharedScatter(["A", "B"].map((l) => draftOf(points, l)))).toBeNull();
  });
  test("a bend is in for all lanes or for none", () => {
    const lanes = (a2: number, b2: number) => {
      const { curves } = fitLanes([
        ["A", bent("A", a2)],
        ["B", bent("B", b2)],
      ]);
      return ["A", "B"].map((l) => curves.get(l)!.a2 !== null);
    };
    expect(lanes(0.08, 0.08)).toEqual([true, true]);
    expect(lanes(0.08, -0.01)).toEqual([false, false]);
    expect(lanes(0, 0)).toEqual([false, false]);
  });
});

describe("the light's incidence", () => {
  const slanted = (K: number) =>
    own(drawn(8), "A").map((p, i) => {
      const x = 0.004 * i;
      return {
        ...p,
        modifier: exact(K),
        reducedTemperature: exact(x),
        efficiency: { ...p.efficiency, value: 0.7 * K - 5 * x },
      };
    });
  test.each([0.9, 1, 1.15])("K %p multiplies the light alone: η0 and a1 come back as planted", (K) => {
    const curve = curveOf(slanted(K));
    expect(curve.eta0.value).toBeCloseTo(0.7, 9);
    expect(curve.a1.value).toBeCloseTo(5, 7);
    for (const p of slanted(K))
      expect(atNormal(p, curve.eta0).value).toBeCloseTo(0.7 - 5 * p.reducedTemperature.value, 9);
  });
  test("without a curve a window's efficiency is over K whole", () => {
    const [p] = slanted(0.9);
    expect(atNormal(p, undefined).value).toBeCloseTo(overModifier(p), 12);
  });
});

test("a straight curve knows itself between its points and less and less beyond", () => {
  const curve = { lane: "A", a2: null, xRange: [0.01, 0.04] as [number, number] };
  const u = (x: number) => standardUncertainty(unseenBend(curve, x, 900));
  expect(u(0.025)).toBe(0);
  expect(u(0.06)).toBeGreaterThan(u(0.05));
  expect(u(0.06)).toBeCloseTo(0.008 * 900 * 0.05 * 0.02, 9);
  expect(standardUncertainty(unseenBend({ ...curve, a2: exact(0.01) }, 0.06, 900))).toBe(0);
});
