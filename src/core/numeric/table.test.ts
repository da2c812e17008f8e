import { ofObject, tabled } from "./table";

test("an answer is worked out once, and again only when too many were held", () => {
  const asked: number[] = [];
  const square = tabled((n: number) => {
    asked.push(n);
    return n * n;
  }, 2);
  expect([3, 3, 4, 3].map(square)).toEqual([9, 9, 16, 9]);
  expect(asked).toEqual([3, 4]);
  expect([5, 3].map(square)).toEqual([25, 9]);
  expect(asked).toEqual([3, 4, 5, 3]);
});

test("a refusal is not held: it is given anew", () => {
  let times = 0;
  const refuses = tabled((name: string) => {
    times++;
    throw new RangeError(name);
  });
  expect(() => refuses("x")).toThrow("x");
  expect(() => refuses("x")).toThrow("x");
  expect(times).toBe(2);
});

test("what is held of an object is its own", () => {
  let times = 0;
  const sizeOf = ofObject((of: { size: number }) => {
    times++;
    return of.size;
  });
  const [a, b] = [{ size: 1 }, { size: 2 }];
  expect([a, b, a].map(sizeOf)).toEqual([1, 2, 1]);
  expect(times).toBe(2);
});
