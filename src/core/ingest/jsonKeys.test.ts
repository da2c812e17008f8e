import fc from "fast-check";
import { nameTwice } from "./jsonKeys";

test.each([
  ['{"a":1,"b":{"a":2},"c":[{"a":3},{"a":4}]}', null],
  ['{"a":1,"a":2}', "a"],
  ['{"x":[1,{"b":1, "b" : 2}]}', "b"],
  ['{"a":"a","b":"a"}', null],
  ['{"a\\u0062":1,"ab":2}', "ab"],
  ['{"q\\"":1,"q":2}', null],
  ['["a","a"]', null],
  ["3", null],
])("%s", (text, name) => {
  expect(() => JSON.parse(text) as unknown).not.toThrow();
  expect(nameTwice(text)).toBe(name);
});

test("what was written from an object never has a name twice, and one put in again is found wherever it stands", () => {
  fc.assert(
    fc.property(fc.jsonValue(), fc.string(), fc.nat(3), (value, name, depth) => {
      expect(nameTwice(JSON.stringify(value))).toBeNull();
      const key = JSON.stringify(name);
      const twice = `{${key}:${JSON.stringify(value)},${key}:1}`;
      expect(nameTwice("[".repeat(depth) + twice + "]".repeat(depth))).toBe(name);
    }),
    { numRuns: 500 },
  );
});

test("below 64 levels nothing is read, so nothing is looked for; what stands above is", () => {
  const deep = (levels: number, inner: string) => "[".repeat(levels) + inner + "]".repeat(levels);
  const twice = '{"a":1,"a":2}';
  expect(nameTwice(deep(63, twice))).toBe("a");
  expect(nameTwice(deep(64, twice))).toBeNull();
  expect(nameTwice(`{"a":${deep(200, twice)},"a":1}`)).toBe("a");
});
