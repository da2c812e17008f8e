import { BARE_EVIDENCE } from "../../../scripts/testing/evidence";
import { drawWindows } from "../../../scripts/testing/drawnWindows";
import { fitLanes } from "../analysis/lanesFit";
import type { EfficiencyPoint } from "../analysis/points";
import { designAreas } from "../collector/content";
import type { Operating } from "../collector/prediction";
import { presetDesign } from "../collector/presets";
import { lookAfter } from "../uncertainty/sequential";
import { seededRandom } from "../random/seededRandom";
import { exact, standardUncertainty, withSource } from "../uncertainty/uncertain";
import { expectedOf, type Expected } from "./expected";
import { flowMove, operatingFlows, type FlowLane } from "./flowWay";
import type { Evidence } from "./evidence";
import { judge } from "./judge";
import { slopeCurve } from "./slope";

const OP: Operating = {
  irradianceWm2: 900,
  ambientC: 8,
  inletC: 20,
  windMs: 1.5,
  tilt: 55,
  pressurePa: 90000,
  massFluxKgM2S: 0.02,
  extremeAmbientC: 32,
  extremeIrradianceWm2: 1050,
  basis: "gross",
  reduced: "mean",
};
const POINT = { irradianceWm2: 850, ambientC: 8, inletC: 20, flowPerArea: 0.02 };
const drawn = (over: Partial<Expected> = {}): Expected => ({
  efficiency: withSource(0.55, 0.03, { kind: "streamTransfer", owner: "", dof: Infinity }),
  a1: withSource(5, 0.6, { kind: "insulation", owner: "", dof: Infinity }),
  flowPower: { eta0: 0.1, a1: 0.05 },
  ownFlow: 0.03,
  fanW: 9,
  ...over,
});
const lanes = ["A", "B"].map((lane) => ({ lane, variant: lane, fluid: { kind: "air" as const } }));
const points = drawWindows({ windows: 12, days: 2, swapped: true, unmodelled: 0 }, seededRandom(5));
const input = (over: Partial<Evidence> = {}): Evidence => {
  const own = over.points ?? points;
  const { curves } = fitLanes(lanes.map((l) => [l.lane, own.filter((p) => p.lane === l.lane) as EfficiencyPoint[]]));
  return {
    ...BARE_EVIDENCE,
    all: lanes,
    lanes: lanes.flatMap((l) => (curves.has(l.lane) ? [{ ...l, curve: curves.get(l.lane)! }] : [])),
    points,
    operatingPoint: POINT,
    basis: "mean",
    smallestDifference: 15,
    stationShare: 0.004,
    ...over,
  };
};
const both = (e: Expected) =>
  new Map([
    ["A", e],
    ["B", e],
  ]);

describe("what a drawing says", () => {
  test("of its tested condition, per the area heat is divided by", () => {
    const design = presetDesign("mesh");
    const area = designAreas(design).gross;
    const one = expectedOf(design, OP, 0.02 * area, area)!;
    expect(one.efficiency.value).toBeGreaterThan(0.3);
    expect(standardUncertainty(one.efficiency)).toBeGreaterThan(0.005);
    const half = expectedOf(design, OP, 0.02 * area, area / 2)!;
    expect(half.efficiency.value).toBeCloseTo(2 * one.efficiency.value, 9);
    expect(half.a1.value).toBeCloseTo(2 * one.a1.value, 9);
    expect(half.flowPower).toEqual(one.flowPower);
    expect(one.ownFlow).toBeGreaterThan(0.005);
  });
  test("more flow never lowers η0, in any form that is modelled", () => {
    for (const form of ["flat", "corrugated", "mesh", "columns", "tubeSheet"] as const) {
      const design = presetDesign(form);
      expect(expectedOf(design, OP, 0.02 * designAreas(design).gross, 2)!.flowPower.eta0).toBeGreaterThan(-0.01);
    }
  });
  test("a sketch, a still box and a drawing with problems say nothing", () => {
    const design = presetDesign("flat");
    expect(expectedOf({ ...design, sketch: true }, OP, 0.04, 2)).toBeNull();
    expect(expectedOf(design, OP, 0, 2)).toBeNull();
    expect(expectedOf({ ...design, layers: [] }, OP, 0.04, 2)).toBeNull();
  });
});

describe("flows", () => {
  const lane = (over: Partial<FlowLane>): FlowLane => ({
    lane: "A",
    fluid: { kind: "air" },
    testedFlow: 0.02,
    ownFlow: null,
    heatAt: () => 400,
    ...over,
  });
  const two = [lane({}), lane({ lane: "B", ownFlow: 0.035, heatAt: (f) => 450 * (f / 0.02) ** 0.1 })];
  test("one per area is the point's, each its own fan's is the drawing's, else the tested one", () => {
    expect([...operatingFlows(two, POINT, "perArea").values()]).toEqual([0.02, 0.02]);
    expect([...operatingFlows(two, POINT, "fan").values()]).toEqual([0.02, 0.035]);
  });
  test("one rise: heat over flow is the same for all", () => {
    const flows = operatingFlows(two, POINT, "rise");
    const rises = two.map((l) => l.heatAt(flows.get(l.lane)!) / flows.get(l.lane)!);
    expect(rises[0] / rises[1]).toBeCloseTo(1, 4);
    expect(flows.get("B")).toBeGreaterThan(flows.get("A")!);
  });
  test("a move is a power of the ratio, half of it is doubt, and the same flow needs none", () => {
    expect(flowMove({ eta0: 0.1, a1: 0 }, 2)!.eta0).toBeCloseTo(2 ** 0.1, 12);
    expect(flowMove({ eta0: 0.1, a1: 0 }, 2)!.doubt).toBeCloseTo((2 ** 0.1 - 1) / 2, 12);
    expect(flowMove({ eta0: 0.1, a1: 0 }, 1)).toBeNull();
    expect(flowMove(undefined, 2)).toBeNull();
  });
  test("with a drawing heat follows the flow and its ± grows; without one it stays, and a doubt may undo the answer", () => {
    const far = { ...POINT, flowPerArea: 0.04 };
    const moved = judge(input({ operatingPoint: far, expected: both(drawn()) }));
    const still = judge(input({ operatingPoint: far }));
    const heat = (j: typeof moved) => j.ranking.find((r) => r.lane === "A")!.heat;
    expect(heat(moved).value / heat(still).value).toBeGreaterThan(1.05);
    expect(standardUncertainty(heat(moved))).toBeGreaterThan(standardUncertainty(heat(still)));
    const doubt = (j: typeof moved) => j.doubts.find((d) => d.kind === "otherFlow")!;
    expect(doubt(moved).effect).toBeNull();
    expect(doubt(still).effect!.high).toBeGreaterThan(10);
    expect(judge(input({ expected: both(drawn()) })).doubts.map((d) => d.kind)).not.toContain("otherFlow");
  });
});

describe("a slope predicted", () => {
  const narrow = points.map((p) => ({ ...p, reducedTemperature: exact(0.02) }));
  test("carries measured levels to the point where no curve goes, beside the answer", () => {
    const j = judge(input({ points: narrow, lanes: [], expected: both(drawn()) }));
    expect(j.way).toBe("tested");
    expect(j.slope!.pairs).toHaveLength(1);
    expect(Math.abs(j.slope!.pairs[0].difference.value)).toBeLessThan(20);
    expect(judge(input({ points: narrow, lanes: [] })).slope).toBeNull();
    expect(judge(input({ expected: both(drawn()) })).slope).toBeNull();
  });
  test("η0 is the level moved along it; fewer than three windows make none", () => {
    const own = narrow.filter((p) => p.lane === "A");
    const curve = slopeCurve(own, exact(5))!;
    const level = own.reduce((s, p) => s + p.efficiency.value, 0) / own.length;
    expect(curve.eta0.value).toBeCloseTo(level + 5 * 0.02, 12);
    expect(slopeCurve(own.slice(0, 2), exact(5))).toBeNull();
  });
});

describe("a lane unlike its drawing", () => {
  const kinds = (efficiency: number, standard = 0.02) => {
    const e = withSource(efficiency, standard, { kind: "streamTransfer", owner: "", dof: Infinity });
    const j = judge(input({ expected: new Map([["A", drawn({ efficiency: e })]]) }));
    return [j.verdict.kind === "stopped", j.doubts.some((d) => d.kind === "unlikePrediction")];
  };
  test("within the prediction's ± nothing is said; far out it is named; at half or double the verdict stops", () => {
    expect(kinds(0.58)).toEqual([false, false]);
    expect(kinds(0.42)).toEqual([false, true]);
    expect(kinds(0.25)).toEqual([true, true]);
    expect(kinds(1.2)).toEqual([true, true]);
  });
  test("a prediction that knows little accuses nobody", () => expect(kinds(0.42, 0.2)).toEqual([false, false]));
});

describe("looks before the plan's end", () => {
  test("early ones ask for more, the last for hardly more than one look would; without a plan one in twenty", () => {
    const levels = [1, 2, 3, 4].map((d) => lookAfter(d, 4)!.level);
    for (let i = 1; i < 4; i++) expect(levels[i]).toBeGreaterThan(levels[i - 1]);
    expect(levels[0]).toBeLessThan(0.001);
    expect(levels[3]).toBeGreaterThan(0.035);
    expect(levels[3]).toBeLessThan(0.05);
    expect(lookAfter(9, 4)!.level).toBe(levels[3]);
    expect(lookAfter(3, null)).toBeNull();
    expect(lookAfter(0, 4)).toBeNull();
  });
  test("one rule for sentence, table and ranks: what is a winner at the end is none at the first look of many", () => {
    const better = points.map((p) =>
      p.lane === "B" ? { ...p, efficiency: { ...p.efficiency, value: p.efficiency.value + 0.022 } } : p,
    );
    const at = (plannedDays: number | null, plannedFrom: string | null = "2026-10-01") =>
      judge(input({ points: better, plannedDays, plannedFrom, smallestDifference: 0.1 }));
    const strict = at(30);
    const free = at(null);
    expect(free.verdict.kind).toBe("winner");
    expect(strict.verdict.kind).toBe("cannotTell");
    // A plan for what is still to come binds nothing that was there before it.
    expect(at(30, "2026-10-02").verdict.kind).toBe("winner");
    expect(at(30, null).look).toBeNull();
    expect(strict.pairs[0].decision).toBe("cannotTell");
    expect(strict.ranking.map((r) => r.rank)).toEqual([
      [1, 2],
      [1, 2],
    ]);
    expect(free.ranking.map((r) => r.rank)).toEqual([
      [1, 1],
      [2, 2],
    ]);
  });
});
