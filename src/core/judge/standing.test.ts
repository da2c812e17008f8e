import fc from "fast-check";
import { lookAfter } from "../uncertainty/sequential";
import { withSource } from "../uncertainty/uncertain";
import { adviceAfter } from "./standing";
import type { Verdict } from "./verdict";

const figure = (value: number, standard: number) =>
  withSource(value, standard, { kind: "dayScatter", lanes: "AB", owner: "", dof: Infinity });
const open = (value: number, standard: number, over: object = {}): Verdict => ({
  kind: "cannotTell",
  best: ["A"],
  next: ["B"],
  open: [],
  difference: figure(value, standard),
  expanded: 1.96 * standard,
  chanceWrong: 0.2,
  rivals: 1,
  remedy: { kind: "nothing" },
  gate: null,
  ...over,
});
const at = (verdict: Verdict, atEnd: number, planned: number | null = null, taken = 2) =>
  adviceAfter({ verdict, look: lookAfter(taken, planned) }, { atEnd, smallest: 15 });

test("what the verdict says is what the plan advises", () => {
  const winner: Verdict = {
    kind: "winner",
    best: ["A"],
    next: ["B"],
    difference: figure(42, 10),
    expanded: 20,
    expanded90: 17,
    meaning: "open",
    chanceWrong: 3e-5,
    rivals: 2,
    remedy: { kind: "nothing" },
  };
  for (const planned of [null, 2, 6, 30]) expect(at(winner, 1, planned)).toEqual({ kind: "detected" });
  const tie: Verdict = {
    kind: "tie",
    lanes: ["A", "B"],
    best: ["A"],
    others: [["B"]],
    within: 15,
    difference: figure(2, 4),
    expanded: 8,
  };
  expect(at(tie, 1)).toEqual({ kind: "equal" });
  const gate = { kind: "unequalFlow", without: "winner" as const, low: -3, high: 47 };
  expect(at(open(42, 10, { gate }), 1)).toEqual({ kind: "warningFirst" });
  expect(at({ kind: "stopped" }, 1)).toBeNull();
  expect(at({ kind: "none", reason: "noHeat" }, 1)).toBeNull();
});

test("an open question goes on while the rest of the plan can tell what matters, and stops where it cannot", () => {
  expect(at(open(15, 7), 4, 6)).toMatchObject({ kind: "goOn", ifTrue: 15 });
  expect(at(open(30, 12), 4, 6)).toMatchObject({ kind: "goOn", ifTrue: 30 });
  expect(at(open(0.5, 40), 35, 6)).toMatchObject({ kind: "hopeless" });
  // A kept plan ends with its days, not with those that would be needed.
  expect(at(open(12, 8), 2, 4, 4)).toEqual({ kind: "done" });
  expect(at(open(12, 8), 2, 4, 3)).toMatchObject({ kind: "goOn" });
  // Without one there is no bound to pass and no day to end on: only what more days would add.
  expect(at(open(12, 8), 2)).toMatchObject({ kind: "goOn" });
  expect(at(open(12, 8), 8)).toEqual({ kind: "done" });
  // Days that did not swap hold little of a plan that does.
  const unswapped = at(open(30, 12), 1.5, 6);
  expect(unswapped).toMatchObject({ kind: "goOn" });
  if (unswapped?.kind === "goOn") {
    expect(unswapped.chance).toBeGreaterThan(0.95);
    expect(unswapped.share).toBeLessThan(0.05);
  }
});

test("over any figures: detected if and only if the verdict has a winner, and a chance is a chance", () =>
  fc.assert(
    fc.property(
      fc.double({ min: -80, max: 80, noNaN: true }),
      fc.double({ min: 0.1, max: 60, noNaN: true }),
      fc.double({ min: 0.1, max: 60, noNaN: true }),
      fc.option(fc.integer({ min: 1, max: 30 })),
      fc.integer({ min: 1, max: 7 }),
      (value, now, atEnd, planned, rivals) => {
        const advice = at(open(value, now, { rivals }), atEnd, planned)!;
        expect(["goOn", "hopeless", "done"]).toContain(advice.kind);
        if ("chance" in advice) {
          expect(advice.chance).toBeGreaterThanOrEqual(0);
          expect(advice.chance).toBeLessThanOrEqual(1);
        }
      },
    ),
  ));
