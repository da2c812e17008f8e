import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { AS_OUTSIDE, clearDays, oneRun, testBench, testLane, testSettings } from "../../../scripts/testing/bench";
import { assembleRun } from "../analysis/assemble";
import { reduceExperiment, wholeRun, type Reduction } from "../analysis/reduce";
import { implausibleKey } from "../analysis/slip";
import type { RunSetup } from "../analysis/setup";
import { simulateBench, type BenchPlan } from "../rig/bench";
import { standardUncertainty, withSource, type Uncertain } from "../uncertainty/uncertain";
import { evidenceOf, NOTHING_ELSE } from "./evidence";
import type { Expected } from "./expected";
import type { Judgement } from "./judge";
import { judgeReduction, type JudgeSettings } from "./judgeReduction";

/**
 * Every figure of the answers to a few benches, as they were kept. A change that moves one of them is meant or it is a mistake:
 * BRAVEL_KEEP=1 writes them anew, and the commit that does so says why.
 */
const FILE = join(__dirname, "kept.json");
const kept = existsSync(FILE) ? (JSON.parse(readFileSync(FILE, "utf8")) as Record<string, unknown>) : {};

function reduced(
  plan: Partial<BenchPlan>,
  setUp = (s: RunSetup): RunSetup => s,
  without = "",
  curvature: (typeof testSettings)["curvature"] | "always" = "auto",
): Reduction {
  const runs = simulateBench(testBench(plan));
  return reduceExperiment(
    runs.map((r) => wholeRun(setUp(r.setup), assembleRun(r.channels.filter((c) => c.kind !== without)))),
    // A bend is fitted where the readings show one; here it is, whatever they show.
    { ...testSettings, curvature: curvature as "auto" },
  );
}

const swapped = testBench().runs.concat({ run: "2", days: clearDays([8, 9]), stations: { A: 2, B: 1 } });
const alike = [testLane("A", "a"), testLane("B", "b", 24.5)];
const hair = [testLane("A", "a", 26), testLane("B", "b", 26.6)];
const swappedDays = (more: Parameters<typeof clearDays>[1]) =>
  [5, 6, 7, 8].map((d, i) => ({
    run: String(i + 1),
    days: clearDays([d], more),
    stations: i % 2 ? { A: 2, B: 1 } : { A: 1, B: 2 },
  }));
const [often, oftenCloudy] = [swappedDays({}), swappedDays({ cloudiness: 0.3 })];
const four = [testLane("A", "a"), testLane("B", "b", 40), testLane("C", "c", 30), testLane("D", "a")];
const places = { A: 1, B: 2, C: 3, D: 4 };
const lanesOf = (change: (lane: RunSetup["lanes"][number]) => object) => (s: RunSetup) => ({
  ...s,
  lanes: s.lanes.map((l) => ({ ...l, ...change(l) })),
});
const EXPECTED: [string, Expected][] = ["A", "B"].map((lane, i) => [
  lane,
  {
    efficiency: withSource(0.5 + 0.05 * i, 0.03, { kind: "streamTransfer", owner: lane, dof: Infinity }),
    a1: withSource(5 + i, 0.4, { kind: "streamTransfer", owner: lane, dof: Infinity }),
    flowPower: { eta0: 0.2 + 0.1 * i, a1: 0.1 },
    ownFlow: 0.018 + 0.004 * i,
    fanW: 8,
  },
]);
const expected = new Map(EXPECTED);
/** Boxes a quarter as large as they are: they give more than the sun brings. */
const tooSmall = lanesOf(() => ({ areaM2: 0.5 }));

const CASES: [name: string, reduction: () => Reduction, more: Partial<JudgeSettings>][] = [
  ["two boxes", () => reduced({}), {}],
  ["two boxes in swapped places", () => reduced({ runs: swapped }), { plannedDays: 6, plannedFrom: "2026-10-05" }],
  ["a plan for later", () => reduced({}), { plannedDays: 6, plannedFrom: "2026-11-05" }],
  ["nearly alike, one day", () => reduced({ specimens: alike, runs: oneRun(clearDays([5])) }), {}],
  [
    "nearly alike, broken cloud",
    () => reduced({ specimens: alike, runs: oneRun(clearDays([5, 6, 7], { cloudiness: 0.35 })) }),
    {},
  ],
  ["alike within what matters", () => reduced({ specimens: alike, runs: swapped }), { smallestDifference: 120 }],
  [
    "four lanes with an identical pair",
    () =>
      reduced({
        specimens: four,
        runs: [
          { run: "1", days: clearDays([5, 6]), stations: places },
          { run: "2", days: clearDays([8, 9]), stations: { A: 4, B: 3, C: 2, D: 1 } },
        ],
      }),
    {},
  ],
  ["levels without a curve", () => reduced({ inletProgram: AS_OUTSIDE }), { expected }],
  ["each at its own flow", () => reduced({}), { expected, flowWay: "fan" }],
  ["one rise for all", () => reduced({}), { expected, flowWay: "rise" }],
  [
    "gross areas larger by unlike shares",
    () =>
      reduced(
        {},
        lanesOf((l) => ({ grossAreaM2: l.lane === "A" ? 2.2 : 2.5 })),
      ),
    {},
  ],
  ["more than the sun brings", () => reduced({}, tooSmall), {}],
  [
    "more than the sun brings, and accepted",
    () =>
      reduced({}, (s) => ({
        ...tooSmall(s),
        accepted: reduced({}, tooSmall).runs[0].implausible.map(implausibleKey),
        assumed: ["sunSensor"],
      })),
    {},
  ],
  [
    "a stated flow",
    () =>
      reduced(
        {},
        lanesOf(({ flow }) => ({ flow: { ...flow, stated: 3.4 } })),
        "speed",
      ),
    {},
  ],
  ["a hair apart, swapped often", () => reduced({ specimens: hair, runs: often }), { smallestDifference: 2 }],
  ["a hair apart, in broken cloud", () => reduced({ specimens: hair, runs: oftenCloudy }), { smallestDifference: 8 }],
  [
    "a point far from what was measured",
    () => reduced({}),
    { operatingPoint: { irradianceWm2: 300, ambientC: -10, inletC: 80, flowPerArea: 0.02 } },
  ],
  ["bent curves, one rise for all", () => reduced({}, undefined, "", "always"), { expected, flowWay: "rise" }],
  [
    "one lane alone",
    () => reduced({ specimens: [testLane("A", "a")], runs: [{ run: "1", days: clearDays([5]), stations: { A: 1 } }] }),
    {},
  ],
  ["half an hour", () => reduced({ hours: [11, 11.5], runs: oneRun(clearDays([5])) }), {}],
  ["no sun sensor", () => reduced({}, (s) => s, "irradiance"), {}],
];

const isUncertain = (v: object): v is Uncertain => "value" in v && "parts" in v;

/** Numbers to nine figures, uncertain ones with their standard uncertainty, maps as objects. */
function plain(v: unknown): unknown {
  if (typeof v === "number") return Number.isFinite(v) ? Number(v.toPrecision(9)) : String(v);
  if (v === null || typeof v !== "object") return typeof v === "function" ? undefined : v;
  if (v instanceof Map) return Object.fromEntries([...v].map(([k, x]) => [String(k), plain(x)]));
  if (ArrayBuffer.isView(v) || Array.isArray(v)) return Array.from(v as unknown as ArrayLike<unknown>, plain);
  if (isUncertain(v)) return [plain(v.value), plain(standardUncertainty(v))];
  return Object.fromEntries(
    Object.entries(v)
      .map(([k, x]) => [k, plain(x)])
      .filter(([, x]) => x !== undefined),
  );
}

/** What is said of two boxes as they were tested and by their curves, and which of it is the answer. */
function said({ pairs: _, ranking, ...rest }: Judgement): unknown {
  return { ...rest, order: ranking.map((r) => [r.lane, ...r.rank]) };
}

/** What evidence holds beside the readings themselves. */
function beside(reduction: Reduction, settings: JudgeSettings): unknown {
  const { points, hours, rounds, lanes, ...rest } = evidenceOf(reduction, settings, { ...NOTHING_ELSE, ...settings });
  return { ...rest, points: points.length, hours: hours.length, rounds: rounds.length, curves: lanes.length };
}

const answers: Record<string, unknown> = {};
test.each(CASES)("%s: every figure is as it was kept", (name, make, more) => {
  const reduction = make();
  const settings: JudgeSettings = { ...testSettings, ...more };
  answers[name] = JSON.parse(
    JSON.stringify(
      plain({ judgement: said(judgeReduction(reduction, settings)), evidence: beside(reduction, settings) }),
    ),
  );
  if (!process.env.BRAVEL_KEEP) expect(answers[name]).toEqual(kept[name]);
});

afterAll(() => {
  if (process.env.BRAVEL_KEEP) writeFileSync(FILE, JSON.stringify(answers));
});
