import { seededRandom } from "../../random/seededRandom";
import { coverageFactor } from "../../uncertainty/coverage";
import { longRun, robustFit } from "./robust";

/** Slow noise: each value remembers the one before. */
function remembering(n: number, rho: number, normal: () => number): number[] {
  let now = normal();
  return Array.from({ length: n }, () => (now = rho * now + Math.sqrt(1 - rho * rho) * normal()));
}

/** Coefficients and what is claimed of them, over many draws of the same days. */
function drawn(rho: number, sets: number) {
  const [days, perDay] = [5, 60];
  return Array.from({ length: sets }, (_, i) => {
    const random = seededRandom(1000 + i);
    const block = Array.from({ length: days * perDay }, (_, k) => Math.floor(k / perDay));
    const light = Array.from({ length: days }, () => remembering(perDay, 0.9, random.normal)).flat();
    const error = Array.from({ length: days }, () => remembering(perDay, rho, random.normal)).flat();
    const x = light.map((v) => [600 + 200 * v, 20 + 5 * random.normal()]);
    const y = x.map(([g, t], k) => 0.7 * g - 5 * t + 25 * error[k]);
    return robustFit({ x, y, block }, 18)!;
  });
}

describe.each([0, 0.6, 0.9])("errors that remember by %s", (rho) => {
  const fits = drawn(rho, 300);
  test.each([
    ["light", 0, 0.7],
    ["loss", 1, -5],
  ] as const)("what is claimed of the %s is what many draws scatter by", (_, k, truth) => {
    const mean = fits.reduce((s, f) => s + f.beta[k], 0) / fits.length;
    const scatter = Math.sqrt(fits.reduce((s, f) => s + (f.beta[k] - mean) ** 2, 0) / (fits.length - 1));
    const claimed = Math.sqrt(fits.reduce((s, f) => s + f.standard[k] ** 2, 0) / fits.length);
    expect(Math.abs(mean - truth)).toBeLessThan(4 * (scatter / Math.sqrt(fits.length)));
    expect(claimed / scatter).toBeGreaterThan(0.8);
    expect(claimed / scatter).toBeLessThan(1.35);
    const held = fits.filter((f) => Math.abs(f.beta[k] - truth) < coverageFactor(f.dof) * f.standard[k]).length;
    expect(held / fits.length).toBeGreaterThan(0.88);
  });
});

test("a sum's variance is never taken below that of terms without memory, and blocks do not remember each other", () => {
  const turns = Float64Array.from({ length: 40 }, (_, i) => (i % 2 ? 1 : -1));
  expect(longRun(turns, Array(40).fill(0), 6)).toBe(40);
  const same = Float64Array.from({ length: 40 }, () => 1);
  const apart = longRun(
    same,
    Array.from({ length: 40 }, (_, i) => i),
    6,
  );
  expect(apart).toBe(40);
  expect(longRun(same, Array(40).fill(0), 6)).toBeGreaterThan(200);
});

test("too few rows, or columns alike, give no fit", () => {
  const x = [1, 2, 3, 4].map((v) => [v, 2 * v]);
  expect(robustFit({ x, y: [1, 2, 3, 4], block: [0, 0, 0, 0] }, 2)).toBeNull();
  const many = Array.from({ length: 50 }, (_, i) => [i, 2 * i]);
  expect(robustFit({ x: many, y: many.map(([v]) => v), block: many.map(() => 0) }, 2)).toBeNull();
});
