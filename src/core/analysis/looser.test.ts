import { bench, day } from "../../../scripts/testing/threeLanes";
import { backyardRules, standardRules } from "../log/windows";
import { simulateBench } from "../rig/bench";
import { assembleRun } from "./assemble";
import { looserLimits } from "./looser";
import { reduceRun, wholeRun } from "./reduce";

const [made] = simulateBench(bench(5, { runs: [{ run: "1", days: [day(6)], stations: { A: 1, B: 2, C: 3 } }] }));
const input = wholeRun(made.setup, assembleRun(made.channels));
const points = (rules: ReturnType<typeof standardRules>) => reduceRun(input, { rules, basis: "mean" }).points.length;

describe("what a looser limit would give", () => {
  test("a limit made needlessly tight is found, first, with what it costs", () => {
    const rules = { ...standardRules("air"), flowBand: 0.004 };
    const [first] = looserLimits([input], { rules, basis: "mean" }, "air");
    expect(first).toMatchObject({ limit: "flowBand", from: 0.004, to: backyardRules("air").flowBand });
    expect(first.points).toBe(points(first.rules));
    expect(first.points).toBeGreaterThan(points(rules));
  });
  test("the settling time is loosened with its time constants; others stay as they are", () => {
    const rules = { ...standardRules("air"), settleS: 7200 };
    const found = looserLimits([input], { rules, basis: "mean" }, "air").find((l) => l.limit === "settleS")!;
    expect(found.rules).toEqual({ ...rules, name: "backyard", settleS: 480, settleTimeConstants: 2 });
  });
  test("only what gives more is told, most first; beyond the looser set it goes on by half", () => {
    const rules = backyardRules("air");
    const found = looserLimits([input], { rules, basis: "mean" }, "air");
    for (const l of found) expect(l.points).toBeGreaterThan(points(rules));
    expect(found.map((l) => l.points)).toEqual(found.map((l) => l.points).sort((a, b) => b - a));
    const band = looserLimits([input], { rules: { ...rules, flowBand: 0.05 }, basis: "mean" }, "air").find(
      (l) => l.limit === "flowBand",
    );
    if (band) expect(band.to).toBeCloseTo(0.075, 9);
  });
});
