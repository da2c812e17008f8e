import { BARE_EVIDENCE } from "../../../../scripts/testing/evidence";
import type { EfficiencyPoint } from "../../analysis/points";
import { exact, withSource } from "../../uncertainty/uncertain";
import { doubtWords } from "../../../words/doubts";
import type { DoubtInput } from "./doubt";
import { doubtKey, isDismissed, reachOf, stopsVerdict } from "./dismissed";
import { DOUBT_KINDS, DOUBTS, findDoubts, type Doubt, type DoubtKind } from "./list";

const point = (lane: string, over: Partial<EfficiencyPoint> = {}): EfficiencyPoint =>
  ({
    run: "1",
    window: 0,
    day: "2026-10-05",
    lane,
    station: lane === "A" ? 1 : 2,
    startMs: 0,
    endMs: 600000,
    outlet: exact(40),
    rise: exact(20),
    heat: exact(1000),
    drift: 0,
    heldGuess: 0,
    fanW: NaN,
    massFlow: exact(0.04),
    specificHeat: exact(1009),
    area: exact(2),
    inlet: exact(20),
    irradiance: exact(800),
    efficiency: exact(0.55),
    modifier: exact(1),
    ...over,
  }) as EfficiencyPoint;

const curve = (lane: string, over: object = {}) =>
  ({
    lane,
    a1: withSource(5, 0.4, { kind: "curveFit", lane, scatter: "window", row: 1, owner: lane, dof: 10 }),
    xRange: [0, 0.03],
    daysDiffer: false,
    residualSd: 0.01,
    reducedChiSquare: 3,
    ...over,
  }) as never;
const days = (): EfficiencyPoint[] =>
  ["2026-10-05", "2026-10-06", "2026-10-07"].flatMap((day, window) =>
    ["A", "B"].map((l) => point(l, { day, window, startMs: window * 36e5, endMs: window * 36e5 + 6e5 })),
  );
/** Both the curves' windows and what is paired. */
const each = (i: DoubtInput, over: (p: EfficiencyPoint) => Partial<EfficiencyPoint>): DoubtInput => {
  const points = i.points.map((p) => ({ ...p, ...over(p) }));
  return { ...i, points, heats: points };
};
const lane = (l: string, over: object = {}) => ({
  lane: l,
  variant: l,
  fluid: { kind: "air" as const },
  curve: curve(l, over),
});
const ranked = (l: string, heat: number, rank: [number, number]) => ({
  lane: l,
  heat: exact(heat),
  rank,
  chanceBest: 0.5,
  chances: [0.5, 0.5],
});
const compared = (over: object = {}) =>
  ({
    a: "A",
    b: "B",
    measured: { value: 20 },
    expanded: 8,
    decision: "aBetter",
    swapped: true,
    identical: false,
    ...over,
  }) as never;

/** Two lanes, swapped, alike in flow, three days, an identical pair: nothing to doubt. */
const calm = (): DoubtInput => ({
  ...BARE_EVIDENCE,
  basis: "mean",
  smallestDifference: 15,
  tested: [],
  apart: [],
  crossings: [],
  lanes: [lane("A"), lane("B")],
  points: days(),
  heats: days(),
  way: "point",
  operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
  operatingXs: new Map([
    ["A", 0.02],
    ["B", 0.02],
  ]),
  ranking: [ranked("A", 480, [1, 1]), ranked("B", 460, [2, 2])],
  pairs: [compared(), compared({ b: "C", identical: true, decision: "equal" })],
  verdict: {
    kind: "winner",
    best: ["A"],
    next: ["B"],
    difference: exact(20),
    expanded: 8,
    expanded90: 6.7,
    meaning: "open",
    rivals: 1,
    chanceWrong: 0.01,
    remedy: { kind: "nothing" },
  },
  opticalLimits: new Map([["A", 0.7]]),
  stationShare: 0.004,
});
const found = { run: "1", dark: [], spikes: [], lags: [] };

const drawnAs = (efficiency: number) => ({
  efficiency: withSource(efficiency, 0.02, { kind: "streamTransfer", owner: "", dof: Infinity }),
  a1: exact(5),
  flowPower: { eta0: 0.1, a1: 0 },
  ownFlow: 0.02,
  fanW: 8,
});

/** For each kind a bench on which it, and what it must be found from. */
const PROVOKED: Record<DoubtKind, (i: DoubtInput) => DoubtInput> = {
  aboveOpticalLimit: (i) => ({ ...i, opticalLimits: new Map([["A", 0.5]]) }),
  negativeFlow: (i) => each(i, () => ({ massFlow: exact(-0.04) })),
  impossible: (i) => ({
    ...i,
    implausible: [{ run: "1", found: { kind: "noRiseInSun", lane: "A", riseK: 0.01, minutes: 90 }, accepted: false }],
  }),
  unlikePrediction: (i) => ({ ...i, expected: new Map([["A", drawnAs(0.3)]]) }),
  differenceUnlike: (i) => ({
    ...i,
    expected: new Map([
      ["A", drawnAs(0.55)],
      ["B", drawnAs(0.48)],
    ]),
  }),
  otherFlow: (i) => ({ ...i, lanes: i.lanes.map((l) => ({ ...l, flowPerArea: 0.03 })) }),
  identicalPairApart: (i) => ({ ...i, pairs: [compared(), compared({ b: "C", identical: true })] }),
  noIdenticalPair: (i) => ({ ...i, pairs: [compared()] }),
  testedInTurn: (i) => {
    const weather = { kind: "weather", lanes: "AB", owner: "", dof: 6 } as const;
    const inTurn = compared({ inTurn: true, days: 6, difference: withSource(20, 4, weather) });
    return { ...i, pairs: [inTurn, compared({ b: "C", identical: true, decision: "equal" })] };
  },
  neverSwapped: (i) => ({
    ...i,
    pairs: [compared({ swapped: false }), compared({ b: "C", identical: true, decision: "equal" })],
  }),
  // Alike boxes at unlike places.
  swapUnlike: (i) => ({
    ...i,
    heats: Array.from({ length: 8 }, (_, window) => window).flatMap((window) =>
      ["A", "B"].map((l, k) => {
        const station = window < 4 ? 1 + k : 2 - k;
        const at = { day: `2026-10-0${5 + (window >> 1)}`, window, startMs: window * 36e5, endMs: window * 36e5 + 6e5 };
        return point(l, { ...at, station, heat: exact(station === 1 ? 1080 : 1000) });
      }),
    ),
  }),
  methodsApart: (i) => ({
    ...i,
    way: "tested",
    apart: [{ a: "A", b: "B", units: ["window", "hour"], share: 0.14, expanded: 0.05 }],
    tested: [
      {
        unit: "window",
        pairs: [{ a: "A", b: "B", ratio: 1.05, low: 1.03, high: 1.07, spans: 12, days: 3 }],
      },
      { unit: "hour", pairs: [{ a: "B", b: "A", ratio: 1.1, low: 1.05, high: 1.15, spans: 20, days: 3 }] },
    ],
  }),
  unequalFlow: (i) => each(i, (p) => (p.lane === "B" ? { massFlow: exact(0.034) } : {})),
  scatterUnexplained: (i) => ({ ...i, lanes: [lane("A", { residualSd: 0.08, reducedChiSquare: 40 }), lane("B")] }),
  flowAssumed: (i) => ({ ...i, assumedFlows: [{ lane: "A", limitShare: 0.2 }] }),
  accuracyAssumed: (i) => ({ ...i, assumed: [{ run: "1", what: ["probes", "area"] }] }),
  inletsDiffer: (i) => ({ ...each(i, (p) => (p.lane === "B" ? { inlet: exact(25) } : {})), way: "tested" }),
  extrapolated: (i) => ({ ...i, operatingXs: new Map([["A", 0.06]]) }),
  fewDays: (i) => each(i, () => ({ day: "2026-10-05" })),
  daysDiffer: (i) => ({ ...i, lanes: [lane("A", { daysDiffer: true }), lane("B")] }),
  hottestIsNotBest: (i) => each(i, (p) => (p.lane === "B" ? { outlet: exact(44) } : {})),
  riseAtDark: (i) => ({
    ...i,
    placement: [{ ...found, dark: [{ lane: "A", riseK: 1.2, standardK: 0.1, minutes: 60, beyondLimits: true }] }],
  }),
  probeInSun: (i) => ({ ...i, placement: [{ ...found, spikes: [{ lane: "", perHundred: 0.4, standard: 0.05 }] }] }),
  probeLags: (i) => ({ ...i, placement: [{ ...found, lags: [{ lane: "B", lagS: 90, standardS: 5 }] }] }),
  modelledSun: (i) => ({ ...i, modelledSun: ["1"] }),
  orderFlips: (i) => ({ ...i, crossings: [{ a: "A", b: "B", x: exact(0.022), expanded: 0.004 }] }),
  readEarly: (i) => ({ ...i, settling: { settleS: (t) => 2 * t, timeConstants: new Map([["A", 600]]) } }),
  heatStored: (i) => each(i, (p) => (p.lane === "B" ? { drift: 0.01, heldGuess: 6000 } : {})),
  leak: (i) => ({ ...i, leaks: [{ lane: "A", share: 0.12, limitShare: 0.04 }] }),
  windApart: (i) => ({ ...i, winds: [{ run: "1", meansMs: [1.1, 2.4] }] }),
  timeConstantAssumed: (i) => ({ ...i, sketchedTimeConstants: ["A"] }),
  changedMidway: (i) => ({
    ...i,
    events: [
      { run: i.heats[0].run, kind: "coverCleaned", lane: "A", atMs: i.heats[Math.floor(i.heats.length / 2)].startMs },
    ],
  }),
  disturbed: (i) => ({
    ...i,
    events: [{ run: i.heats[0].run, kind: "door", lane: null, atMs: i.heats[0].startMs + 1 }],
  }),
  fanHeatUnknown: (i) => ({ ...each(i, () => ({ fanW: NaN })), fanShares: new Map([["A", 1]]) }),
  stratified: (i) =>
    each(i, (p) =>
      p.lane === "A"
        ? { outlet: withSource(p.outlet.value, 3, { kind: "probe", probe: "x/spread", owner: "A", dof: Infinity }) }
        : {},
    ),
  mirrorUncounted: (i) => ({ ...i, mirrored: ["A"] }),
  cleaned: (i) => ({
    ...i,
    cleaning: [{ run: "1", channel: "A out", lane: "A", reason: "stuck", count: 80, firstMs: 0, lastMs: 9e5 }],
  }),
};

test("a bench with nothing to doubt raises no doubt", () => expect(findDoubts(calm())).toEqual([]));

describe.each(DOUBT_KINDS)("%s, as every doubt", (kind) => {
  const doubts = findDoubts(PROVOKED[kind](calm()));
  const own = doubts.filter((d) => d.kind === kind);
  test("is found where its cause is, and nothing else is", () => {
    expect(own.length).toBeGreaterThan(0);
    expect(doubts.filter((d) => d.kind !== kind)).toEqual([]);
  });
  test("is told with its evidence and a way out", () => {
    for (const system of ["metric", "us"] as const) {
      const words = doubtWords(own[0], { zone: "Europe/Zurich", system });
      for (const text of [words.title, words.detail, words.remedy]) {
        expect(text.length).toBeGreaterThan(8);
        expect(text).not.toMatch(/undefined|NaN|\[object/);
      }
    }
  });
  test("an effect holds nothing or zero between its ends", () => {
    const { effect } = own[0];
    if (effect) {
      expect(effect.low).toBeLessThanOrEqual(0);
      expect(effect.high).toBeGreaterThanOrEqual(0);
    }
  });
});

describe("dismissed", () => {
  const [unequal] = findDoubts(PROVOKED.unequalFlow(calm()));
  test("by its key, whatever its sizes are then; once it has grown it is another doubt", () => {
    const key = doubtKey(unequal);
    const reach = reachOf(unequal)!;
    expect(isDismissed(unequal, {})).toBe(false);
    expect(isDismissed(unequal, { [key]: { reach } })).toBe(true);
    expect(isDismissed(unequal, { [key]: { reach: reach / 2 } })).toBe(false);
    const smaller = { ...unequal, effect: { low: unequal.effect!.low / 3, high: 0 } } as Doubt;
    expect(doubtKey(smaller)).toBe(key);
    expect(isDismissed(smaller, { [key]: { reach } })).toBe(true);
  });
  test("every kind has a key of its own that tells what it is about", () => {
    const keys = DOUBT_KINDS.map((k) => doubtKey(findDoubts(PROVOKED[k](calm())).find((d) => d.kind === k)!));
    expect(new Set(keys).size).toBe(DOUBT_KINDS.length);
    for (const key of keys) expect(key.length).toBeLessThanOrEqual(160);
  });
  test.each([
    ["aboveOpticalLimit", "efficiencyAboveLimit"],
    ["negativeFlow", "flowBackwards"],
  ] as const)("%s: said at import to be right, it stops nothing and is still told", (kind, asked) => {
    const own = (accepted: boolean | null) => {
      const found = { kind: asked, lane: "A", efficiency: 0.9, limit: 0.5, irradianceWm2: 800, atMs: 0, minutes: 60 };
      const implausible = accepted === null ? [] : [{ run: "1", found: found as never, accepted }];
      return findDoubts({ ...PROVOKED[kind](calm()), implausible }).filter(
        (d) => d.kind === kind && "lane" in d && d.lane === "A",
      );
    };
    for (const said of [null, false]) expect(own(said).map(stopsVerdict)).toEqual([true]);
    expect(own(true).map(stopsVerdict)).toEqual([false]);
  });
  test("figures that cannot be right stay", () => {
    const [impossible] = findDoubts(PROVOKED.impossible(calm())).filter((d) => stopsVerdict(d));
    expect(isDismissed(impossible, { [doubtKey(impossible)]: { reach: null } })).toBe(false);
  });
});

describe("sizes", () => {
  const one = <K extends DoubtKind>(kind: K, input: DoubtInput) =>
    findDoubts(input).find((d) => d.kind === kind) as Extract<Doubt, { kind: K }>;
  test("a rise in the dark weighs with the lane's own fluid: four times as much in water as in air", () => {
    const dark = PROVOKED.riseAtDark(calm());
    const air = one("riseAtDark", dark).effect!.high;
    expect(air).toBeCloseTo((0.04 / 2) * 1009 * 1.2, 9);
    const water = each(dark, () => ({ specificHeat: exact(4182) }));
    expect(one("riseAtDark", water).effect!.high / air).toBeCloseTo(4182 / 1009, 9);
  });
  test("less flow on the second lane means the answer could be larger, never smaller", () => {
    const { effect } = one("unequalFlow", PROVOKED.unequalFlow(calm()));
    expect(effect!.low).toBeLessThan(0);
    expect(effect!.high).toBe(0);
  });
  test("every rival's flow counts: one that is nearer than the second may undo the winner, though the second's flow is its own", () => {
    const input = each(PROVOKED.unequalFlow(calm()), (p) => ({ massFlow: exact(p.lane === "C" ? 0.03 : 0.04) }));
    const third = [0, 1, 2].map((w) => ({ ...input.points[0], lane: "C", window: w, massFlow: exact(0.03) }));
    const pair = (b: string, value: number) => compared({ b, measured: { value } });
    const verdict = { ...input.verdict, difference: exact(20) } as DoubtInput["verdict"];
    const { effect } = one("unequalFlow", {
      ...input,
      ...{ verdict, heats: [...input.heats, ...third], pairs: [pair("B", 20), pair("C", 8)] },
      ranking: [...input.ranking, ranked("C", 440, [3, 3])],
    });
    // C is 12 W/m² nearer, and its flow a quarter less: that takes the whole lead.
    expect(20 + effect!.low).toBeLessThan(0);
  });
  test("an identical pair with unlike flows is said to differ in flow, not in what it is", () => {
    const apart = PROVOKED.identicalPairApart(calm());
    const [first] = apart.heats;
    const withFlow = (flow: number) => ({
      ...apart,
      heats: [...apart.heats, { ...first, lane: "C", massFlow: exact(flow) }],
    });
    expect(one("identicalPairApart", withFlow(0.04)).flowsApart).toBeNull();
    const unlike = one("identicalPairApart", withFlow(0.034));
    expect(unlike.flowsApart).toBeCloseTo(0.006 / 0.037, 9);
    expect(doubtWords(unlike, { zone: "UTC", system: "metric" }).remedy).toMatch(/^Balance their flows/);
  });
  test("grave ones come first whatever their size, then the largest", () => {
    const several = [PROVOKED.modelledSun, PROVOKED.riseAtDark, PROVOKED.neverSwapped].reduce((i, f) => f(i), calm());
    expect(findDoubts(several).map((d) => d.kind)).toEqual(["modelledSun", "riseAtDark", "neverSwapped"]);
    const graves = DOUBT_KINDS.filter((k) => (DOUBTS[k] as { grave?: boolean }).grave);
    expect(graves).toEqual([
      "aboveOpticalLimit",
      "negativeFlow",
      "impossible",
      "unlikePrediction",
      "scatterUnexplained",
      "modelledSun",
    ]);
  });
  test("hotter by a hair, or tied with the best, is no doubt", () => {
    const warm = (outlet: number) => each(calm(), (p) => (p.lane === "B" ? { outlet: exact(outlet) } : {}));
    expect(findDoubts(warm(40.2))).toEqual([]);
    expect(findDoubts({ ...warm(44), ranking: [ranked("A", 480, [1, 2]), ranked("B", 470, [1, 2])] })).toEqual([]);
  });
});
