import { verdictChange, type FrozenResults } from "./versions";

const frozen = (over: Partial<FrozenResults> = {}): FrozenResults => ({
  verdict: { kind: "winner", best: ["B"], next: ["A"], difference: { si: 42, expanded: 20 } },
  points: 40,
  operatingPoint: { irradianceWm2: 850 },
  way: "point",
  doubts: [{ key: "fewDays", dismissed: null }],
  fingerprint: "one",
  ...over,
});

test("nothing changed is the same", () =>
  expect(verdictChange(frozen(), frozen())).toEqual({
    same: true,
    turned: null,
    difference: null,
    points: null,
    asked: [],
    doubts: { gone: 0, come: 0 },
  }));

test("another winner, or none, is said before any figure", () => {
  const now = frozen({
    verdict: { kind: "cannotTell", best: ["B"], next: ["A"], difference: { si: 12, expanded: 20 } },
    fingerprint: "two",
  });
  expect(verdictChange(frozen(), now)).toMatchObject({
    same: false,
    turned: { from: "B first", to: "cannot tell" },
    difference: null,
  });
  const tie = frozen({ verdict: { kind: "tie", lanes: ["A", "B"] } });
  expect(verdictChange(frozen(), tie).turned).toEqual({ from: "B first", to: "A and B equal" });
});

test("more points, a sharper figure, another point, doubts that went and came", () => {
  const now = frozen({
    verdict: { kind: "winner", best: ["B"], next: ["A"], difference: { si: 40, expanded: 9 } },
    points: 60,
    operatingPoint: { irradianceWm2: 600 },
    doubts: [
      { key: "fewDays", dismissed: "measured on six" },
      { key: "cleaned/x", dismissed: null },
    ],
    fingerprint: "two",
  });
  expect(verdictChange(frozen(), now)).toEqual({
    same: false,
    turned: null,
    difference: { from: 42, to: 40, expandedFrom: 20, expandedTo: 9 },
    points: { from: 40, to: 60 },
    asked: ["operatingPoint"],
    doubts: { gone: 1, come: 1 },
  });
});
