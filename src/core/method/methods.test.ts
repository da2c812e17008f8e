import { NEED_WORDS, PROTOCOL_WORDS, RISK_WORDS } from "../../words/plan";
import { METHOD_NAMES, methodOf } from "./list";
import { testTimes } from "../log/windows";
import { MINUTE, type PlanningDay } from "./method";

const MORNING = Date.UTC(2026, 9, 5, 8);
const day = (over: Partial<PlanningDay> = {}): PlanningDay => {
  const spans = over.spans ?? [{ fromMs: MORNING, toMs: MORNING + 6 * 60 * MINUTE }];
  const settleMs = over.settleMs ?? 15 * MINUTE;
  const averageMs = over.averageMs ?? 10 * MINUTE;
  return {
    long: spans.filter((s) => s.toMs - s.fromMs >= settleMs + averageMs),
    swapMs: 30 * MINUTE,
    levelsK: [0, 15, 30],
    swapAtNoon: false,
    ...over,
    spans,
    settleMs,
    averageMs,
  };
};

describe.each(METHOD_NAMES)("%s, as every method", (name) => {
  const method = methodOf(name);
  test("has words for itself, for what it needs and for what can go wrong", () => {
    expect(PROTOCOL_WORDS[name].name.length).toBeGreaterThan(3);
    for (const need of method.needs) expect(NEED_WORDS[need].length).toBeGreaterThan(2);
    for (const risk of method.risks) expect(RISK_WORDS[risk].length).toBeGreaterThan(10);
    expect(method.risks.length).toBeGreaterThan(0);
  });
  test("plans its hours inside the clear spans, in order, without overlap (a tank cools after dark)", () => {
    const hours = method.hours(day());
    expect(hours.length).toBeGreaterThan(0);
    for (const [i, h] of hours.entries()) {
      expect(h.toMs).toBeGreaterThan(h.fromMs);
      expect(h.fromMs).toBeGreaterThanOrEqual(MORNING);
      if (h.state !== "cooling") expect(h.toMs).toBeLessThanOrEqual(MORNING + 6 * 60 * MINUTE);
      if (i) expect(h.fromMs).toBeGreaterThanOrEqual(hours[i - 1].toMs);
    }
  });
  test("gives nothing on a day without a span", () => expect(method.hours(day({ spans: [] }))).toEqual([]));
  test("takes at least a day, and says what it yields", () => {
    expect(method.leastDays).toBeGreaterThanOrEqual(1);
    expect(["windows", "days", "run"]).toContain(method.figures);
  });
});

test("every method is read, but for what only a person can read", async () => {
  const unread = METHOD_NAMES.filter((n) => methodOf(n).finders.length === 0);
  // The steady one's windows are what a run is reduced to.
  expect(unread).toEqual(["steady", "calibration"]);
  for (const name of METHOD_NAMES)
    for (const fetch of methodOf(name).finders) {
      const finder = await fetch();
      const nothing = {
        spans: [],
        lanes: [],
        basis: "mean" as const,
        operatingPoint: { irradianceWm2: 800, ambientC: 5, inletC: 20, flowPerArea: 0.02 },
        stationShare: 0,
      };
      expect(finder(nothing).findings).toEqual([]);
    }
});

describe("hours", () => {
  test("a long span holds every inlet level, a short one only the first", () => {
    const levels = (minutes: number) =>
      methodOf("steady")
        .hours(day({ spans: [{ fromMs: MORNING, toMs: MORNING + minutes * MINUTE }] }))
        .filter((h) => h.kind === "measure")
        .map((h) => h.levelK);
    expect(levels(360)).toEqual([0, 15, 30]);
    expect(levels(40)).toEqual([0]);
    expect(levels(20)).toEqual([]);
  });
  test("a swap at noon parts the span in two halves of all levels", () => {
    const kinds = methodOf("steady")
      .hours(day({ swapAtNoon: true }))
      .map((h) => h.kind);
    expect(kinds.filter((k) => k === "swap")).toHaveLength(1);
    expect(kinds.indexOf("swap")).toBe((kinds.length - 1) / 2);
  });
  test("the mirror goes on and off by turns", () => {
    const states = methodOf("mirrorOnOff")
      .hours(day())
      .filter((h) => h.kind === "measure")
      .map((h) => h.state);
    states.forEach((s, i) => expect(s).toBe(i % 2 ? "mirrorOff" : "mirrorOn"));
  });
  test("no more than three steps are taken of the time constant", () =>
    expect(
      methodOf("timeConstant")
        .hours(day())
        .filter((h) => h.kind === "step"),
    ).toHaveLength(3));
  test("slow boxes settle and average by their time constant, quick ones by the rule", () => {
    const rules = { settleS: 900, settleTimeConstants: 4, averageS: 600, averageTimeConstants: 4 };
    expect(testTimes(rules, 60)).toEqual({ settleS: 900, averageS: 600 });
    expect(testTimes(rules, 1000)).toEqual({ settleS: 4000, averageS: 4000 });
  });
});
