import fc from "fast-check";
import { toWall } from "@/core/log/zone";
import { chartLabel } from "./model";
import { timeLabel, timeTicks } from "./ticks";

const DAY = 86400000;
const zone = fc.constantFrom("UTC", "Europe/Zurich", "America/Denver", "Asia/Kathmandu", "UTC-03:30");
const span = fc.tuple(
  fc.integer({ min: Date.UTC(2020, 0, 1), max: Date.UTC(2030, 0, 1) }),
  fc.integer({ min: 60000, max: 400 * DAY }),
);

describe("ticks of time", () => {
  test("lie in the range, evenly, at round times of the site’s clock, and not too many", () =>
    fc.assert(
      fc.property(span, zone, fc.integer({ min: 3, max: 12 }), ([from, width], z, most) => {
        const ticks = timeTicks(from, from + width, z, most);
        expect(ticks.length).toBeLessThanOrEqual(most + 1);
        for (const t of ticks) {
          expect(t).toBeGreaterThanOrEqual(from);
          expect(t).toBeLessThanOrEqual(from + width);
        }
        const steps = new Set(ticks.slice(1).map((t, i) => t - ticks[i]));
        expect(steps.size).toBeLessThanOrEqual(1);
        // The first stands at a whole minute of the wall clock.
        if (ticks.length) expect(toWall(ticks[0], z) % 60000).toBe(0);
      }),
      { numRuns: 400, seed: 3 },
    ));

  test("midnight is a day, any other time a time", () => {
    const midnight = Date.UTC(2026, 9, 6, 22);
    expect(timeLabel(midnight, "Europe/Zurich")).toBe("7 Oct");
    expect(timeLabel(midnight, "UTC")).toBe("22:00");
    expect(timeLabel(midnight + 30 * 60000, "Europe/Zurich")).toBe("00:30");
  });
});

test("a chart says what it shows and how it is moved, to those who do not see it", () => {
  const spec = {
    title: "Curves",
    summary: "Two lanes.",
    x: { title: "" },
    y: { title: "" },
    series: [],
    table: { columns: [], rows: [] },
  };
  expect(chartLabel(spec)).toMatch(/^Curves\. Two lanes\. Keys: arrows move/);
});
