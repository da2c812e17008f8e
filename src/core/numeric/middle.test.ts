import fc from "fast-check";
import { kthSmallest, median, upperMiddle } from "./middle";

const numbers = fc.array(fc.oneof(fc.double({ noNaN: true }), fc.integer({ min: -3, max: 3 })), {
  minLength: 1,
  maxLength: 200,
});
const sorted = (values: readonly number[]) => Float64Array.from(values).sort();

test("the k-th smallest is what sorting puts there, with ties and any order", () =>
  fc.assert(
    fc.property(numbers, fc.nat(), (values, seed) => {
      const k = seed % values.length;
      expect(kthSmallest(Float64Array.from(values), k) === sorted(values)[k]).toBe(true);
    }),
    { seed: 7 },
  ));

test("the middle of all that is known", () =>
  fc.assert(
    fc.property(numbers, (values) => {
      const s = sorted(values);
      expect(upperMiddle([NaN, ...values, NaN]) === s[s.length >> 1]).toBe(true);
      const middle = (s[(s.length - 1) >> 1] + s[s.length >> 1]) / 2;
      expect(Object.is(median([...values, NaN]), middle) || median(values) === middle).toBe(true);
    }),
    { seed: 8 },
  ));

test("long rows in order, backwards and all alike take no longer than others", () => {
  const n = 200_000;
  const rising = Float64Array.from({ length: n }, (_, i) => i);
  expect(kthSmallest(rising.slice(), 12_345)).toBe(12_345);
  expect(kthSmallest(rising.slice().reverse(), 12_345)).toBe(12_345);
  expect(kthSmallest(new Float64Array(n).fill(4), n - 1)).toBe(4);
});

test("nothing has no middle", () => {
  expect(upperMiddle([])).toBeNaN();
  expect(upperMiddle([1, 2], (v) => v > 5)).toBeNaN();
  expect(median([NaN])).toBeNaN();
});
