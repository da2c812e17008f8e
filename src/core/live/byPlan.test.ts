import fc from "fast-check";
import { nextSpan, planSteps, type PlannedSpan } from "./byPlan";

const HOUR = 3600_000;
const spans: PlannedSpan[] = [
  { fromMs: 10 * HOUR, toMs: 14 * HOUR },
  { fromMs: 34 * HOUR, toMs: 38 * HOUR },
];

test("a run begun early rests until the plan's hours, between them, and ends with the last", () => {
  expect(planSteps(spans, { seenMs: 8 * HOUR, nowMs: 50 * HOUR, paused: false })).toEqual([
    { kind: "pause", atMs: 8 * HOUR },
    { kind: "resume", atMs: 10 * HOUR },
    { kind: "pause", atMs: 14 * HOUR },
    { kind: "resume", atMs: 34 * HOUR },
    { kind: "end", atMs: 38 * HOUR },
  ]);
});

test("begun within the hours it runs; paused by a person it rests until the next hours", () => {
  expect(planSteps(spans, { seenMs: 11 * HOUR, nowMs: 12 * HOUR, paused: false })).toEqual([]);
  expect(planSteps(spans, { seenMs: 11 * HOUR, nowMs: 15 * HOUR, paused: true })).toEqual([]);
  expect(planSteps(spans, { seenMs: 15 * HOUR, nowMs: 35 * HOUR, paused: true })).toEqual([
    { kind: "resume", atMs: 34 * HOUR },
  ]);
});

test("a plan that is over ends the run when it is told to follow it; no plan, no step", () => {
  expect(planSteps(spans, { seenMs: 40 * HOUR, nowMs: 41 * HOUR, paused: false })).toEqual([
    { kind: "end", atMs: 40 * HOUR },
  ]);
  expect(planSteps([], { seenMs: 0, nowMs: 99 * HOUR, paused: false })).toEqual([]);
  expect(nextSpan(spans, 15 * HOUR)).toBe(spans[1]);
  expect(nextSpan(spans, 38 * HOUR)).toBeNull();
});

test("looking often or once comes to the same", () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 45 }), { maxLength: 12 }),
      fc.integer({ min: 0, max: 30 }),
      (looks, begin) => {
        const end = 46;
        const once = planSteps(spans, { seenMs: begin * HOUR, nowMs: end * HOUR, paused: false });
        const often = [];
        let seenMs = begin * HOUR;
        let paused = false;
        for (const h of [...looks.filter((l) => l >= begin).sort((a, b) => a - b), end]) {
          const steps = planSteps(spans, { seenMs, nowMs: h * HOUR, paused });
          for (const s of steps) paused = s.kind === "pause" || (s.kind === "end" && paused);
          often.push(...steps);
          seenMs = h * HOUR;
          if (steps.some((s) => s.kind === "end")) break;
        }
        expect(often).toEqual(once);
      },
    ),
  );
});
