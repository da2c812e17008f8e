import { clouded, CLOUDED } from "../../../scripts/testing/cloudedBench";
import { fittedByDaylight, foundByDaylight } from "../method/find/dynamic";
import { methodSpans } from "../method/find/span";
import { CORRUGATED } from "../rig/bench";
import { steadyHeat, type RigCollector } from "../rig/simulate";
import { byDaylight, leavesOpen, ledByDaylight } from "./byDaylight";
import type { Judgement } from "./judge";
import { judgeReduction } from "./judgeReduction";
import type { Verdict } from "./verdict";

const SETTINGS = CLOUDED;
const BETTER: RigCollector = { ...CORRUGATED, streamTransfer: 45 };
const heat = (c: RigCollector, wind: number) => steadyHeat(c, { ...SETTINGS.operatingPoint, wind }, 88500).heatPerArea;

function found(collectors: Record<string, RigCollector>, seed?: number) {
  const { inputs, reduction, wind } = clouded(collectors, seed);
  const input = {
    spans: inputs.flatMap((i) => methodSpans(i, [])),
    lanes: Object.keys(collectors).map((lane) => ({ lane, variant: lane, tank: null, pipeM: null })),
    ...SETTINGS,
  };
  const daylight = foundByDaylight(fittedByDaylight(input), input);
  return { judgement: judgeReduction(reduction, SETTINGS), daylight, lanes: reduction.lanes, wind };
}

const open: Judgement = {
  verdict: { kind: "none", reason: "tooShort" },
  pairs: [],
  doubts: [],
} as unknown as Judgement;

describe("boxes apart under broken cloud", () => {
  const bench = found({ A: CORRUGATED, B: BETTER });
  // What windows leave open is asked of them apart from what this sky gave.
  const without = { ...bench.judgement, verdict: open.verdict };
  const told = byDaylight(without, bench.lanes, bench.daylight, SETTINGS);

  test("all daylight tells the better one, by the rig's own difference", () => {
    expect(told).toMatchObject({ kind: "daylight", decision: "winner", best: ["B"], next: ["A"], windows: null });
    const truth = heat(BETTER, bench.wind) - heat(CORRUGATED, bench.wind);
    expect(Math.abs(told!.difference.value - truth)).toBeLessThan(told!.expanded);
    expect(told!.expanded).toBeLessThan(truth);
  });

  test("windows that tell are not asked over; an answer of theirs that a doubt took away stays open", () => {
    const winner = { kind: "winner" } as Verdict;
    expect(leavesOpen({ verdict: winner })).toBe(false);
    expect(leavesOpen({ verdict: { kind: "cannotTell", gate: {} } as Verdict })).toBe(false);
    expect(leavesOpen({ verdict: { kind: "none", reason: "noHeat" } })).toBe(false);
    expect(byDaylight({ ...without, verdict: winner }, bench.lanes, bench.daylight, SETTINGS)).toBeNull();
  });

  test("a doubt that reaches over it keeps it from leading, unless it was dismissed", () => {
    const doubt = { kind: "neverSwapped", effect: { low: -80, high: 80 } } as unknown as Judgement["doubts"][number];
    const doubted = { ...without, doubts: [doubt] };
    expect(byDaylight(doubted, bench.lanes, bench.daylight, SETTINGS)).toBeNull();
  });

  test("figures that cannot be right keep it from leading, also where windows have none to stop", () => {
    const found = { kind: "efficiencyTiny", lane: "A" };
    const doubt = (accepted: boolean) => ({ kind: "impossible", run: "1", found, accepted, effect: null }) as never;
    expect(byDaylight({ ...without, doubts: [doubt(false)] }, bench.lanes, bench.daylight, SETTINGS)).toBeNull();
    expect(byDaylight({ ...without, doubts: [doubt(true)] }, bench.lanes, bench.daylight, SETTINGS)).toEqual(told);
  });

  test("a rival with so much less flow that it explains the difference keeps it from leading; a tank's flow is not asked", () => {
    const less = (share: number) => ({
      ...bench.daylight,
      capacities: new Map([
        ["A", share],
        ["B", 1],
      ]),
    });
    expect(byDaylight(without, bench.lanes, less(0.97), SETTINGS)).toEqual(told);
    expect(byDaylight(without, bench.lanes, less(0.3), SETTINGS)).toBeNull();
    expect(byDaylight(without, bench.lanes, less(NaN), SETTINGS)).toEqual(told);
  });

  test("copies of one variant that it tells apart by as much keep it from leading", () => {
    const copies = bench.lanes.map((l) => ({ ...l, variant: "a" }));
    const third = { ...bench.lanes[1], lane: "C", variant: "c" };
    const [difference] = bench.daylight.findings.filter((f) => f.name === "difference");
    const heat = (lane: string, of = lane) => ({
      ...bench.daylight.findings.find((f) => f.name === "heatAtPoint" && f.lane === of)!,
      lane,
    });
    const led = (apart: number) => {
      const between = { ...difference, figure: { ...difference.figure, value: apart } };
      const findings = [
        ...[heat("A"), heat("B", "A"), heat("C", "B"), between],
        ...["A", "B"].map((lane) => ({ ...difference, lane, other: "C" })),
      ];
      return byDaylight(without, [...copies, third], { ...bench.daylight, findings }, SETTINGS);
    };
    expect(led(0)).toMatchObject({ decision: "winner", best: ["C"] });
    expect(led(1.2 * difference.figure.value)).toBeNull();
  });

  test("windows far on the other side keep it from leading: one of the two is wrong", () => {
    const difference = { ...told!.difference, value: 200 };
    const against = {
      ...without,
      verdict: {
        kind: "cannotTell",
        gate: null,
        best: ["A"],
        next: ["B"],
        open: [],
        difference,
        expanded: 20,
      } as never,
    };
    expect(byDaylight(against, bench.lanes, bench.daylight, SETTINGS)).toBeNull();
  });

  test("bare boxes, and lanes that all daylight could not fit, are not compared so", () => {
    const bare = bench.lanes.map((l) => ({ ...l, bareShare: 0.9 }));
    expect(byDaylight(without, bare, bench.daylight, SETTINGS)).toBeNull();
    const one = { ...bench.daylight, findings: bench.daylight.findings.filter((f) => f.lane === "A") };
    expect(byDaylight(without, bench.lanes, one, SETTINGS)).toBeNull();
  });

  test("lanes that shared little of their daylight, one after another, are not compared so", () => {
    const findings = bench.daylight.findings.map((f) => (f.name === "difference" ? { ...f, hours: 1 } : f));
    const apart = { ...bench.daylight, findings };
    expect(byDaylight(without, bench.lanes, apart, SETTINGS)).toBeNull();
  });

  test("it stands at the head, and ranking and pairs stay the windows'", () => {
    const led = ledByDaylight(bench.judgement, told);
    expect(led.verdict).toBe(told);
    expect(led.pairs).toBe(bench.judgement.pairs);
    expect(ledByDaylight(bench.judgement, null)).toBe(bench.judgement);
  });

  test("doubts are turned with the answer, and one of unlike inlets reaches no further", () => {
    const cannotTell = { kind: "cannotTell", gate: null, best: ["A"], next: ["B"], open: [] } as never;
    const doubts = [
      { kind: "leak", lane: "A", share: 0.1, limitShare: 0.02, effect: { low: -30, high: 4 } },
      { kind: "inletsDiffer", a: "A", b: "B", differenceK: 9, effect: { low: 0, high: 100 } },
    ] as Judgement["doubts"];
    const led = ledByDaylight({ ...without, verdict: cannotTell, doubts }, told);
    expect(led.doubts.map((d) => d.effect)).toEqual([{ low: -4, high: 30 }, null]);
    expect(byDaylight({ ...without, doubts: doubts.slice(1) }, bench.lanes, bench.daylight, SETTINGS)).toEqual(told);
  });
});

test("equal boxes under broken cloud are no winner by all daylight", () => {
  for (const seed of [4, 6]) {
    const { judgement, daylight, lanes } = found({ A: CORRUGATED, B: { ...CORRUGATED } }, seed);
    const told = byDaylight({ ...judgement, verdict: open.verdict, doubts: [] }, lanes, daylight, SETTINGS);
    expect(told?.decision ?? "open").not.toBe("winner");
  }
});
