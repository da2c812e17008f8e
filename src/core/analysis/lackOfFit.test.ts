import { seededRandom } from "../random/seededRandom";
import { weightedFit } from "./prior";
import { lackOfFit, type FittedPoint } from "./lackOfFit";
import { highLeverage } from "./leverage";

/** Points at a few places, fitted by a straight line. */
function fitted(bend: number, seed: number, repeats = 6): FittedPoint[] {
  const random = seededRandom(seed);
  const xs = [0.01, 0.02, 0.03, 0.04, 0.05].flatMap((x) => Array.from({ length: repeats }, () => x));
  const y = xs.map((x) => 0.7 - 5 * x - bend * x * x + 0.004 * random.normal());
  const rows = xs.map((x) => [1, -x]);
  const fit = weightedFit(
    rows,
    y,
    xs.map(() => 1),
    null,
  )!;
  return xs.map((x, i) => ({
    x,
    residual: fit.residuals[i],
    leverage: rows[i].reduce((s, v, k) => s + v * fit.hat.get(k, i), 0),
  }));
}

test("a line through what is a line: told to miss it no more often than chance says", () => {
  const sets = 400;
  const ps = Array.from({ length: sets }, (_, i) => lackOfFit(fitted(0, i + 1), 2)!.p);
  const below = (p: number) => ps.filter((v) => v < p).length / sets;
  expect(below(0.05)).toBeLessThan(0.08);
  expect(below(0.05)).toBeGreaterThan(0.02);
  expect(Math.abs(below(0.5) - 0.5)).toBeLessThan(0.08);
});

test("a bend that a line misses is told", () => {
  for (let seed = 1; seed < 20; seed++) expect(lackOfFit(fitted(60, seed), 2)!.p).toBeLessThan(0.01);
});

test("leverages add up to the coefficients, and the ends pull most", () => {
  const points = fitted(0, 3);
  expect(points.reduce((s, p) => s + p.leverage, 0)).toBeCloseTo(2, 9);
  expect(points[0].leverage).toBeGreaterThan(points[12].leverage);
  for (const p of points) expect(p.leverage).toBeLessThanOrEqual(1);
  expect(highLeverage(points)).toBeCloseTo((2 * 2) / 30, 9);
});

test("nothing is said where no points lie together, where no group is left over, or of a perfect fit", () => {
  expect(lackOfFit([], 2)).toBeNull();
  expect(lackOfFit(fitted(0, 1, 1), 2)).toBeNull();
  expect(
    lackOfFit(
      fitted(0, 1).filter((p) => p.x < 0.025),
      2,
    ),
  ).toBeNull();
  expect(
    lackOfFit(
      fitted(0, 1).map((p) => ({ ...p, residual: 0 })),
      2,
    ),
  ).toBeNull();
});
