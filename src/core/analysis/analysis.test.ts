import { type SteadySignals } from "../log/searched";
import { standardRules, backyardRules, findSteadyWindows, recheck } from "../log/windows";
import { CORRUGATED, simulateBench } from "../rig/bench";
import { simulateRig, steadyHeat, trueCurve } from "../rig/simulate";
import { figureBudget } from "../uncertainty/coverage";
import { type Part, withSource, exact, standardUncertainty } from "../uncertainty/uncertain";
import { clearSky } from "../sun/clearSky";
import { analyseExperiment } from "../../../scripts/testing/analyse";
import { analyse, bench, day, PRESSURE, SETTINGS } from "../../../scripts/testing/threeLanes";
import { judgeReduction } from "../judge/judgeReduction";
import { PLAIN_SITE } from "../site/site";
import { reduceExperiment, reduceRun, wholeRun } from "./reduce";
import { assembleRun } from "./assemble";
import { transposedIn } from "./light";
import { fitCurve } from "./curve";
import { curveBands } from "./alongCurve";
import type { EfficiencyPoint } from "./points";

describe("the rig obeys physics", () => {
  test("in steady sun the simulated heat is η0·G − a1·(Tm − Ta), exactly", () => {
    const still = { ...CORRUGATED, windLoss: 0, temperatureLoss: 0, b0: 0 };
    const log = simulateRig({
      seed: 3,
      place: { latitude: 46.31, longitude: 9.05, altitudeM: 1120 },
      plane: { tilt: 55, azimuth: 180 },
      zone: "Europe/Zurich",
      linkeTurbidity: 3,
      stepS: 10,
      hours: [12.5, 13.5],
      days: [{ dateMs: Date.UTC(2026, 9, 6, 10), cloudiness: 0, meanAmbientC: 10, meanWind: 0 }],
      lanes: [{ lane: "A", collector: still, areaM2: 2, station: 1, massFlowKgPerS: 0.04 }],
      stations: new Map([[1, { inletBiasK: 0, outletBiasK: 0, speedGain: 0, profileFactor: 1, heatShare: 0 }]]),
      instruments: {
        sunGain: 0,
        ambientBiasK: 0,
        probeNoiseK: 0,
        probeLagS: 0,
        probeResolutionK: 0,
        speedNoiseShare: 0,
        speedResolution: 0,
        sunNoise: 0,
      },
      inletProgram: [{ fromHour: 0, aboveAmbientK: 10 }],
      duct: { areaM2: 0.0123 },
      faults: [],
    });
    const i = log.times.length - 1;
    const expected = steadyHeat(
      still,
      {
        irradianceWm2: log.truth.irradiance[i],
        ambientC: log.shared.ambient[i],
        inletC: log.lanes.get("A")!.inlet[i],
        wind: 0,
        flowPerArea: 0.02,
      },
      PRESSURE,
    );
    expect(log.truth.heat.get("A")![i] / expected.heatPerArea).toBeCloseTo(1, 1);
    const U = still.frontLoss + 1 / (1 / still.backInner + 1 / still.backOuter);
    const factor = still.streamTransfer / (still.streamTransfer + U);
    const line = trueCurve(
      still,
      [10, 30].map((inletC) => ({ irradianceWm2: 900, ambientC: 10, inletC, wind: 0, flowPerArea: 0.02 })),
      PRESSURE,
    );
    // F′(τα) and F′U: the textbook's form (DB chapter 6) of the same two nodes.
    expect(line.eta0).toBeCloseTo(factor * still.tauAlpha, 6);
    expect(line.a1).toBeCloseTo(factor * U, 5);
  });
  test("the same seed gives the same log, another seed another", () => {
    const [a, b, c] = [1, 1, 2].map((seed) => simulateBench(bench(seed))[0].log.lanes.get("A")!.outlet);
    expect(a).toEqual(b);
    expect(a).not.toEqual(c);
  });
  test("no sun, no rise; more loss, less heat", () => {
    const { log } = simulateBench(bench(4))[0];
    const dark = log.truth.irradiance.findIndex((g) => g === 0);
    if (dark >= 0) expect(Math.abs(log.truth.heat.get("A")![dark])).toBeLessThan(30);
    const at = { irradianceWm2: 900, ambientC: 10, inletC: 25, wind: 1, flowPerArea: 0.02 };
    expect(steadyHeat({ ...CORRUGATED, frontLoss: 6 }, at, PRESSURE).heatPerArea).toBeLessThan(
      steadyHeat(CORRUGATED, at, PRESSURE).heatPerArea,
    );
    expect(steadyHeat(CORRUGATED, { ...at, irradianceWm2: 0, inletC: 10 }, PRESSURE).heatPerArea).toBeCloseTo(0, 6);
  });
});

describe("one analysed bench", () => {
  const plan = bench(11);
  const result = analyse(plan);
  const pairOf = (a: string, b: string) => result.judgement.pairs.find((p) => p.a === a && p.b === b)!;

  test("the difference of lanes hardly feels the shared sun sensor, single lanes do", () => {
    const share = (lines: ReturnType<typeof figureBudget>["lines"], kind: string) =>
      lines.filter((l) => l.source.kind === kind).reduce((s, l) => s + Math.abs(l.contribution), 0);
    const single = share(figureBudget(result.judgement.ranking[0].heat).lines, "sunSensor");
    const difference = share(figureBudget(pairOf("A", "C").difference).lines, "sunSensor");
    expect(difference).toBeLessThan(0.05 * single);
  });
  test("a swap takes the meters of the places out of the difference", () => {
    const parts = [...pairOf("A", "C").difference.parts].filter(([k]) => k.startsWith("flowMeter"));
    const unswapped = [...pairOf("A", "B").difference.parts].filter(([k]) => k.startsWith("flowMeter"));
    const size = (p: [string, Part][]) => Math.hypot(...p.map(([, v]) => v.standard));
    expect(pairOf("A", "C").swapped).toBe(true);
    expect(size(parts)).toBeLessThan(0.15 * size(unswapped));
  });
  test("ranks are whole, ties symmetric, chances sum to one over variants", () => {
    const chance = new Map(result.judgement.ranking.map((r) => [r.lane === "B" ? "mesh" : "sheet", r.chanceBest]));
    expect([...chance.values()].reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
    for (const r of result.judgement.ranking) expect(r.rank[0]).toBeLessThanOrEqual(r.rank[1]);
  });
  test("lanes' order in the input does not change any difference", () => {
    const turned = analyseExperiment(
      simulateBench(plan).map((r) =>
        wholeRun({ ...r.setup, lanes: [...r.setup.lanes].reverse() }, assembleRun(r.channels)),
      ),
      SETTINGS,
    );
    for (const p of result.judgement.pairs) {
      const same = turned.judgement.pairs.find((q) => (q.a === p.a && q.b === p.b) || (q.a === p.b && q.b === p.a))!;
      expect(same.difference.value * (same.a === p.a ? 1 : -1)).toBeCloseTo(p.difference.value, 9);
      expect(same.chanceWrong).toBeCloseTo(p.chanceWrong, 9);
    }
  });
  test("a sun sensor 5 % high lowers every η0 by 5 % and leaves the order alone", () => {
    const runs = simulateBench(plan).map((r) =>
      wholeRun(
        r.setup,
        assembleRun(
          r.channels.map((c) => (c.kind === "irradiance" ? { ...c, values: c.values.map((v) => v * 1.05) } : c)),
        ),
      ),
    );
    const high = analyseExperiment(runs, SETTINGS);
    for (const lane of ["A", "B", "C"])
      expect(high.curves.get(lane)!.eta0.value / result.curves.get(lane)!.eta0.value).toBeCloseTo(1 / 1.05, 2);
    expect(high.judgement.ranking.map((r) => r.lane)).toEqual(result.judgement.ranking.map((r) => r.lane));
  });
  test("it can be judged again at another point without being reduced again", () => {
    const { judgement } = {
      judgement: judgeReduction(result, { ...SETTINGS, operatingPoint: { ...SETTINGS.operatingPoint, inletC: 30 } }),
    };
    expect(judgement.ranking[0].heat.value).toBeLessThan(result.judgement.ranking[0].heat.value);
    expect(judgeReduction(result, SETTINGS).pairs.map((p) => p.measured)).toEqual(
      result.judgement.pairs.map((p) => p.measured),
    );
  });
  test("the band is narrowest among the points, and a new window scatters wider than the curve", () => {
    const curve = result.curves.get("A")!;
    const [low, high] = curve.xRange;
    const half = (x: number) => curveBands(curve, x, 900);
    expect(half((low + high) / 2).confidence).toBeLessThan(half(low - (high - low)).confidence);
    expect(half(low).prediction).toBeGreaterThan(half(low).confidence);
  });
});

describe("faults are found and named", () => {
  const at = (d: number, h: number) => Date.UTC(2026, 9, d, 0, (h - 2) * 60);
  const faulty = analyse(
    bench(21, {
      runs: [
        {
          run: "1",
          days: [day(5), day(6)],
          stations: { A: 1, B: 2, C: 3 },
          faults: [
            { kind: "errorCode", lane: "B", probe: "outlet", fromMs: at(5, 12), toMs: at(5, 12.3) },
            { kind: "stuck", lane: "C", probe: "inlet", fromMs: at(6, 12), toMs: at(6, 13.2) },
          ],
        },
      ],
    }),
  );
  test("error codes and the stuck probe become doubts with their counts", () => {
    const cleaned = faulty.judgement.doubts.flatMap((d) =>
      d.kind === "cleaned" ? [[d.note.lane, d.note.reason]] : [],
    );
    expect(cleaned).toEqual(
      expect.arrayContaining([
        ["B", "errorCode"],
        ["C", "stuck"],
      ]),
    );
  });
  test("lanes with unequal flow are named with the effect", () => {
    const plan = bench(22);
    const uneven = analyse({
      ...plan,
      specimens: plan.specimens.map((s) => (s.lane === "A" ? { ...s, massFlowKgPerS: 0.03 } : s)),
    });
    const doubt = uneven.judgement.doubts.find((d) => d.kind === "unequalFlow");
    expect(doubt).toMatchObject({ effect: expect.any(Object) });
    // Less flow: hotter air, less heat. The ranking goes by heat.
    expect(uneven.judgement.ranking[0].lane).toBe("B");
  });
  test("efficiency above the optical limit is never shown without its doubt", () => {
    const runs = simulateBench(bench(23)).map((r) =>
      wholeRun({ ...r.setup, lanes: r.setup.lanes.map((l) => ({ ...l, opticalLimit: 0.4 })) }, assembleRun(r.channels)),
    );
    expect(
      analyseExperiment(runs, SETTINGS).judgement.doubts.filter((d) => d.kind === "aboveOpticalLimit").length,
    ).toBe(3);
  });
  test("a flow meter the wrong way round is named", () => {
    const runs = simulateBench(bench(24)).map((r) =>
      wholeRun(
        r.setup,
        assembleRun(
          r.channels.map((c) =>
            c.kind === "speed" && c.name === "A speed" ? { ...c, values: c.values.map((v) => -v) } : c,
          ),
        ),
      ),
    );
    const { doubts } = analyseExperiment(runs, SETTINGS).judgement;
    expect(doubts.some((d) => d.kind === "negativeFlow" && d.lane === "A")).toBe(true);
  });
  test("without sun, outside temperature or flow it says what is missing and gives no points", () => {
    const [run] = simulateBench(bench(25));
    const without = (kind: string) =>
      reduceExperiment([wholeRun(run.setup, assembleRun(run.channels.filter((c) => c.kind !== kind)))], SETTINGS);
    expect(without("irradiance").runs[0].missing).toContainEqual({ lane: null, what: "irradiance" });
    expect(without("ambient").points).toEqual([]);
    expect(without("speed").runs[0].missing).toHaveLength(3);
  });
  test("one lane, no lanes: no verdict, no crash", () => {
    const one = analyse(bench(26, { runs: [{ run: "1", days: [day(5)], stations: { A: 1 } }] }));
    expect(one.judgement.verdict).toEqual({ kind: "none", reason: "oneLane" });
    expect(analyseExperiment([], SETTINGS).judgement.verdict).toEqual({ kind: "none", reason: "noHeat" });
  });
});

describe("steady windows", () => {
  const n = 240;
  const signals = (
    change: (s: { g: Float64Array; flow: Float64Array; inlet: Float64Array }) => void = () => undefined,
  ): SteadySignals => {
    const g = new Float64Array(n).fill(900);
    const flow = new Float64Array(n).fill(3);
    const inlet = new Float64Array(n).fill(20);
    change({ g, flow, inlet });
    return {
      startMs: 0,
      stepMs: 30000,
      irradiance: g,
      ambient: new Float64Array(n).fill(10),
      modifier: new Float64Array(n).fill(1),
      lanes: [{ lane: "A", inlet, outlet: new Float64Array(n).fill(40), flow, timeConstantS: 120 }],
    };
  };
  test("two steady hours hold one settling time and then window after window", () => {
    const { windows } = findSteadyWindows(signals(), standardRules("air"));
    expect(windows.length).toBe(10);
    expect(windows[0].startMs).toBe(900000);
    expect(windows.every((w) => w.endMs - w.startMs === 600000)).toBe(true);
  });
  test("a cloud in the middle breaks the window, and settling starts again", () => {
    const { windows, refusals } = findSteadyWindows(
      signals(({ g }) => g.fill(500, 110, 118)),
      standardRules("air"),
    );
    expect(windows.every((w) => w.to <= 110 || w.from >= 118 + 30)).toBe(true);
    expect(windows.length).toBeLessThan(9);
    expect(refusals.irradianceBand ?? refusals.irradiance).toBeGreaterThan(0);
  });
  test("3 % of flow is too much for the standard and fine for the backyard, which then says so", () => {
    const sag = signals(({ flow }) => flow.fill(2.9, 60, 180));
    const strict = findSteadyWindows(sag, { ...standardRules("air"), flowBand: 0.01 }).windows.length;
    const loose = findSteadyWindows(sag, backyardRules("air"));
    expect(loose.windows.length).toBeGreaterThan(strict);
    const flows = loose.windows.map(
      (w) => recheck(w.checks, { ...standardRules("air"), flowBand: 0.001 }).find((c) => c.name === "flow")!.met,
    );
    expect(flows).toContain(false);
  });
  test("dim sun, missing readings and an empty run give none", () => {
    expect(
      findSteadyWindows(
        signals(({ g }) => g.fill(600)),
        standardRules("air"),
      ).windows,
    ).toEqual([]);
    expect(
      findSteadyWindows(
        signals(({ inlet }) => inlet.fill(NaN)),
        standardRules("air"),
      ).windows,
    ).toEqual([]);
    expect(
      findSteadyWindows(
        { ...signals(), irradiance: new Float64Array(), ambient: new Float64Array(), modifier: new Float64Array() },
        standardRules("air"),
      ).windows,
    ).toEqual([]);
  });
});

describe("curve fit", () => {
  const point = (x: number, eta: number, i: number): EfficiencyPoint => ({
    ...({} as EfficiencyPoint),
    lane: "Z",
    run: "1",
    window: i,
    day: `d${i % 3}`,
    station: 1,
    efficiency: withSource(eta, 0.005, {
      kind: "probeNoise",
      run: "1",
      window: i,
      channel: "Z/in",
      owner: "Z",
      dof: 10,
    }),
    modifier: exact(1),
    reducedTemperature: exact(x),
    irradiance: exact(900),
    bare: null,
    drift: 0,
    fanW: NaN,
    heldGuess: 5000,
  });
  test("recovers a straight line exactly, and a bent one", () => {
    const straight = fitCurve(Array.from({ length: 10 }, (_, i) => point(0.005 * i, 0.7 - 4 * 0.005 * i, i)));
    expect(straight.ok && [straight.curve.eta0.value, straight.curve.a1.value, straight.curve.a2]).toEqual([
      expect.closeTo(0.7, 9),
      expect.closeTo(4, 7),
      null,
    ]);
    const bent = fitCurve(
      Array.from({ length: 20 }, (_, i) => {
        const x = 0.004 * i;
        return point(x, 0.7 - 3 * x - 0.02 * 900 * x * x + (i % 2 ? 1e-4 : -1e-4), i);
      }),
    );
    expect(bent.ok && bent.curve.a2!.value).toBeCloseTo(0.02, 3);
  });
  test("a curve that would rise is none: a slope held at nothing would look certain", () => {
    const rising = fitCurve(Array.from({ length: 10 }, (_, i) => point(0.005 * i, 0.6 + 0.5 * 0.005 * i, i)));
    expect(rising).toEqual({ ok: false, failure: { kind: "noLoss", lane: "Z" } });
  });
  test("three points, or ten at one place, are refused with the reason", () => {
    expect(fitCurve([point(0, 0.7, 0)])).toMatchObject({
      ok: false,
      failure: { kind: "tooFewPoints", points: 1 },
    });
    expect(fitCurve(Array.from({ length: 10 }, (_, i) => point(0.02, 0.6, i)))).toMatchObject({
      ok: false,
      failure: { kind: "narrowRange" },
    });
  });
});

test("a horizontal sensor at noon is turned to the plane with more light, at night with none", () => {
  const setup = {
    place: { latitude: 46.31, longitude: 9.05, altitudeM: 1120 },
    plane: { tilt: 55, azimuth: 180 },
    zone: "Europe/Zurich",
    linkeTurbidity: 3,
  };
  const inPlane = (globalWm2: number, ms: number, more = {}) =>
    transposedIn({ ...setup, ...more }, 12).at(globalWm2, ms);
  const noon = Date.UTC(2026, 9, 6, 11, 12);
  expect(inPlane(560, noon)).toBeGreaterThan(800);
  expect(inPlane(0, Date.UTC(2026, 9, 6, 23))).toBe(0);
  // Snow before the bench throws light up that grass does not: global × (0.6 − 0.2) × what a tilt of 55° sees of the ground.
  const ground = (share: number) => ({
    surroundings: { ...PLAIN_SITE, groundReflectance: Array<number>(12).fill(share) },
  });
  const thrown = (560 * 0.4 * (1 - Math.cos((55 * Math.PI) / 180))) / 2;
  expect(inPlane(560, noon, ground(0.6)) - inPlane(560, noon, ground(0.2))).toBeCloseTo(thrown, 6);
  // What is said of the run's own days goes before what the site says of the month.
  expect(inPlane(560, noon, { ...ground(0.2), groundReflectance: 0.6 })).toBeCloseTo(
    inPlane(560, noon, ground(0.6)),
    9,
  );
});

test("a horizontal sensor through the whole chain: the plane's sun is held by its ±, whose source is named", () => {
  const [made] = simulateBench(bench(5, { runs: [{ run: "1", days: [day(6)], stations: { A: 1, B: 2, C: 3 } }] }));
  const reduced = (channels: typeof made.channels, mounting: "plane" | "horizontal") =>
    reduceRun(wholeRun({ ...made.setup, sunSensor: { ...made.setup.sunSensor, mounting } }, assembleRun(channels)), {
      rules: standardRules("air"),
      basis: "mean",
    });
  const flat = made.channels.map((c) =>
    c.kind !== "irradiance"
      ? c
      : {
          ...c,
          values: Float64Array.from(c.times, (ms) => clearSky(ms, made.setup.place, made.setup.linkeTurbidity).global),
        },
  );
  const [seen, moved] = [reduced(made.channels, "plane"), reduced(flat, "horizontal")];
  expect(moved.points.length).toBeGreaterThan(3);
  for (const p of moved.points) {
    const truth = seen.points.find((q) => Math.abs(q.startMs - p.startMs) < 20 * 60000);
    const part = [...p.irradiance.parts.values()].find((x) => x.source.kind === "transposition");
    expect(part!.standard / p.irradiance.value).toBeGreaterThan(0.005);
    if (truth)
      expect(Math.abs(p.irradiance.value - truth.irradiance.value)).toBeLessThan(
        2 * standardUncertainty(p.irradiance) + 2 * standardUncertainty(truth.irradiance) + 20,
      );
  }
});

test("a modelled sun knows the skyline: behind a ridge there is no beam", () => {
  const [made] = simulateBench(bench(5, { runs: [{ run: "1", days: [day(6)], stations: { A: 1, B: 2, C: 3 } }] }));
  const reduced = (ridge: number) => {
    const surroundings = {
      ...PLAIN_SITE,
      horizon: [
        { azimuth: 0, altitude: ridge },
        { azimuth: 180, altitude: ridge },
      ],
    };
    const setup = {
      ...made.setup,
      surroundings,
      sunSensor: { ...made.setup.sunSensor, mounting: "modelled" as const },
    };
    return reduceRun(wholeRun(setup, assembleRun(made.channels)), { rules: standardRules("air"), basis: "mean" });
  };
  expect(reduced(0).windows.length).toBeGreaterThan(3);
  expect(reduced(60).windows).toEqual([]);
});
