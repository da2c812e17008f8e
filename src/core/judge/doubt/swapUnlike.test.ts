import { analyse, bench, day, SETTINGS } from "../../../../scripts/testing/threeLanes";
import { assembleRun } from "../../analysis/assemble";
import { wholeRun } from "../../analysis/reduce";
import { simulateBench } from "../../rig/bench";
import { analyseExperiment } from "../../../../scripts/testing/analyse";
import type { SwapUnlike } from "./swapUnlike";

const ACCURACY = { ...bench(1).accuracy, speedShare: 0.01, profileLimit: 0.005, probeK: 0.1 };
const FIRST = { A: 1, B: 2, C: 3 };
const SECOND = { A: 2, B: 1, C: 3 };
const found = (doubts: readonly { kind: string }[]) => doubts.find((d): d is SwapUnlike => d.kind === "swapUnlike");

/** Days one by one: where boxes really stood, and where the notes say. */
function noted(seed: number, really: (typeof FIRST)[], said: (typeof FIRST)[]) {
  const runs = (stations: (typeof FIRST)[]) =>
    stations.map((s, i) => ({ run: String(i + 1), days: [day(5 + i)], stations: s }));
  const made = simulateBench(bench(seed, { accuracy: ACCURACY, runs: runs(really) }));
  const told = simulateBench(bench(seed, { accuracy: ACCURACY, runs: runs(said) }));
  return analyseExperiment(
    made.map((r, i) => wholeRun(told[i].setup, assembleRun(r.channels))),
    SETTINGS,
  ).judgement;
}

test("a swap done a day later than noted is dated by its own day", () => {
  const { doubts } = noted(2, [FIRST, FIRST, FIRST, SECOND, SECOND], [FIRST, FIRST, SECOND, SECOND, SECOND]);
  const doubt = found(doubts)!;
  expect(new Date(doubt.notedMs).toISOString().slice(0, 10)).toBe("2026-10-07");
  expect(new Date(doubt.seenMs!).toISOString().slice(0, 10)).toBe("2026-10-08");
});

test("a swap that was noted and never done stays with the place", () => {
  const { doubts, verdict } = noted(2, [FIRST, FIRST, FIRST, FIRST], [FIRST, FIRST, SECOND, SECOND]);
  expect(found(doubts)).toMatchObject({ seenMs: null });
  // What would be called equal, or a winner, is open.
  expect(["cannotTell", "none"]).toContain(verdict.kind);
});

test("swaps that were noted when they were done raise nothing, on good benches and on cheap ones", () => {
  for (const seed of [1, 2, 3, 4]) {
    expect(found(analyse(bench(seed, { accuracy: ACCURACY })).judgement.doubts)).toBeUndefined();
    const cheap = { ...ACCURACY, speedShare: 0.06, profileLimit: 0.05, probeK: 0.5 };
    expect(found(analyse(bench(seed, { accuracy: cheap })).judgement.doubts)).toBeUndefined();
  }
});
