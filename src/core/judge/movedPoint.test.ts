import fc from "fast-check";
import type { Curve } from "../analysis/curve";
import { exact } from "../uncertainty/uncertain";
import { usualSpecificHeat } from "./flowWay";
import { operatingX } from "./laneHeat";
import { efficiencyAt, inletFor } from "./movedPoint";

const air = { kind: "air" } as const;

/** A straight curve as a page holds it. */
const points = (eta0: number, a1: number) =>
  Array.from({ length: 41 }, (_, i) => ({ x: 0.0025 * i, efficiency: eta0 - a1 * 0.0025 * i }));

test("the point dragged along a curve is where the curve then has its point", () =>
  fc.assert(
    fc.property(
      fc.double({ min: 0.4, max: 0.85, noNaN: true }),
      fc.double({ min: 2, max: 9, noNaN: true }),
      fc.double({ min: 0.012, max: 0.05, noNaN: true }),
      fc.constantFrom("mean" as const, "inlet" as const),
      (eta0, a1, to, basis) => {
        const op = { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 };
        const curve = { eta0: exact(eta0), a1: exact(a1), a2: null } as unknown as Curve;
        const from = operatingX(curve, air, op, basis);
        const flow = { perArea: op.flowPerArea, specificHeat: (inletC: number) => usualSpecificHeat(air, inletC) };
        const inletC = inletFor(op, { from, to }, basis, points(eta0, a1), flow);
        expect(Math.abs(operatingX(curve, air, { ...op, inletC }, basis) - to)).toBeLessThan(2e-6);
      },
    ),
    { seed: 2, numRuns: 100 },
  ));

test("between points a curve is straight, beyond its ends it is its end", () => {
  const curve = [
    { x: 0, efficiency: 0.7 },
    { x: 0.1, efficiency: 0.3 },
  ];
  expect(efficiencyAt(curve, 0.05)).toBeCloseTo(0.5, 12);
  expect(efficiencyAt(curve, -1)).toBe(0.7);
  expect(efficiencyAt(curve, 1)).toBe(0.3);
});
