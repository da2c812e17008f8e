import fc from "fast-check";
import { seededRandom } from "../random/seededRandom";
import { autocorrelatedMean } from "./typeA";
import {
  add,
  budget,
  combine,
  divide,
  effectiveDof,
  exact,
  fromLimit,
  fromResolution,
  measured,
  multiply,
  scale,
  standardUncertainty,
  subtract,
  variance,
  withSource,
} from "./uncertain";
import { coverageFactor, expanded, figureBudget } from "./coverage";

const source = (probe: string, dof = Infinity) => ({ kind: "probe" as const, probe, owner: "", dof });

describe("figures that remember their sources", () => {
  const a = withSource(10, 0.3, source("a"));
  const b = withSource(4, 0.4, source("b"));

  test("independent sources add in squares (GUM 5.1.2)", () => {
    expect(standardUncertainty(add(a, b))).toBeCloseTo(0.5, 12);
    expect(standardUncertainty(subtract(a, b))).toBeCloseTo(0.5, 12);
    expect(standardUncertainty(multiply(a, b)) / 40).toBeCloseTo(Math.hypot(0.03, 0.1), 12);
    expect(standardUncertainty(divide(a, b)) / 2.5).toBeCloseTo(Math.hypot(0.03, 0.1), 12);
  });
  test("a figure less itself is exactly known, divided by itself too", () => {
    expect(variance(subtract(a, a))).toBe(0);
    expect(standardUncertainty(divide(a, a))).toBeCloseTo(0, 12);
  });
  test("the ratio of lanes does not feel the sun sensor's gain", () => {
    const sun = withSource(900, 27, source("sun"));
    const etaA = divide(withSource(950, 10, source("qa")), sun);
    const etaB = divide(withSource(850, 10, source("qb")), sun);
    const keys = [...divide(etaA, etaB).parts]
      .filter(([, part]) => Math.abs(part.standard) > 1e-12)
      .map(([key]) => key);
    expect(keys.sort()).toEqual(["probe:qa", "probe:qb"]);
  });
  test("shares of the budget sum to one, largest first", () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.01, max: 10, noNaN: true }), { minLength: 1, maxLength: 8 }), (us) => {
        const sum = us.map((u, i) => withSource(1, u, source(`s${i}`))).reduce(add, exact(0));
        const lines = budget(sum);
        expect(lines.reduce((s, l) => s + l.share, 0)).toBeCloseTo(1, 9);
        for (let i = 1; i < lines.length; i++) expect(lines[i - 1].share).toBeGreaterThanOrEqual(lines[i].share);
      }),
    );
  });
  test("scaling scales", () => {
    expect(standardUncertainty(scale(a, -2))).toBeCloseTo(0.6, 12);
  });
  test("limits and steps become standard uncertainties", () => {
    expect(fromLimit(0.5)).toBeCloseTo(0.2887, 4);
    expect(fromResolution(0.1)).toBeCloseTo(0.0289, 4);
  });
  test("Welch–Satterthwaite: two equal parts of 5 degrees of freedom give 10; an infinite one widens", () => {
    const x = withSource(0, 1, source("x", 5));
    const y = withSource(0, 1, source("y", 5));
    expect(effectiveDof(add(x, y))).toBeCloseTo(10, 9);
    expect(effectiveDof(add(x, withSource(0, 1, source("z"))))).toBeCloseTo(20, 9);
  });
  test("coverage: 1.96 for many, 2.571 for five degrees of freedom", () => {
    expect(coverageFactor(Infinity)).toBeCloseTo(1.96, 3);
    expect(coverageFactor(5)).toBeCloseTo(2.571, 3);
    expect(expanded(measured(exact(3)))).toBe(0);
  });
  test("a negative uncertainty is refused", () => expect(() => withSource(1, -0.1, source("n"))).toThrow(RangeError));
});

describe("type A of series that remember themselves", () => {
  const ar1 = (rho: number, n: number, seed: number) => {
    const random = seededRandom(seed);
    let v = 0;
    return Float64Array.from({ length: n }, () => (v = rho * v + Math.sqrt(1 - rho * rho) * random.normal()));
  };
  test("independent readings: sd/√n", () => {
    const { standardError, sd } = autocorrelatedMean(ar1(0, 2000, 4));
    expect(standardError).toBeCloseTo(sd / Math.sqrt(2000), 2);
  });
  test("with ρ = 0.8 the effective sample is a ninth", () => {
    expect(autocorrelatedMean(ar1(0.8, 4000, 5)).effectiveSize / 4000).toBeCloseTo(1 / 9, 1);
  });
  test("the stated error covers the truth in about 95 of 100 series", () => {
    let hits = 0;
    for (let seed = 1; seed <= 300; seed++) {
      const { mean, standardError } = autocorrelatedMean(ar1(0.6, 240, seed));
      if (Math.abs(mean) < 1.96 * standardError) hits++;
    }
    expect(hits / 300).toBeGreaterThan(0.91);
  });
  test("gaps are skipped; nothing gives nothing", () => {
    expect(autocorrelatedMean([1, NaN, 3]).mean).toBe(2);
    expect(autocorrelatedMean([]).mean).toBeNaN();
    expect(autocorrelatedMean([7]).standardError).toBeNaN();
  });
});

test("the coverage factor falls with the degrees of freedom to the normal's, and never to nothing", () => {
  let last = Infinity;
  for (let power = 0; power <= 300; power += 2) {
    const factor = coverageFactor(10 ** power);
    expect(factor).toBeGreaterThanOrEqual(1.95996);
    expect(factor).toBeLessThanOrEqual(last);
    last = factor;
  }
  expect(coverageFactor(Infinity)).toBeCloseTo(1.959964, 6);
  // What nearly nothing scatters by does not make the rest exact.
  const source = (name: string, dof: number) => ({ kind: "otherNoise", name, owner: "", dof }) as const;
  const figure = combine(1, [
    [1, withSource(0, 2e-17, source("scatter", 30))],
    [1, withSource(0, 0.03, source("meter", Infinity))],
  ]);
  expect(figureBudget(figure).expanded).toBeCloseTo(0.0588, 4);
});

describe("by the definitions, worked a second way", () => {
  /** Bayley & Hammersley with Kendall's correction, from sums over the whole series. */
  function byDefinition(values: readonly number[]) {
    const n = values.length;
    const mean = values.reduce((s, v) => s + v, 0) / n;
    const d = values.map((v) => v - mean);
    const square = d.reduce((s, v) => s + v * v, 0);
    const neighbours = d.slice(1).reduce((s, v, i) => s + v * d[i], 0);
    const lagOne = square > 0 ? neighbours / square : 0;
    const corrected = Math.min(0.99, Math.max(0, lagOne + (1 + 3 * lagOne) / n));
    const effectiveSize = Math.max(1, (n * (1 - corrected)) / (1 + corrected));
    const sd = Math.sqrt(square / (n - 1));
    return { mean, sd, effectiveSize, standardError: sd / Math.sqrt(effectiveSize), count: n };
  }

  test.each([
    ["a walk up and down", [1, 2, 4, 7, 5, 3, 2, 2.5, 4, 6, 7.5, 6, 4, 3]],
    ["a slope, whose neighbours are almost the same", Array.from({ length: 500 }, (_, i) => i)],
    ["one value over and over", [3, 3, 3, 3, 3, 3]],
    ["to and fro", [1, -1, 1, -1, 1, -1, 1, -1]],
    ["two values", [5, 9]],
  ])("mean and its error of %s", (_, values) => {
    const found = autocorrelatedMean(values);
    for (const [key, value] of Object.entries(byDefinition(values)))
      expect(found[key as keyof typeof found]).toBeCloseTo(value, 10);
  });

  test("the degrees of freedom of a sum are Welch and Satterthwaite's", () => {
    const of = (standard: number, dof: number, n: number) =>
      withSource(0, standard, { kind: "probeNoise", run: "1", window: n, channel: "a", owner: "A", dof });
    const sum = combine(0, [
      [1, of(1, 4, 1)],
      [1, of(2, 9, 2)],
    ]);
    expect(effectiveDof(sum)).toBeCloseTo(5 ** 2 / (1 / 4 + 16 / 9), 10);
    expect(budget(sum).map((l) => l.share)).toEqual([0.8, 0.2]);
  });

  test("what cancels has no share to give", () => {
    const sun = withSource(3, 0.2, { kind: "sunSensor", sensor: "s", owner: "", dof: Infinity });
    const nothing = combine(0, [
      [1, sun],
      [-1, sun],
    ]);
    expect(standardUncertainty(nothing)).toBe(0);
    expect(budget(nothing).every((l) => l.share === 0)).toBe(true);
  });

  test("degrees of freedom are cut to whole ones from two on, and no rounding error takes one away", () => {
    // Student's t, two-sided 95 %: 12.706 for one, 4.303 for two.
    expect(coverageFactor(1)).toBeCloseTo(12.706, 3);
    expect(coverageFactor(1.5)).toBeLessThan(12);
    expect(coverageFactor(1.5)).toBeGreaterThan(4.4);
    expect(coverageFactor(2.9)).toBe(coverageFactor(2));
    expect(coverageFactor(2)).toBeCloseTo(4.303, 3);
    expect(coverageFactor(7 - 1e-12)).toBe(coverageFactor(7));
    expect(coverageFactor(7 - 1e-6)).toBe(coverageFactor(6));
    expect(coverageFactor(50 - 2e-8)).toBe(coverageFactor(50));
    expect(coverageFactor(0.3)).toBe(coverageFactor(1));
  });
});
