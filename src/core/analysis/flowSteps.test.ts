import { analyse, bench, day, SETTINGS } from "../../../scripts/testing/threeLanes";
import { simulateBench } from "../rig/bench";
import { assembleRun } from "./assemble";
import { flowSteps } from "./flowSteps";
import { flowPerGrossArea } from "./points";
import { reduceExperiment, wholeRun } from "./reduce";
import type { FlowSetup, RunSetup } from "./setup";

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

describe("a flow that nothing logged, and that was set anew at noted times", () => {
  const plan = bench(3, { runs: [{ run: "1", days: [day(5), day(6)], stations: { A: 1, B: 2, C: 3 } }] });
  const run = (kg: number) =>
    simulateBench({ ...plan, specimens: plan.specimens.map((s) => ({ ...s, massFlowKgPerS: kg })) })[0];
  const [slow, fast] = [run(0.022), run(0.05)];
  const noon = (slow.log.times[0] + slow.log.times.at(-1)!) / 2;
  const joined = slow.channels.map((c, k) => ({
    ...c,
    values: c.values.map((v, i) => (c.times[i] < noon ? v : fast.channels[k].values[i])),
  }));
  const speed = (of: typeof slow, lane: string) =>
    [...of.channels.find((c) => c.name === `${lane} speed`)!.values].filter((v) => v > 0).sort((a, b) => a - b);
  const middle = (of: typeof slow, lane: string) => speed(of, lane)[speed(of, lane).length >> 1];
  const points = (changes: boolean) => {
    const setup: RunSetup = {
      ...slow.setup,
      lanes: slow.setup.lanes.map((l) => ({
        ...l,
        flow: {
          ...l.flow,
          stated: middle(slow, l.lane),
          ...(changes ? { changes: [{ fromMs: noon, reading: middle(fast, l.lane) }] } : {}),
        } as FlowSetup,
      })),
    };
    const logged = joined.filter((c) => c.kind !== "speed");
    return reduceExperiment([wholeRun(setup, assembleRun(logged))], SETTINGS);
  };

  test("counts from each time on: heat as by the meter, and one figure for each step", () => {
    const metered = reduceExperiment([wholeRun(slow.setup, assembleRun(joined))], SETTINGS);
    const energy = (of: typeof metered) => of.heat.days.filter((d) => d.lane === "A").map((d) => d.energy.value);
    const [logged, told, one] = [metered, points(true), points(false)].map(energy);
    told.forEach((v, i) => expect(v / logged[i]).toBeCloseTo(1, 1));
    // One figure for the whole run would leave out half of the second day's heat.
    expect(one.at(-1)! / logged.at(-1)!).toBeLessThan(0.6);
    expect(points(true).flowSteps.filter((s) => s.lane === "A").length).toBe(2);
    expect(points(false).flowSteps).toEqual([]);
  });
});
