import { CORRUGATED, simulateBench } from "../rig/bench";
import { assembleRun, type LoggedChannel } from "./assemble";
import { reduceRun, wholeRun } from "./reduce";
import { standardRules } from "../log/windows";

const [run] = simulateBench({
  seed: 4,
  stepS: 30,
  hours: [9, 17],
  accuracy: { probeK: 0.1, speedShare: 0.01, profileLimit: 0, sunShare: 0.02, ambientK: 0.2, stationShare: 0 },
  inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
  specimens: ["A", "B"].map((lane) => ({
    lane,
    variant: lane,
    collector: CORRUGATED,
    areaM2: 2,
    massFlowKgPerS: 0.04,
  })),
  runs: [
    {
      run: "1",
      stations: { A: 1, B: 2 },
      days: [{ dateMs: Date.UTC(2026, 8, 10, 10), cloudiness: 0.03, meanAmbientC: 12, meanWind: 1.5 }],
    },
  ],
});
const like = (kind: LoggedChannel["kind"]) => run.channels.find((c) => c.kind === kind)!;
const more = (over: Partial<LoggedChannel>): LoggedChannel => ({ ...like("inlet"), id: 90, name: "second", ...over });
const reduced = (extra: LoggedChannel[]) =>
  reduceRun(wholeRun(run.setup, assembleRun([...run.channels, ...extra])), {
    rules: standardRules("air"),
    basis: "mean",
  });

test("a second meter at the other end that sees less tells a leak; one that agrees tells none", () => {
  const meter = (kg: number) => more({ kind: "massFlow", station: 1, values: like("inlet").values.map(() => kg) });
  const { points, second } = reduced([meter(0.036)]);
  expect(points.length).toBeGreaterThan(4);
  const own = points.filter((p) => p.lane === "A");
  const mass = own.reduce((s, p) => s + p.massFlow.value, 0) / own.length;
  expect(second.leaks).toHaveLength(1);
  expect(second.leaks[0]).toMatchObject({ lane: "A", limitShare: Math.SQRT2 * 0.01 });
  expect(second.leaks[0].share).toBeCloseTo(1 - 0.036 / mass, 2);
  expect(Math.abs(reduced([meter(mass)]).second.leaks[0].share)).toBeLessThan(0.01);
  expect(reduced([]).second).toEqual({ leaks: [], windsMs: [] });
});

test("two anemometers are compared over the hours both knew", () => {
  const windy = more({ kind: "wind", station: null, values: like("wind").values.map((v) => 2 * v) });
  const { windsMs } = reduced([windy]).second;
  expect(windsMs).toHaveLength(2);
  expect(windsMs[1] / windsMs[0]).toBeCloseTo(2, 6);
});
