import fc from "fast-check";
import { nameTwice, shapeFault } from "./jsonKeys";

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
  expect(shapeFault(nested(63))).toBeNull();
  expect(shapeFault(nested(64))).toBe("nested");
  expect(shapeFault("[1],".repeat(1000))).toBeNull();
  expect(shapeFault(`"${"[".repeat(1000)}"`)).toBeNull();
});

test("an object of more than 4096 names is wide, wherever it stands; a list is as long as it likes", () => {
  const names = (count: number, value = "1") =>
    `{${Array.from({ length: count }, (_, i) => `"n${i}":${value}`).join(",")}}`;
  expect(shapeFault(names(4096, '{"a":[1,2,"{,{"],"b,":1}'))).toBeNull();
  expect(shapeFault(names(4097))).toBe("wide");
  expect(shapeFault(`[{"values":${names(4097)}}]`)).toBe("wide");
  expect(shapeFault(`{"frames":[${'{"a":1,"b":2},'.repeat(5000)}1]}`)).toBeNull();
  expect(shapeFault(`[${"1,".repeat(100_000)}1]`)).toBeNull();
});
