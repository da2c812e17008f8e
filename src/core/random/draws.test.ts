import { chiSquare, normalDraws } from "./draws";
import { seededRandom } from "./seededRandom";

const N = 40_000;
const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;

test("draws of sums have the rows' covariance, however long the rows and whatever their rank", () => {
  const random = seededRandom(3);
  const long = (f: (i: number) => number) => Float64Array.from({ length: 120 }, (_, i) => f(i));
  const rows = [long((i) => Math.sin(i)), long((i) => Math.sin(i) + (i % 3)), long((i) => 2 * Math.sin(i))];
  const next = normalDraws(rows, random);
  const draws = Array.from({ length: N }, () => [...next()]);
  rows.forEach((a, i) =>
    rows.forEach((b, j) => {
      const exact = a.reduce((s, v, k) => s + v * b[k], 0);
      const size = Math.sqrt(rows[i].reduce((s, v) => s + v * v, 0) * rows[j].reduce((s, v) => s + v * v, 0));
      // Six standard errors of a covariance of so many draws.
      expect(Math.abs(mean(draws.map((d) => d[i] * d[j])) - exact)).toBeLessThan((6 * 1.5 * size) / Math.sqrt(N));
    }),
  );
  // The third row is twice the first: so is every draw of it.
  for (const d of draws.slice(0, 100)) expect(d[2]).toBeCloseTo(2 * d[0], 9);
});

test("rows of nothing are drawn as nothing", () => {
  const next = normalDraws([new Float64Array(3), new Float64Array(3)], seededRandom(1));
  expect([...next()]).toEqual([0, 0]);
});

test.each([1, 2.5, 7, 60])("χ² of %d degrees of freedom has its mean and variance", (dof) => {
  const random = seededRandom(9);
  const draws = Array.from({ length: N }, () => chiSquare(dof, random));
  expect(draws.every((v) => v > 0)).toBe(true);
  const m = mean(draws);
  expect(Math.abs(m - dof)).toBeLessThan(6 * Math.sqrt((2 * dof) / N));
  const variance = mean(draws.map((v) => (v - m) ** 2));
  expect(Math.abs(variance / (2 * dof) - 1)).toBeLessThan(0.1);
});
