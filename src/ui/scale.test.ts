import { linear, rounded } from "./scale";

test("a straight scale hits both ends and the middle, either way round", () => {
  const down = linear([0, 200], [52, 8]);
  expect([0, 100, 200].map(down)).toEqual([52, 30, 8]);
  expect(down(250)).toBeCloseTo(-3);
  expect(linear([3, 3], [0, 10])(3)).toBe(5);
});

test("clamped, what lies outside stands at the end", () => {
  const kept = linear([0, 10], [0, 100], true);
  expect([-5, 5, 50].map(kept)).toEqual([0, 50, 100]);
});

test("ticks and ends are round", () => {
  expect(linear([0, 97], [0, 1]).ticks(5)).toEqual([0, 20, 40, 60, 80]);
  expect(rounded([0.3, 96.2], 5)).toEqual([0, 100]);
});
