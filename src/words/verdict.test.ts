import fc from "fast-check";
import { CLEAN_REASONS } from "../core/log/clean";
import type { Remedy } from "../core/judge/verdict";
import { chancePercent } from "./sources";
import { chanceWords, cleanWords, failureWords, LIMIT_WORDS, remedyWords } from "./judge";
import { fitNote, layerWords, ORIGINS, sharedWindowsNote, WORKING_TITLES } from "./working";

const spaced = (text: string | null) => (text ?? "").replace(/[\s\u2009\u00a0]+/g, " ");

describe("chances in words", () => {
  test.each([
    [0.5, "about even"],
    [0.41, "about even"],
    [1 / 3, "1 in 3"],
    [0.2, "1 in 5"],
    [0.01, "1 in 100"],
    [0.00105, "1 in 950"],
    [0.0009, "less than 1 in 1 000"],
    [0, "less than 1 in 1 000"],
  ])("%s is %s", (p, words) => expect(spaced(chanceWords(p))).toBe(words));

  test("a smaller chance never reads as a larger one", () => {
    const rank = (p: number) => {
      const words = spaced(chanceWords(p));
      if (words === "about even") return 2;
      return words.startsWith("less") ? 1000.5 : Number(words.slice(5).replace(/ /g, ""));
    };
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 0.5, noNaN: true }),
        fc.double({ min: 0, max: 0.5, noNaN: true }),
        (a, b) => {
          if (a < b) expect(rank(a)).toBeGreaterThanOrEqual(rank(b));
        },
      ),
      { numRuns: 500, seed: 14 },
    );
  });

  test("counted in draws, nothing is quite nothing or quite certain", () => {
    expect(spaced(chancePercent(0))).toBe("< 1 %");
    expect(spaced(chancePercent(1))).toBe("> 99 %");
    expect(spaced(chancePercent(0.642))).toBe("64 %");
  });
});

describe("what to do next", () => {
  test("one more day and several, a swap, nothing", () => {
    expect(remedyWords({ kind: "moreDays", days: 1 }, "metric")).toContain("one more clear day");
    expect(remedyWords({ kind: "moreDays", days: 5 }, "metric")).toContain("5 more clear days");
    expect(remedyWords({ kind: "swapStations", a: "A", b: "B" }, "metric")).toMatch(/^swap the places of A and B/);
    expect(remedyWords({ kind: "nothing" }, "metric")).toBeNull();
  });

  test("a better instrument is named with what it would bring, in the reader’s units", () => {
    const remedy: Remedy = {
      kind: "betterInstrument",
      source: "sunSensor",
      expandedNow: 23,
      expandedThen: 12,
    };
    const metric = spaced(remedyWords(remedy, "metric"));
    expect(metric).toMatch(/^calibrate or replace “.+”: half its error would cut ± 23 W\/m² to ± 12 W\/m²$/);
    expect(remedyWords(remedy, "us")).not.toContain("W/m²");
    expect(remedyWords({ kind: "steadierDays", days: 200 }, "metric")).toMatch(
      /^test under a steadier sun .* 200 more days/,
    );
  });

  test("a curve that cannot be fitted says what it lacks", () => {
    expect(failureWords({ kind: "tooFewPoints", lane: "C", points: 1, needed: 4 })).toMatch(
      /^C has 1 steady window;.* needs 4/,
    );
    expect(failureWords({ kind: "narrowRange", lane: "C", xRange: [0.01, 0.011] })).toMatch(/Warm the inlet in steps/);
  });

  test("every reason has its words, each its own", () => {
    const words = CLEAN_REASONS.map(cleanWords);
    expect(new Set(words).size).toBe(CLEAN_REASONS.length);
    expect(new Set(Object.values(LIMIT_WORDS)).size).toBe(Object.keys(LIMIT_WORDS).length);
  });
});

describe("what a working says", () => {
  test("titles differ, origins name their instrument and place", () => {
    const titles = Object.values(WORKING_TITLES);
    expect(new Set(titles).size).toBe(titles.length);
    expect(ORIGINS.probe("2-out", ORIGINS.window("1", 0))).toBe("probe 2-out, run 1, window 1");
    expect(ORIGINS.meter("mass flow", "3")).toBe("mass flow meter 3");
    expect(ORIGINS.pair({ windows: 12, days: 2, swapped: true, inTurn: false }, "window")).toBe(
      "12 steady windows, 2 days, swapped",
    );
  });

  test.each([
    [{ kind: "air" }, "moist air at the mean temperature"],
    [{ kind: "water" }, "water at the mean temperature"],
    [{ kind: "glycol", massFraction: 0.4 }, "water with 40 % propylene glycol at the mean temperature"],
  ] as const)("the heat capacity of %j is its own", (fluid, words) => expect(ORIGINS.specificHeat(fluid)).toBe(words));

  test("a swap, several places and a curvature left out are said; what is not so is not", () => {
    const pair = { windows: 8, days: 2, swapped: true, inTurn: false };
    expect(sharedWindowsNote(pair)).toMatch(/cancels\.$/);
    expect(sharedWindowsNote({ ...pair, swapped: false })).toMatch(/never stood in each other's place\.$/);
    expect(sharedWindowsNote({ ...pair, inTurn: true })).toMatch(/never ran at the same time.*weather/);
    expect(fitNote(1, true)).toBe("Weighted least squares.");
    expect(fitNote(3, false)).toMatch(/each of 3 places.*Curvature left out/);
  });

  test("what lies between reading and figure: always the raw readings last, each layer once", () => {
    const over = {
      rules: "standard",
      areaBasis: "gross",
      basis: "mean",
      cleaned: 0,
      aside: 0,
      calibrations: [],
    } as const;
    expect(layerWords(over)).toEqual([
      "windows “standard”",
      "gross area",
      "mean fluid temperature",
      "no faulty readings",
      "raw readings unchanged",
    ]);
    const more = layerWords({
      ...over,
      basis: "inlet",
      cleaned: 42,
      aside: 1,
      calibrations: [1, 1, 2].map((run) => ({ name: "kettle", run })),
    });
    expect(more).toContain("42 faulty readings left out");
    expect(more).toContain("1 span set aside by you");
    expect(more.filter((l) => l.startsWith("calibration"))).toHaveLength(2);
    expect(more.at(-1)).toBe("raw readings unchanged");
  });
});
