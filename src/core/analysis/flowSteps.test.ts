import { analyse, bench, day, SETTINGS } from "../../../scripts/testing/threeLanes";
import { flowSteps } from "./flowSteps";
import { flowPerGrossArea } from "./points";

/** A and C at one flow on the first days and at twice as much on the next; B keeps its own. */
const stepped = () => {
  const at = (kg: number) => bench(3).specimens.map((s) => (s.lane === "B" ? s : { ...s, massFlowKgPerS: kg }));
  const run = (number: string, days: number[], kg: number, stations: Record<string, number>) =>
    analyse(bench(3, { specimens: at(kg), runs: [{ run: number, days: days.map((d) => day(d)), stations }] })).points;
  return [...run("1", [5, 6], 0.022, { A: 1, B: 2, C: 3 }), ...run("2", [8], 0.05, { A: 3, B: 2, C: 1 })];
};

describe("a lane that was run at two flows", () => {
  const points = stepped();
  const { main, steps } = flowSteps(points);

  test("has one figure for each, and a curve through the windows of one", () => {
    expect(steps.map((s) => [s.lane, s.main])).toEqual([
      ["A", true],
      ["A", false],
      ["C", true],
      ["C", false],
    ]);
    const [low, high] = steps;
    expect(high.flowPerArea / low.flowPerArea).toBeCloseTo(0.05 / 0.022, 1);
    // More flow, cooler plate, more of the light.
    expect(high.efficiency.value).toBeGreaterThan(low.efficiency.value + 0.05);
    const flows = main.filter((p) => p.lane === "A").map(flowPerGrossArea);
    expect(Math.max(...flows) / Math.min(...flows)).toBeLessThan(1.15);
  });

  test("keeps every window of a lane whose flow was not stepped", () => {
    const of = (list: typeof points) => list.filter((p) => p.lane === "B").length;
    expect(of(main)).toBe(of(points));
  });
});

test("a steady bench has no steps, and a flow that follows the sun is one", () => {
  const { points, flowSteps: steps, compared } = analyse(bench(2));
  expect(steps).toEqual([]);
  expect(compared).toEqual(points);
  // A draught between a third and the whole of its flow, without a gap.
  const draught = points.map((p, i) => ({
    ...p,
    massFlow: { ...p.massFlow, value: p.massFlow.value * (0.4 + (0.6 * i) / points.length) },
  }));
  expect(flowSteps(draught).steps).toEqual([]);
});

test("a thin step (two windows) makes none, and settings do not matter to it", () => {
  const { points } = analyse(bench(2), SETTINGS);
  const few = points.map((p, i) => (i < 2 ? { ...p, massFlow: { ...p.massFlow, value: 2 * p.massFlow.value } } : p));
  expect(flowSteps(few).steps).toEqual([]);
});
