import fc from "fast-check";
import { mergeChange } from "./merge";

const value = fc.letrec<{ any: unknown }>((tie) => ({
  any: fc.oneof(
    { maxDepth: 3 },
    fc.integer({ min: 0, max: 3 }),
    fc.constantFrom("x", "y", null, true),
    fc.dictionary(fc.constantFrom("a", "b", "c"), tie("any"), { maxKeys: 3 }),
    fc.array(fc.record({ key: fc.constantFrom("k", "l", "m"), n: fc.integer({ min: 0, max: 2 }) }), { maxLength: 3 }),
  ),
})).any;
const runs = { numRuns: 500, seed: 26 };

test("alone, a change is the change", () =>
  fc.assert(
    fc.property(value, value, (before, after) => expect(mergeChange(before, before, after)).toEqual(after)),
    runs,
  ));

test("no change changes nothing, whatever was stored meanwhile", () =>
  fc.assert(
    fc.property(value, value, (stored, shown) => expect(mergeChange(stored, shown, shown)).toEqual(stored)),
    runs,
  ));

test("two pages that change different parts keep both, in either order", () => {
  const start = {
    items: { glass: { done: false, note: "" }, seal: { done: false, note: "" } },
    own: [{ key: "1", text: "paint" }],
  };
  const one = { ...start, items: { ...start.items, glass: { done: true, note: "" } } };
  const other = {
    ...start,
    items: { ...start.items, seal: { done: true, note: "twice" } },
    own: [...start.own, { key: "2", text: "sweep" }],
  };
  const both = { items: { glass: one.items.glass, seal: other.items.seal }, own: other.own };
  expect(mergeChange(mergeChange(start, start, one), start, other)).toEqual(both);
  expect(mergeChange(mergeChange(start, start, other), start, one)).toEqual(both);
});

test("what one takes out stays out, what another adds stays in", () => {
  const start = [
    { id: "tree", h: 3 },
    { id: "wall", h: 2 },
  ];
  const without = [start[1]];
  const more = [...start, { id: "shed", h: 2 }];
  expect(mergeChange(mergeChange(start, start, without), start, more)).toEqual([start[1], { id: "shed", h: 2 }]);
  expect(mergeChange(mergeChange(start, start, more), start, without)).toEqual([start[1], { id: "shed", h: 2 }]);
});

test("of one part that both changed, the later change stands", () =>
  expect(
    mergeChange({ name: "theirs", zone: "UTC" }, { name: "old", zone: "UTC" }, { name: "mine", zone: "UTC" }),
  ).toEqual({
    name: "mine",
    zone: "UTC",
  }));
