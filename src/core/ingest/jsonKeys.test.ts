import fc from "fast-check";
import { isDeep, nameTwice } from "./jsonKeys";

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

test("what lies in one another more than 64 deep is deep, whatever stands in its strings", () => {
  const nested = (levels: number) => "[".repeat(levels) + '{"a":"[[{{\\"[["}' + "]".repeat(levels);
  expect(isDeep(nested(63))).toBe(false);
  expect(isDeep(nested(64))).toBe(true);
  expect(isDeep("[1],".repeat(1000))).toBe(false);
  expect(isDeep(`"${"[".repeat(1000)}"`)).toBe(false);
});
