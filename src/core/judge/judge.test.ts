import { BARE_EVIDENCE } from "../../../scripts/testing/evidence";
import fc from "fast-check";
import { airSpecificHeat } from "../fluids/moistAir";
import { fitCurve, type Curve } from "../analysis/curve";
import type { EfficiencyPoint } from "../analysis/points";
import type { OperatingPoint } from "../analysis/setup";
import { seededRandom } from "../random/seededRandom";
import { combine, exact, withSource, type Uncertain } from "../uncertainty/uncertain";
import { figureBudget } from "../uncertainty/coverage";
import type { Evidence } from "./evidence";
import type { Expected } from "./expected";
import { judge, windowsUsed } from "./judge";
import { operatingX, pointOf } from "./laneHeat";
import { comparePairs, fitErrorLeft } from "./pairs";

/** A made-up bench: every window of every lane is placed exactly, so that what comes out can be reckoned by hand. */
interface MadeLane {
  lane: string;
  variant: string;
  eta0: number;
  a1: number;
  /** Station by day. */
  stations: number[];
  flow?: number;
}

interface MadeBench {
  lanes: MadeLane[];
  days: number;
  windowsADay: number;
  /** Standard scatter of a window's efficiency, own to the lane. */
  scatter?: number;
  /** Share by which a station's meter reads high. */
  stationGain?: (station: number) => number;
  /** Stated meter limit, share, standard. */
  meterShare?: number;
  seed?: number;
}

const POINT: OperatingPoint = { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 };

function make(bench: MadeBench): { points: EfficiencyPoint[] } {
  const random = seededRandom(bench.seed ?? 1);
  const points: EfficiencyPoint[] = [];
  for (let d = 0; d < bench.days; d++) {
    for (let w = 0; w < bench.windowsADay; w++) {
      for (const lane of bench.lanes) {
        const x = 0.015 + (0.025 * w) / Math.max(1, bench.windowsADay - 1);
        const station = lane.stations[d % lane.stations.length];
        const gain = 1 + (bench.stationGain?.(station) ?? 0);
        const value = (lane.eta0 - lane.a1 * x) * gain + (bench.scatter ?? 0) * random.normal();
        const noise = withSource(0, bench.scatter ?? 1e-4, {
          kind: "probeNoise",
          run: String(d),
          window: w,
          channel: lane.lane,
          owner: lane.lane,
          dof: 20,
        });
        const meter = withSource(0, (bench.meterShare ?? 0) * value, {
          kind: "speedMeter",
          meter: String(station),
          owner: lane.lane,
          dof: Infinity,
        });
        const sun = withSource(0, 0.02 * value, { kind: "sunSensor", sensor: "sun", owner: "", dof: Infinity });
        const eta: Uncertain = combine(value, [
          [1, noise],
          [1, meter],
          [1, sun],
        ]);
        points.push({
          run: String(1 + Math.floor(d / 2)),
          window: d * 100 + w,
          day: `2026-10-${String(5 + d).padStart(2, "0")}`,
          lane: lane.lane,
          station,
          startMs: d * 864e5 + w * 6e5,
          endMs: d * 864e5 + w * 6e5 + 6e5,
          irradiance: exact(900),
          ambient: exact(10),
          inlet: exact(15),
          outlet: exact(35),
          rise: exact(20),
          indicatedFlow: exact(3),
          density: exact(1),
          massFlow: exact((lane.flow ?? 0.02) * 2),
          specificHeat: exact(1006),
          heat: exact(value * 1800),
          area: exact(2),
          efficiency: eta,
          modifier: exact(1),
          reducedTemperature: exact(x),
          bare: null,
          drift: 0,
          fanW: NaN,
          heldGuess: 5000,
          wind: 1,
          checks: [],
        });
      }
    }
  }
  return { points };
}

function input(bench: MadeBench, over: Partial<Evidence> = {}): Evidence {
  const { points } = make(bench);
  const lanes = bench.lanes.map(({ lane, variant }) => {
    const fit = fitCurve(
      points.filter((p) => p.lane === lane),
      { curvature: "never" },
    );
    if (!fit.ok) throw new Error(fit.failure.kind);
    return { lane, variant, fluid: { kind: "air" as const }, curve: fit.curve };
  });
  return {
    ...BARE_EVIDENCE,
    lanes,
    all: lanes,
    points,
    operatingPoint: POINT,
    basis: "mean",
    smallestDifference: 10,
    stationShare: 0,
    ...over,
  };
}

const A = (over: Partial<MadeLane> = {}): MadeLane => ({
  lane: "A",
  variant: "sheet",
  eta0: 0.62,
  a1: 5,
  stations: [1],
  ...over,
});
const B = (over: Partial<MadeLane> = {}): MadeLane => ({
  lane: "B",
  variant: "mesh",
  eta0: 0.7,
  a1: 5.5,
  stations: [2],
  ...over,
});
const pair = (i: Evidence, a = "A", b = "B") => comparePairs(i).pairs.find((p) => p.a === a && p.b === b)!;

describe("the operating point", () => {
  const curve = (eta0: number, a1: number) => ({ eta0: exact(eta0), a1: exact(a1), a2: null, a5: null }) as Curve;
  test("with mean fluid temperature, heat and rise agree: q = ṁ″·cp·2(Tm − Tin)", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.3, max: 0.8, noNaN: true }),
        fc.double({ min: 2, max: 9, noNaN: true }),
        fc.double({ min: 0.008, max: 0.06, noNaN: true }),
        (eta0, a1, flowPerArea) => {
          const op = { ...POINT, flowPerArea };
          const x = operatingX(curve(eta0, a1), { kind: "air" }, op, "mean");
          const q = op.irradianceWm2 * (eta0 - a1 * x);
          const tm = op.ambientC + x * op.irradianceWm2;
          const cp = airSpecificHeat({ temperatureC: op.inletC + 10, pressurePa: 90000, relativeHumidity: 0.3 });
          expect(q).toBeCloseTo(2 * flowPerArea * cp * (tm - op.inletC), 3);
        },
      ),
    );
  });
  test("with inlet temperature it is simply (Tin − Ta)/G", () =>
    expect(operatingX(curve(0.6, 5), { kind: "air" }, POINT, "inlet")).toBeCloseTo(14 / 850, 12));
  test("flow is per gross area: heat per box is the same whether it is divided by gross or aperture area", () => {
    const share = 0.8;
    const gross = operatingX(curve(0.6 * share, 5 * share), { kind: "air" }, POINT, "mean");
    const own = pointOf({ areaShare: share }, POINT);
    expect(operatingX(curve(0.6, 5), { kind: "air" }, own, "mean")).toBeCloseTo(gross, 9);
  });
  test("more flow brings the collector nearer to its inlet temperature", () => {
    const x = (flowPerArea: number) => operatingX(curve(0.6, 5), { kind: "air" }, { ...POINT, flowPerArea }, "mean");
    expect(x(0.04)).toBeLessThan(x(0.02));
  });
});

describe("the working temperature at whatever flow", () => {
  const bent = (a2: number) => ({ eta0: exact(0.7), a1: exact(5), a2: a2 ? exact(a2) : null }) as Curve;
  test.each([0, 0.02])("solves its own balance, a2 %p", (a2) => {
    for (const flowPerArea of [1e-6, 1e-4, 0.002, 0.02, 0.2]) {
      const x = operatingX(bent(a2), { kind: "air" }, { ...POINT, flowPerArea }, "mean");
      const q = 850 * (0.7 - 5 * x - a2 * 850 * x * x);
      expect(q).toBeGreaterThanOrEqual(-1e-9);
      // cp within a hundredth: it is taken at a rise of its own.
      expect((850 * x - 14) / (q / (2 * flowPerArea * 1008))).toBeCloseTo(1, 1);
    }
  });
  test("with hardly any flow it comes to where nothing is gained, η0/a1; a box colder than that gives nothing stays at its inlet", () => {
    expect(operatingX(bent(0), { kind: "air" }, { ...POINT, flowPerArea: 1e-9 }, "mean")).toBeCloseTo(0.7 / 5, 4);
    expect(operatingX(bent(0), { kind: "air" }, { ...POINT, inletC: 150 }, "mean")).toBeCloseTo(144 / 850, 9);
  });
});

describe("paired differences", () => {
  test("recover a planted difference to the watt", () => {
    const p = pair(input({ lanes: [A(), B()], days: 4, windowsADay: 6 }));
    const heat = (eta0: number, a1: number) => {
      const x = operatingX({ eta0: exact(eta0), a1: exact(a1), a2: null } as Curve, { kind: "air" }, POINT, "mean");
      return 850 * (eta0 - a1 * x);
    };
    expect(p.difference.value).toBeCloseTo(heat(0.62, 5) - heat(0.7, 5.5), 1);
    expect(p.decision).toBe("bBetter");
    expect(p).toMatchObject({ windows: 24, days: 4, swapped: false, identical: false });
  });
  test("a station whose meter reads 4 % high spoils the difference until the lanes swap", () => {
    const gain = { stationGain: (s: number) => (s === 1 ? 0.04 : 0), days: 4, windowsADay: 6 };
    const same = { eta0: 0.62, a1: 5 };
    const unswapped = pair(input({ ...gain, lanes: [A(same), B(same)] }));
    const swapped = pair(
      input({ ...gain, lanes: [A({ ...same, stations: [1, 1, 2, 2] }), B({ ...same, stations: [2, 2, 1, 1] })] }),
    );
    expect(Math.abs(unswapped.difference.value)).toBeGreaterThan(12);
    expect(Math.abs(swapped.difference.value)).toBeLessThan(1);
    expect(swapped.swapped).toBe(true);
  });
  test("the stated limit of the meters cancels in the uncertainty in the same way", () => {
    const stated = { days: 4, windowsADay: 6, meterShare: 0.02 };
    const meters = (i: Evidence) =>
      Math.hypot(
        ...[...pair(i).difference.parts].filter(([k]) => k.startsWith("flowMeter")).map(([, v]) => v.standard),
      );
    const unswapped = meters(input({ ...stated, lanes: [A(), B()] }));
    const swapped = meters(input({ ...stated, lanes: [A({ stations: [1, 1, 2, 2] }), B({ stations: [2, 2, 1, 1] })] }));
    expect(swapped).toBeLessThan(0.2 * unswapped);
  });
  test("more windows and more days sharpen it", () => {
    const half = (days: number) => pair(input({ lanes: [A(), B()], days, windowsADay: 6, scatter: 0.01 })).expanded;
    expect(half(8)).toBeLessThan(half(2));
  });
  test("turning the pair round turns the sign and nothing else", () => {
    const forth = pair(input({ lanes: [A(), B()], days: 3, windowsADay: 5 }));
    const back = comparePairs(
      input({
        lanes: [
          { ...B(), lane: "A" },
          { ...A(), lane: "B" },
        ].map((l, i) => ({ ...l, stations: [i ? 1 : 2] })),
        days: 3,
        windowsADay: 5,
      }),
    ).pairs[0];
    expect(back.difference.value).toBeCloseTo(-forth.difference.value, 6);
    expect(back.expanded).toBeCloseTo(forth.expanded, 6);
  });
  test("what windows have in common bends both curves alike and drops out; what is each lane's own stays", () => {
    const heats = (common: number, own: number, seed: number): [Uncertain[], Uncertain[]] => {
      const random = seededRandom(seed);
      const lane = (letter: string, shared: readonly number[]) =>
        shared.map((c) =>
          withSource(400 + common * c + own * random.normal(), 2, {
            kind: "curveFit",
            lane: letter,
            scatter: "window",
            row: 0,
            owner: letter,
            dof: 20,
          }),
        );
      const shared = Array.from({ length: 40 }, () => random.normal());
      return [lane("A", shared), lane("B", shared)];
    };
    const left = (common: number, own: number) => {
      const [a, b] = heats(common, own, 9);
      return fitErrorLeft(
        a,
        b,
        a.map(() => "1-2"),
      );
    };
    expect(left(5, 0.2)).toBeLessThan(0.15);
    expect(left(0, 5)).toBeGreaterThan(0.9);
    // ρ = 1/2 leaves √(1 − ρ), a little more for caution.
    expect(left(5, 5)).toBeGreaterThan(0.6);
    expect(left(5, 5)).toBeLessThan(0.95);
    const [a, b] = heats(5, 0.2, 9);
    expect(fitErrorLeft(a.slice(0, 3), b.slice(0, 3), ["1-2", "1-2", "2-1"])).toBe(1);
  });
  test("lanes that never shared a window are compared over their days, more widely", () => {
    const i = input({ lanes: [A(), B()], days: 2, windowsADay: 5 });
    const apart = { ...i, points: i.points.map((p) => (p.lane === "B" ? { ...p, window: p.window + 5000 } : p)) };
    const [together] = comparePairs(i).pairs;
    const [inTurn] = comparePairs(apart).pairs;
    expect(inTurn).toMatchObject({ inTurn: true, windows: 20, days: 4 });
    expect(inTurn.difference.value).toBeCloseTo(together.difference.value, 6);
    expect(inTurn.expanded).toBeGreaterThan(together.expanded);
    // Nothing but hours, under whatever sun there was: nothing to compare by.
    expect(judge({ ...apart, lanes: [], points: [], hours: apart.points }).verdict.kind).toBe("none");
  });
});

describe("identical pair, ties and decisions", () => {
  const twin = (over: Partial<MadeLane> = {}) => A({ lane: "D", stations: [3], ...over });
  test("alike and well measured they are called equal; a wide interval is not", () => {
    const bench = { lanes: [A(), B(), twin()], days: 4, windowsADay: 6 };
    expect(pair(input(bench), "A", "D").decision).toBe("equal");
    expect(pair(input({ ...bench, scatter: 0.06 }), "A", "D").decision).toBe("cannotTell");
    expect(pair(input(bench, { smallestDifference: 0 }), "A", "D").decision).toBe("cannotTell");
  });
  test("if they differ, the bench's repeatability widens every other comparison, and a doubt says so", () => {
    const bench = (eta0: number) => input({ lanes: [A(), B(), twin({ eta0 })], days: 4, windowsADay: 6 });
    const alike = comparePairs(bench(0.62));
    const apart = comparePairs(bench(0.66));
    expect(alike.repeatability).toBeLessThan(1);
    expect(apart.repeatability).toBeGreaterThan(20);
    const half = (r: typeof alike) => r.pairs.find((p) => p.b === "B")!.expanded;
    expect(half(apart)).toBeGreaterThan(10 * half(alike));
    expect(judge(bench(0.66)).doubts.map((d) => d.kind)).toContain("identicalPairApart");
  });
  test("Holm: adjusted p is never smaller than p, keeps the order, never exceeds one", () => {
    const lanes = [
      A(),
      B({ eta0: 0.63 }),
      A({ lane: "C", variant: "cans", eta0: 0.625, stations: [3] }),
      A({ lane: "E", variant: "fins", eta0: 0.64, stations: [4] }),
    ];
    const { pairs } = comparePairs(input({ lanes, days: 3, windowsADay: 5, scatter: 0.02 }));
    const sorted = [...pairs].sort((a, b) => a.p - b.p);
    sorted.forEach((p, i) => {
      expect(p.pHolm).toBeGreaterThanOrEqual(p.p);
      expect(p.pHolm).toBeLessThanOrEqual(1);
      if (i) expect(p.pHolm).toBeGreaterThanOrEqual(sorted[i - 1].pHolm);
    });
    expect(sorted[0].pHolm).toBeCloseTo(Math.min(1, 6 * sorted[0].p), 12);
  });
});

describe("verdict", () => {
  test("a clear winner is named with its margin and the small chance of being wrong", () => {
    const v = judge(input({ lanes: [A(), B()], days: 4, windowsADay: 6, scatter: 0.004 })).verdict;
    expect(v).toMatchObject({ kind: "winner", best: ["B"], next: ["A"], remedy: { kind: "nothing" } });
    if (v.kind === "winner") {
      expect(v.difference.value).toBeGreaterThan(20);
      expect(v.chanceWrong).toBeLessThan(0.001);
    }
  });
  test("no winner is made of noise: what would settle it is more days", () => {
    const v = judge(
      input(
        { lanes: [A(), B({ eta0: 0.622, a1: 5 })], days: 3, windowsADay: 4, scatter: 0.03 },
        { smallestDifference: 8 },
      ),
    ).verdict;
    expect(v.kind).toBe("cannotTell");
    if (v.kind === "cannotTell") expect(v.remedy.kind).toBe("moreDays");
  });
  test("where the meters of the places decide, it asks for the swap first, and for a better meter after it", () => {
    const even = { eta0: 0.63, a1: 5 };
    const unswapped = judge(
      input({ lanes: [A(), B(even)], days: 4, windowsADay: 6, meterShare: 0.03 }, { smallestDifference: 2 }),
    ).verdict;
    expect(unswapped).toMatchObject({ kind: "cannotTell", remedy: { kind: "swapStations" } });
    const threePlaces = judge(
      input(
        {
          lanes: [A({ stations: [1, 1, 2, 2] }), B({ ...even, stations: [2, 2, 3, 3] })],
          days: 4,
          windowsADay: 6,
          meterShare: 0.04,
        },
        { smallestDifference: 2 },
      ),
    ).verdict;
    expect(threePlaces).toMatchObject({
      kind: "cannotTell",
      remedy: { kind: "betterInstrument", source: "speedMeter" },
    });
  });
  test("leaders that differ by less than matters are a tie", () => {
    const v = judge(
      input({ lanes: [A(), B({ eta0: 0.621, a1: 5 })], days: 4, windowsADay: 6, scatter: 0.002 }),
    ).verdict;
    expect(v).toMatchObject({ kind: "tie", within: 10 });
  });
  test("the claim is against the second of the ranking; the chance is that of the rival hardest to tell from the best", () => {
    // C is second by its heat; B is far behind and scatters so much that it is hardest to tell.
    const lanes = [A({ eta0: 0.66 }), B({ eta0: 0.6 }), A({ lane: "C", variant: "C", eta0: 0.645, stations: [3] })];
    const made = input({ lanes, days: 6, windowsADay: 8, scatter: 0.002 });
    const noisy = (p: EfficiencyPoint, i: number): EfficiencyPoint =>
      p.lane === "B"
        ? { ...p, efficiency: { ...p.efficiency, value: p.efficiency.value + (i % 2 ? 0.05 : -0.05) } }
        : p;
    const j = judge({ ...made, points: made.points.map(noisy) });
    const v = j.verdict;
    if (v.kind !== "winner") throw new Error(v.kind);
    expect(j.ranking.map((r) => r.lane)).toEqual(["A", "C", "B"]);
    expect(v.best).toEqual(["A"]);
    expect(v.next).toEqual(["C"]);
    const between = (b: string) => j.pairs.find((p) => [p.a, p.b].includes("A") && [p.a, p.b].includes(b))!;
    expect(v.difference.value).toBeCloseTo(Math.abs(between("C").difference.value), 9);
    expect(v.chanceWrong).toBeCloseTo(Math.max(between("B").chanceWrong, between("C").chanceWrong), 9);
    expect(v.rivals).toBe(2);
  });
  test("one rival that is not told from the best leaves the question open, whatever the others are", () => {
    const lanes = [A({ eta0: 0.66 }), B({ eta0: 0.6 }), A({ lane: "C", variant: "C", eta0: 0.659, stations: [3] })];
    const v = judge(input({ lanes, days: 3, windowsADay: 6, scatter: 0.01 }, { smallestDifference: 1 })).verdict;
    expect(v).toMatchObject({ kind: "cannotTell", open: [] });
    if (v.kind === "cannotTell") expect([...v.best, ...v.next].sort()).toEqual(["A", "C"]);
  });
  test("no difference that matters is claimed only when no rival is left open; each is named", () => {
    const lanes = [A(), B({ eta0: 0.621, a1: 5 }), A({ lane: "C", variant: "C", eta0: 0.62, a1: 5, stations: [3] })];
    const v = judge(input({ lanes, days: 4, windowsADay: 6, scatter: 0.002 })).verdict;
    expect(v.kind).toBe("tie");
    if (v.kind === "tie") expect(v.others).toHaveLength(2);
  });
  test.each([
    [2, "exceeds"],
    [15, "open"],
    [60, "below"],
  ] as const)("a sure difference beside %d W/m² is judged by its whole interval: %s", (smallestDifference, meaning) => {
    const lanes = [A({ eta0: 0.65 }), B({ eta0: 0.632, a1: 5 })];
    const v = judge(input({ lanes, days: 4, windowsADay: 6, scatter: 0.004 }, { smallestDifference })).verdict;
    if (v.kind !== "winner") throw new Error(v.kind);
    expect(v.meaning).toBe(meaning);
    const { value } = v.difference;
    if (meaning === "exceeds") expect(value - v.expanded).toBeGreaterThanOrEqual(smallestDifference);
    if (meaning === "below") expect(value + v.expanded90).toBeLessThan(smallestDifference);
    if (meaning === "open") {
      expect(value - v.expanded).toBeLessThan(smallestDifference);
      expect(value + v.expanded90).toBeGreaterThanOrEqual(smallestDifference);
    }
  });
  test("copies of the best variant stand together", () => {
    const v = judge(
      input({ lanes: [A(), B(), B({ lane: "D", stations: [3] })], days: 4, windowsADay: 6, scatter: 0.003 }),
    ).verdict;
    if (v.kind !== "winner") throw new Error(v.kind);
    expect([...v.best].sort()).toEqual(["B", "D"]);
    expect(v.next).toEqual(["A"]);
  });
});

describe("ranking", () => {
  test("chances sum to one, the certain winner has nearly all, copies share", () => {
    const { ranking } = judge(
      input({ lanes: [A(), B(), A({ lane: "D", stations: [3] })], days: 4, windowsADay: 6, scatter: 0.004 }),
    );
    expect(ranking.map((r) => r.lane)[0]).toBe("B");
    expect(ranking[0]).toMatchObject({ rank: [1, 1] });
    expect(ranking[0].chanceBest).toBeGreaterThan(0.99);
    expect(ranking.slice(1).map((r) => r.rank)).toEqual([
      [2, 3],
      [2, 3],
    ]);
    expect(ranking[1].chanceBest).toBe(ranking[2].chanceBest);
  });
  test("two equal lanes have about even chances, and the draw is repeatable", () => {
    const i = input({ lanes: [A(), B({ eta0: 0.62, a1: 5 })], days: 4, windowsADay: 6, scatter: 0.02, seed: 8 });
    const chance = judge(i).ranking.find((r) => r.lane === "A")!.chanceBest;
    expect(chance).toBeGreaterThan(0.05);
    expect(chance).toBeLessThan(0.95);
    expect(judge(i).ranking.find((r) => r.lane === "A")!.chanceBest).toBe(chance);
  });
  test("single lanes carry the shared sun sensor's error, differences do not", () => {
    const { ranking, pairs } = judge(input({ lanes: [A(), B()], days: 4, windowsADay: 6 }));
    const sun = (u: Uncertain) => Math.abs(u.parts.get("sunSensor:sun")?.standard ?? 0);
    expect(sun(ranking[0].heat)).toBeGreaterThan(8);
    expect(sun(pairs[0].difference)).toBeLessThan(1.2);
    expect(figureBudget(ranking[0].heat).lines[0].source.kind).toBe("sunSensor");
  });
});

describe("crossings and doubts", () => {
  const crossing = [A({ eta0: 0.66, a1: 6 }), B({ eta0: 0.6, a1: 4 })];
  test("curves that cross inside the data are reported where they do", () => {
    const { crossings } = judge(input({ lanes: crossing, days: 3, windowsADay: 6 }));
    expect(crossings).toHaveLength(1);
    expect(crossings[0].x.value).toBeCloseTo(0.03, 4);
    expect(judge(input({ lanes: [A(), B()], days: 3, windowsADay: 6 })).crossings).toEqual([]);
  });
  test("the order flips with the operating point", () => {
    const at = (inletC: number) =>
      judge(input({ lanes: crossing, days: 3, windowsADay: 6 }, { operatingPoint: { ...POINT, inletC } })).ranking[0]
        .lane;
    expect([at(8), at(38)]).toEqual(["A", "B"]);
  });
  const kinds = (i: Evidence) => judge(i).doubts.map((d) => d.kind);
  test("never swapped, no identical pair, few days, stretched curve", () => {
    const found = kinds(
      input({ lanes: [A(), B()], days: 2, windowsADay: 6 }, { operatingPoint: { ...POINT, inletC: 45 } }),
    );
    expect(found).toEqual(expect.arrayContaining(["neverSwapped", "noIdenticalPair", "fewDays", "extrapolated"]));
    const clean = kinds(
      input({
        lanes: [A({ stations: [1, 2] }), B({ stations: [2, 1] }), A({ lane: "D", stations: [3] })],
        days: 4,
        windowsADay: 6,
      }),
    );
    expect(clean).toEqual([]);
  });
  test("unequal flow is named from 5 % on, with the effect on the answer", () => {
    const flows = (flow: number) =>
      judge(input({ lanes: [A({ flow }), B()], days: 4, windowsADay: 6 })).doubts.find((d) => d.kind === "unequalFlow");
    expect(flows(0.0195)).toBeUndefined();
    const doubt = flows(0.015)!;
    expect(doubt.effect!.high - doubt.effect!.low).toBeGreaterThan(5);
  });
  test("the hottest outlet that gives less heat is called out", () => {
    const i = input({ lanes: [A(), B()], days: 4, windowsADay: 6 });
    const hot = { ...i, points: i.points.map((p) => (p.lane === "A" ? { ...p, outlet: exact(42) } : p)) };
    expect(judge(hot).doubts).toContainEqual(
      expect.objectContaining({ kind: "hottestIsNotBest", hottest: "A", best: "B" }),
    );
  });
  test("doubts with the largest effect come first", () => {
    const { doubts } = judge(
      input(
        { lanes: [A({ flow: 0.012 }), B()], days: 2, windowsADay: 6 },
        { stationShare: 0.001, opticalLimits: new Map([["B", 0.2]]) },
      ),
    );
    expect(doubts[0].kind).toBe("aboveOpticalLimit");
    const sizes = doubts
      .slice(1)
      .map((d) => (d.effect ? Math.max(Math.abs(d.effect.low), Math.abs(d.effect.high)) : 0));
    expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
  });
});

test("windows used come once each, in order of time", () => {
  const { points } = make({ lanes: [A(), B()], days: 2, windowsADay: 3 });
  const used = windowsUsed([...points].reverse());
  expect(used).toHaveLength(6);
  for (let i = 1; i < used.length; i++) expect(used[i].startMs).toBeGreaterThan(used[i - 1].startMs);
});

describe("what is said where the data cannot tell", () => {
  const swappedPair = {
    lanes: [A({ stations: [1, 2] }), B({ eta0: 0.6201, a1: 5, stations: [2, 1] })],
    days: 6,
    windowsADay: 8,
  };

  test("a difference that its own scatter hides for ever is not awaited, and no instrument mends it", () => {
    const { verdict } = judge(input({ ...swappedPair, scatter: 0.05 }, { smallestDifference: 0.2 }));
    expect(verdict).toMatchObject({ kind: "cannotTell", remedy: { kind: "steadierDays", days: 200 } });
  });

  test("so many more days bring the interval down to what matters: its scatter falls with their root", () => {
    const smallestDifference = 8;
    const half = (days: number) => {
      const { verdict } = judge(input({ ...swappedPair, windowsADay: 4, scatter: 0.03, days }, { smallestDifference }));
      if (verdict.kind !== "cannotTell") return { expanded: smallestDifference, more: 0 };
      return { expanded: verdict.expanded, more: verdict.remedy.kind === "moreDays" ? verdict.remedy.days : NaN };
    };
    const now = half(4);
    expect(now.expanded).toBeGreaterThan(smallestDifference);
    expect(half(4 + now.more).expanded).toBeLessThanOrEqual(1.15 * smallestDifference);
    expect(half(4 + Math.floor(now.more / 4)).expanded).toBeGreaterThan(1.15 * smallestDifference);
  });

  test("one lane with a predicted slope is no comparison", () => {
    const expected = new Map([["A", { a1: exact(5), flowPower: { eta0: 0, a1: 0 } } as Expected]]);
    const alone = judge({ ...input({ lanes: [A()], days: 2, windowsADay: 3 }), lanes: [], expected });
    expect(alone.way).toBe("tested");
    expect(alone.slope).toBeNull();
  });
});
