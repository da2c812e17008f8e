import { clouded, CLOUDED } from "../../../scripts/testing/cloudedBench";
import type { Experiment } from "../../core/experiment/types";
import { judgeReduction } from "../../core/judge/judgeReduction";
import { CORRUGATED } from "../../core/rig/bench";
import { withDaylight } from "./daylight";

// Two short noons: no three hours and no steady windows, and more than three hours of changing light.
const bench = clouded({ A: CORRUGATED, B: { ...CORRUGATED, streamTransfer: 60 } }, 3, [12.3, 14.7]);
const experiment = (operatingPoint = CLOUDED.operatingPoint) =>
  ({
    settings: { ...CLOUDED, operatingPoint },
    runs: [...bench.assembled.keys()].map((id) => ({ id, number: id })),
  }) as unknown as Experiment;
const read = (of = experiment()) => ({ ...bench, experiment: of, expected: new Map() });

test("two short noons under broken cloud: windows leave the question open, and the verdict that is shown is all daylight's", async () => {
  const byWindows = judgeReduction(bench.reduction, CLOUDED);
  expect(byWindows.verdict).toEqual({ kind: "none", reason: "tooShort" });
  const { verdict } = await withDaylight(byWindows, "clouded", read());
  expect(verdict).toMatchObject({ kind: "daylight", decision: "winner", best: ["B"], next: ["A"] });
});

test("another operating point moves it, from the same fit", async () => {
  const at = async (inletC: number) => {
    const operatingPoint = { ...CLOUDED.operatingPoint, inletC };
    const byWindows = judgeReduction(bench.reduction, { ...CLOUDED, operatingPoint });
    const { verdict } = await withDaylight(byWindows, "clouded", read(experiment(operatingPoint)));
    return "difference" in verdict ? verdict.difference.value : NaN;
  };
  // The better path to the stream gives less where less goes down it.
  expect(await at(40)).toBeLessThan(await at(20));
});

test("an answer of the windows' own is left as it is", async () => {
  const winner = { ...judgeReduction(bench.reduction, CLOUDED), verdict: { kind: "stopped" as const } };
  expect(await withDaylight(winner, "clouded", read())).toBe(winner);
});
