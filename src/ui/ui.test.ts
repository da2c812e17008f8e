import { timeLabel, timeTicks } from "./chart/ticks";
import { toCsv } from "./table/csv";
import { scaleOver } from "./Interval";
import { laneShape } from "./LaneMark";
import { chanceWords, failureWords, remedyWords } from "@/words/judge";
import { chancePercent, sourceGroupWords } from "@/words/sources";
import { problemWords } from "@/words/importing";
import { quantityProblemWords } from "@/words/quantity";
import { doubtWords } from "@/words/doubts";

const HOUR = 3600000;

describe("time axis", () => {
  test("ticks stand at round wall-clock times of the site, also over a change to winter time", () => {
    const from = Date.UTC(2026, 9, 24, 20);
    const ticks = timeTicks(from, from + 24 * HOUR, "Europe/Zurich", 8);
    expect(ticks.length).toBeLessThanOrEqual(9);
    expect(timeLabel(ticks[0], "Europe/Zurich")).toMatch(/^(\d\d:00|\d+ Oct)$/);
    expect(timeTicks(0, 60000, "UTC", 4).every((t) => t % 60000 === 0)).toBe(true);
  });
  test("midnight shows the date", () => expect(timeLabel(Date.UTC(2026, 9, 6, 22), "Europe/Zurich")).toBe("7 Oct"));
  test("steps are round", () => expect([7, 31, 94, 0.012].map((v) => scaleOver(0, v).step)).toEqual([1, 5, 20, 0.002]));
  test.each([
    [0, 7],
    [-3.2, 4],
    [400, 400],
    [0, 0],
    [-12, -12],
  ])("from %s to %s lies within its ends, and its ends are apart", (low, high) => {
    const { min, max, step } = scaleOver(low, high);
    expect(min).toBeLessThanOrEqual(low);
    expect(max).toBeGreaterThanOrEqual(high);
    expect(max).toBeGreaterThan(min);
    expect((max - min) / step).toBeLessThanOrEqual(12);
  });
});

describe("files for spreadsheets", () => {
  test("formulas are defused, numbers and text stay", () => {
    expect(toCsv([["=1+1", "+cmd", "-3.5", "@x", "plain", 4.2, 'a "b", c']])).toBe(
      `"'=1+1","'+cmd",-3.5,"'@x",plain,4.2,"a ""b"", c"\r\n`,
    );
  });
});

describe("wording", () => {
  test("chances read as people say them", () => {
    expect([0.5, 0.05, 0.0049, 0.0001].map(chanceWords)).toEqual([
      "about even",
      "1 in 20",
      "1 in 200",
      "less than 1 in 1\u2009000",
    ]);
    expect([0, 0.5, 1].map(chancePercent)).toEqual(["<\u20091\u2009%", "50\u2009%", ">\u200999\u2009%"]);
  });
  test("a problem in a file says row, column, what and what happened to it", () => {
    expect(
      problemWords({ kind: "badTime", row: 1204, column: "Time", text: "29.03.2026 02:10", reason: "skippedHour" }),
    ).toEqual({ where: "row 1\u2009204, Time", what: expect.stringContaining("never was: clocks went forward") });
    expect(problemWords({ kind: "fieldCount", row: 7, found: 3, expected: 10 }).what).toContain(
      "3 fields instead of 10",
    );
    expect(problemWords({ kind: "columnsChanged", row: 9, missing: ["A out"] }).what).toContain("A out missing");
  });
  test("quantities say what would be accepted", () => {
    expect(
      quantityProblemWords({ kind: "unknownUnit", text: "3 furlongs", unit: "furlongs", accepted: ["m/s", "ft/min"] }),
    ).toContain("m/s, ft/min");
    expect(quantityProblemWords({ kind: "ambiguousNumber", text: "1,250", readings: [1.25, 1250] })).toContain(
      "1.25 or 1250",
    );
  });
  test("every doubt has title, detail and a way out", () => {
    const context = { zone: "Europe/Zurich", system: "metric" as const };
    const effect = { low: -5, high: 5 };
    const doubts = [
      {
        kind: "unequalFlow",
        lanes: [
          { lane: "A", flowPerArea: 0.02 },
          { lane: "B", flowPerArea: 0.017 },
        ],
        spread: 0.08,
        effect,
      },
      { kind: "aboveOpticalLimit", lane: "A", efficiency: 0.95, limit: 0.8, windows: 1, effect: null },
      { kind: "neverSwapped", a: "A", b: "B", effect },
      { kind: "identicalPairApart", a: "A", b: "D", difference: 30, expanded: 10, effect },
      { kind: "noIdenticalPair", effect: null },
      {
        kind: "impossible",
        run: "1",
        found: { kind: "noRiseInSun", lane: "A", riseK: 0.02, minutes: 90 },
        effect: null,
      },
      { kind: "modelledSun", runs: ["1"], effect: null },
      { kind: "riseAtDark", run: "1", lane: "A", riseK: -1.2, effect },
      { kind: "probeInSun", run: "1", lane: "", perHundred: 0.3, effect: null },
      { kind: "probeLags", run: "1", lane: "B", lagS: 180, effect: null },
      { kind: "fewDays", days: 1, effect: null },
      { kind: "extrapolated", lane: "A", x: 0.06, xRange: [0.02, 0.04], effect },
      { kind: "daysDiffer", lanes: ["A", "C"], effect: null },
      { kind: "hottestIsNotBest", hottest: "D", best: "A", outletC: 42, bestOutletC: 39, effect: null },
      { kind: "negativeFlow", lane: "B", windows: 3, effect: null },
      {
        kind: "cleaned",
        note: { run: "1", channel: "B out", lane: "B", reason: "errorCode", count: 42, firstMs: 0, lastMs: 9e5 },
        effect: null,
      },
    ] as const;
    for (const doubt of doubts)
      for (const text of Object.values(doubtWords(doubt as never, context))) expect(text.length).toBeGreaterThan(5);
  });
  test("what would settle it", () => {
    expect(remedyWords({ kind: "moreDays", days: 3 }, "metric")).toContain("3 more clear days");
    expect(
      remedyWords({ kind: "betterInstrument", source: "speedMeter", expandedNow: 20, expandedThen: 12 }, "metric"),
    ).toMatch(/Speed meter.*± 20.*± 12/);
    expect(remedyWords({ kind: "nothing" }, "metric")).toBeNull();
    expect(failureWords({ kind: "tooFewPoints", lane: "B", points: 1, needed: 4 })).toContain(
      "1 steady window; a curve needs 4",
    );
  });
  test("sources of one kind are one line", () => {
    const meter = (n: number) => ({ kind: "speedMeter" as const, meter: String(n), owner: "A", dof: Infinity });
    expect(sourceGroupWords([meter(2), meter(1)]).label).toBe("Speed meters 1, 2");
    expect(sourceGroupWords([meter(2)]).label).toBe("Speed meter 2");
  });
});

test("each lane has a shape of its own", () => {
  const shapes = "ABCDEFGH".split("").map(laneShape);
  expect(new Set(shapes).size).toBe(8);
});
