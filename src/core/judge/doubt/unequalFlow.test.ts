import { BARE_EVIDENCE } from "../../../../scripts/testing/evidence";
import type { HeatPoint } from "../../analysis/points";
import { seededRandom } from "../../random/seededRandom";
import { exact, withSource } from "../../uncertainty/uncertain";
import type { DoubtInput } from "./doubt";
import { unequalFlow } from "./unequalFlow";

/** kg/s */
const FLOW = 0.04;
const SHARE = 0.05;
const LANES = ["A", "B", "C", "D"];

/** Benches whose lanes' meters err by their stated 5 % (standard), of which it is said that flows differ: a share of 4000. */
function named(lanes: readonly string[], really: (lane: string) => number): number {
  const random = seededRandom(41);
  const BENCHES = 4000;
  let found = 0;
  for (let i = 0; i < BENCHES; i++) {
    const heats = lanes.map((lane) => {
      const read = really(lane) * (1 + SHARE * random.normal());
      const source = { kind: "speedMeter" as const, meter: lane, owner: lane, dof: Infinity };
      return { lane, massFlow: withSource(read, SHARE * read, source), area: exact(2), heat: exact(1000) } as HeatPoint;
    });
    const ranking = lanes.map((lane) => ({ lane, heat: exact(500), rank: [1, 1], chanceBest: 1, chances: [] }));
    const input = { ...BARE_EVIDENCE, heats, ranking, pairs: [], way: "mean", verdict: { kind: "none" }, lanes: [] };
    if (unequalFlow.find(input as unknown as DoubtInput).length) found++;
  }
  return found / BENCHES;
}

test.each([2, 3, 4])("%d lanes of equal flow are named in 2 of 100 at most, whatever their meters say", (count) => {
  // Of 4000 the share's own standard uncertainty is 0.2 %.
  expect(named(LANES.slice(0, count), () => FLOW)).toBeLessThan(0.026);
  expect(named(LANES.slice(0, count), () => FLOW)).toBeGreaterThan(0.01);
});

test("one lane at two thirds of the others' flow is named nearly always, at nine tenths seldom: its meter may be all of it", () => {
  expect(named(LANES, (lane) => (lane === "B" ? 0.66 : 1) * FLOW)).toBeGreaterThan(0.95);
  expect(named(LANES, (lane) => (lane === "B" ? 0.9 : 1) * FLOW)).toBeLessThan(0.4);
});
