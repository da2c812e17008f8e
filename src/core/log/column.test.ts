import fc from "fast-check";
import { Column } from "./column";

const filled = (values: ArrayLike<number>) => Column.from(Float64Array.from(values));

test("what a logger writes comes back to the last bit, in half the memory or less", () => {
  const values = Array.from({ length: 200_000 }, (_, i) => Number(((i % 90_000) / 100 - 40).toFixed(2)));
  values[77_000] = NaN;
  const column = filled(values);
  expect(column.length).toBe(values.length);
  expect([...column.slice()]).toEqual(values);
  expect(column.byteLength).toBeLessThan((values.length * 8) / 1.4);
  const temperatures = filled(values.map((v) => Number((v / 10 + 20).toFixed(2))));
  expect(temperatures.byteLength).toBeLessThan((values.length * 8) / 2.4);
});

test("any number comes back, wherever it is asked for", () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.oneof(
          fc.double(),
          fc.double({ min: -200, max: 2000 }).map((v) => Number(v.toFixed(3))),
          fc.integer({ min: -70_000, max: 3e9 }),
          fc.constant(-0),
        ),
        { minLength: 1, maxLength: 50 },
      ),
      fc.nat(),
      fc.double({ noNaN: true }),
      (few, place, other) => {
        // Long enough for full segments, of one kind after another.
        const values = Float64Array.from({ length: 40_000 }, (_, i) => few[Math.floor(i / 900) % few.length]);
        const column = filled(values);
        const at = place % values.length;
        expect(Object.is(column.at(at), values[at])).toBe(true);
        column.set(at, other);
        values[at] = other;
        const part = column.slice(at, at + 500);
        expect(part.every((v, i) => Object.is(v, values[at + i]))).toBe(true);
        expect(column.slice().every((v, i) => Object.is(v, values[i]))).toBe(true);
      },
    ),
    { numRuns: 60 },
  );
});

test("picked out, and opened in another unit; written numbers stay", () => {
  const column = filled([32, 50, NaN, 212]).in((f) => ((f - 32) * 5) / 9);
  expect([...column.slice()]).toEqual([0, 10, NaN, 100]);
  expect(column.at(3)).toBe(212);
  expect([...column.picked(Uint32Array.of(3, 0)).slice()]).toEqual([100, 0]);
  expect([...column.slice(1, 99)]).toEqual([10, NaN, 100]);
  expect(column.at(4)).toBeNaN();
});
