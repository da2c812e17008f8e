import type { Knex } from "knex";
import { atNormal } from "../../core/analysis/alongCurve";
import type { EfficiencyPoint } from "../../core/analysis/points";
import { setupAt } from "../../core/analysis/reduce";
import type { QuantityId } from "../../core/quantity/quantities";
import type { LaneSetup, RunSetup } from "../../core/analysis/setup";
import { divide, exact, subtract, type Uncertain } from "../../core/uncertainty/uncertain";
import type { PairComparison } from "../../core/judge/pairs";
import type { SpanUnit } from "../../core/judge/tested";
import type { DaylightVerdict, TurnedVerdict } from "../../core/judge/verdict";
import { UNIT_WORDS } from "../../words/judge";
import { ORIGINS, SHARED_ERRORS_NOTE, sharedSpansNote, sharedWindowsNote, WORKING_TITLES } from "../../words/working";
import { analyse, type Analysis } from "../analysis/analyse";
import { newestOf } from "../live/view";
import type { FigureRef } from "../page/views";
import { coefficientWorking } from "./workingCurve";
import { compose, curveInputs, got, set, type Working } from "./workingParts";

/** Builds the working of a figure, or null when the experiment or the figure is gone. */
export async function openWorking(knex: Knex, experimentId: number, ref: FigureRef): Promise<Working | null> {
  const analysis = await analyse(knex, experimentId);
  if (!analysis) return null;
  switch (ref.figure) {
    case "difference":
      return differenceWorking(analysis, ref.a, ref.b);
    case "verdict": {
      const { verdict } = analysis.judgement;
      if (verdict.kind === "tie" && verdict.others.length === 1)
        return verdictWorking(analysis, verdict.best, verdict.others[0], verdict.difference);
      if (verdict.kind === "turned") return turnedWorking(analysis, verdict);
      if (verdict.kind === "daylight") return daylightWorking(analysis, verdict);
      return verdict.kind === "winner" || verdict.kind === "cannotTell"
        ? verdictWorking(analysis, verdict.best, verdict.next, verdict.difference)
        : null;
    }
    case "laneHeat":
      return laneHeatWorking(analysis, ref.lane);
    case "coefficient":
      return coefficientWorking(analysis, ref.lane, ref.name);
    case "crossing":
      return crossingWorking(analysis, ref.a, ref.b);
    case "point":
      return pointWorking(analysis, ref);
    case "live":
      return liveWorking(knex, analysis, ref);
  }
}

function pointInputs({ judgement }: Analysis): Working["inputs"] {
  const op = judgement.operatingPoint;
  return [
    { symbol: "G", figure: set(op.irradianceWm2, "irradiance"), from: ORIGINS.point },
    { symbol: "T_{in}", figure: set(op.inletC, "temperature"), from: ORIGINS.point },
    { symbol: "T_a", figure: set(op.ambientC, "temperature"), from: ORIGINS.point },
    { symbol: "ṁ″", figure: set(op.flowPerArea, "massFlowPerArea"), from: ORIGINS.pointFlow },
  ];
}

const xInput = ({ judgement }: Analysis, lane: string): Working["inputs"][number] => ({
  symbol: `x_${lane}`,
  figure: set(judgement.operatingX.get(lane) ?? NaN, "reducedTemperature"),
  from: ORIGINS.onCurve,
});

function differenceWorking(analysis: Analysis, a: string, b: string): Working | null {
  const { pairs, ranking } = analysis.judgement;
  const pair = pairs.find((p) => (p.a === a && p.b === b) || (p.a === b && p.b === a));
  if (!pair) return null;
  const signed = pair.a === a ? pair.difference : subtract(exact(0), pair.difference);
  const heat = (lane: string) => ranking.find((r) => r.lane === lane);
  const { way, tested } = analysis.judgement;
  if (way === "tested" && tested)
    return compose(analysis, signed, "heatFlux", {
      title: WORKING_TITLES.testedDifference,
      lanes: [a, b],
      formula: pair.inTurn ? inTurnFormula(a, b) : testedFormula(a, b, tested.unit),
      inputs: [a, b].flatMap((l) =>
        heat(l)
          ? [{ symbol: `q_${l}`, figure: got(heat(l)!.heat, "heatFlux"), from: ORIGINS.spansMean(tested.unit) }]
          : [],
      ),
      note: sharedSpansNote(tested.unit, pair),
    });
  return compose(analysis, signed, "heatFlux", {
    title: WORKING_TITLES.difference,
    lanes: [a, b],
    formula: [
      pair.inTurn
        ? `Δq = mean of q_{${a},w} over ${a}'s days − mean of q_{${b},w} over ${b}'s`
        : `Δq = mean of (q_{${a},w} − q_{${b},w}) over shared windows w`,
      `q_w = G·[η_w + a_1·(x_w − x) + a_5·Ṫ_{out,w} / G_w]`,
      `η_w = Q_w / (A·G_w) + η_0·(1 − K_w)`,
    ],
    inputs: [
      ...[a, b].flatMap((l) =>
        heat(l)
          ? [
              {
                symbol: `q_${l}`,
                figure: got(heat(l)!.heat, "heatFlux"),
                from: ORIGINS.windowsMean,
              },
            ]
          : [],
      ),
      ...[a, b].flatMap((l) =>
        analysis.reduction.curves.has(l)
          ? [curveInputs(analysis.reduction.curves.get(l)!)[1], xInput(analysis, l)]
          : [],
      ),
      ...pointInputs(analysis).slice(0, 1),
    ],
    note: sharedWindowsNote(pair),
  });
}

/** Each lane over its own days, days alike; every window brought to the mean condition of all. */
const inTurnFormula = (a: string, b: string): string[] => [
  `Δq = mean of q_{${a},w} over ${a}'s days − mean of q_{${b},w} over ${b}'s`,
  "q_w = G·[η_w + η_0·(1 − K_w) + a_1·(x_w − x)],  G and x the means of all windows",
];

/** Spans with more sun count no more than others: each difference is taken at its share of its own level. */
const testedFormula = (a: string, b: string, unit: SpanUnit): string[] => [
  `Δq = mean of q_L·(q_{${a},i} − q_{${b},i}) / q_{L,i} over shared ${UNIT_WORDS[unit][1]} i`,
  `q_{L,i} = (q_{${a},i} + q_{${b},i}) / 2,  q_L = mean of q_{L,i}`,
  "q_i = mean of ṁ·c_p·(T_{out} − T_{in}) / A",
];

/** How the leading difference is made of its pairs. */
function verdictMean(used: readonly PairComparison[]): string {
  if (used.length > 1) return "Δq = mean of the copies' differences";
  return used.some((p) => p.inTurn)
    ? "Δq = mean of q_{1,w} over its days − mean of q_{2,w} over its own"
    : "Δq = mean of (q_{1,w} − q_{2,w}) over shared windows w";
}

function verdictWorking(analysis: Analysis, best: string[], next: string[], difference: Uncertain): Working {
  const { pairs } = analysis.judgement;
  const used = pairs.filter(
    (p) => (best.includes(p.a) && next.includes(p.b)) || (best.includes(p.b) && next.includes(p.a)),
  );
  const { way, tested } = analysis.judgement;
  const atPoint = way === "point" || !tested;
  return compose(analysis, difference, "heatFlux", {
    title: atPoint ? WORKING_TITLES.verdict : WORKING_TITLES.testedVerdict,
    lanes: [...best, ...next],
    formula: atPoint
      ? [verdictMean(used), "q_w = G·[η_w + a_1·(x_w − x) + a_5·Ṫ_{out,w} / G_w]"]
      : [
          ...(used.length > 1 ? ["Δq = mean of the copies' differences"] : []),
          ...(used.some((p) => p.inTurn) ? inTurnFormula("1", "2") : testedFormula("1", "2", tested.unit)),
        ],
    inputs: [
      ...used.map((p) => ({
        symbol: `Δq_{${best.includes(p.a) ? `${p.a}${p.b}` : `${p.b}${p.a}`}}`,
        figure: {
          ...got(p.difference, "heatFlux"),
          si: best.includes(p.a) ? p.difference.value : -p.difference.value,
        },
        from: ORIGINS.pair(p, atPoint ? "window" : tested.unit),
      })),
      ...(atPoint ? pointInputs(analysis) : []),
    ],
  });
}

const daylightWorking = (analysis: Analysis, { best, next, difference, hours, days }: DaylightVerdict): Working =>
  compose(analysis, difference, "heatFlux", {
    title: WORKING_TITLES.daylight,
    lanes: [...best, ...next],
    formula: [
      "τ·q̇ + q = η_0·K·G − a_1·θ − a_2·θ² − a_5·Ṫ_f",
      "q at the point: η_0·G − a_1·θ − a_2·θ² = q, θ = T_f − T_a",
      "Δq = q_1 − q_2",
    ],
    inputs: [
      ...pointInputs(analysis).filter((i) => i.symbol !== "ṁ″"),
      { symbol: "Δq", figure: got(difference, "heatFlux"), from: ORIGINS.daylight(hours, days) },
    ],
  });

const turnedWorking = (analysis: Analysis, { lane, difference, windows, ratio }: TurnedVerdict): Working =>
  compose(analysis, difference, "heatFlux", {
    title: WORKING_TITLES.turned,
    lanes: [lane],
    formula: [
      `Δq = mean of q_{${lane}} turned − R·mean of q_o turned`,
      `R = mean of q_{${lane}} turned back / mean of q_o turned back`,
      "q_o = mean heat of the other lanes in the same windows; K·G where the lane is alone",
    ],
    inputs: [{ symbol: "turned / back", figure: set(ratio.value, "number"), from: ORIGINS.turned(windows) }],
  });

function laneHeatWorking(analysis: Analysis, lane: string): Working | null {
  const { ranking } = analysis.judgement;
  const entry = ranking.find((r) => r.lane === lane);
  const curve = analysis.reduction.curves.get(lane);
  const { way, tested } = analysis.judgement;
  if (entry && way === "tested" && tested)
    return compose(analysis, entry.heat, "heatFlux", {
      title: WORKING_TITLES.testedHeat,
      lanes: [lane],
      formula: [`q = mean of ṁ·c_p·(T_{out} − T_{in}) / A over ${UNIT_WORDS[tested.unit][1]} all lanes share`],
      inputs: [],
      note: SHARED_ERRORS_NOTE,
    });
  if (!entry || !curve) return null;
  return compose(analysis, entry.heat, "heatFlux", {
    title: WORKING_TITLES.laneHeat,
    lanes: [lane],
    formula: [
      "q = mean of G·[η_w + a_1·(x_w − x) + a_5·Ṫ_{out,w} / G_w] over windows w",
      "x = (T_m − T_a) / G,  T_m = T_{in} + q / (2·ṁ″·c_p)",
    ],
    inputs: [...curveInputs(curve), xInput(analysis, lane), ...pointInputs(analysis)],
    note: SHARED_ERRORS_NOTE,
  });
}

function crossingWorking(analysis: Analysis, a: string, b: string): Working | null {
  const crossing = analysis.judgement.crossings.find((c) => c.a === a && c.b === b);
  const [ca, cb] = [a, b].map((l) => analysis.reduction.curves.get(l));
  if (!crossing || !ca || !cb) return null;
  return compose(analysis, crossing.x, "reducedTemperature", {
    title: WORKING_TITLES.crossing,
    lanes: [a, b],
    formula: [`x = (η_{0,${a}} − η_{0,${b}}) / (a_{1,${a}} − a_{1,${b}})`],
    inputs: [...curveInputs(ca), ...curveInputs(cb)],
  });
}

function pointWorking(analysis: Analysis, ref: Extract<FigureRef, { figure: "point" }>): Working | null {
  const p = analysis.reduction.points.find((q) => q.run === ref.run && q.window === ref.window && q.lane === ref.lane);
  const run = analysis.reduction.runs.find((r) => r.run === ref.run);
  const setup = p && run && setupAt(run, p.startMs);
  return p && setup
    ? workingOfPoint(analysis, p, setup, { name: ref.name, where: ORIGINS.window(p.run, p.window) })
    : null;
}

/** A figure of the live bench: the same way from readings to heat, from the newest minute. */
async function liveWorking(
  knex: Knex,
  analysis: Analysis,
  ref: Extract<FigureRef, { figure: "live" }>,
): Promise<Working | null> {
  const bench = await newestOf(knex, analysis.experiment, Date.now());
  const now = bench?.lanes.find((l) => l.lane === ref.lane);
  if (!bench || !now?.point || (ref.name === "efficiency" && !now.efficiency)) return null;
  return workingOfPoint(analysis, now.point, bench.setup, { name: ref.name, where: ORIGINS.newest, live: true });
}

function workingOfPoint(
  analysis: Analysis,
  p: EfficiencyPoint,
  setup: RunSetup,
  { name, where, live }: { name: Extract<FigureRef, { figure: "point" }>["name"]; where: string; live?: boolean },
): Working | null {
  const lane = setup.lanes.find((l) => l.lane === p.lane);
  if (!lane) return null;
  const input = (symbol: string, u: Uncertain, quantity: QuantityId, from: string) => ({
    symbol,
    figure: got(u, quantity),
    from,
  });
  const rise = [
    input("T_{out}", p.outlet, "temperature", ORIGINS.probe(lane.outletProbe.key, where)),
    input("T_{in}", p.inlet, "temperature", ORIGINS.probe(lane.inletProbe.key, where)),
  ];
  const seen = ORIGINS.sunSensor(setup.sunSensor.key, where);
  const sun = input("G", p.irradiance, "irradiance", p.bare ? ORIGINS.netOfSky(seen) : seen);
  if (name === "rise")
    return compose(analysis, p.rise, "temperatureDifference", {
      title: WORKING_TITLES.rise,
      lanes: [p.lane],
      formula: ["ΔT = T_{out} − T_{in}"],
      inputs: rise,
    });
  if (name === "massFlow")
    return compose(analysis, p.massFlow, "massFlow", {
      title: WORKING_TITLES.massFlow,
      lanes: [p.lane],
      ...flowWorking(p, lane.flow, input),
    });
  const heat = [
    input("ṁ", p.massFlow, "massFlow", ORIGINS.flowMeter(lane.flow.meter.key, lane.flow.meter.at)),
    input("c_p", p.specificHeat, "specificHeat", ORIGINS.specificHeat(lane.fluid)),
    ...rise,
  ];
  if (name === "heat")
    return compose(analysis, p.heat, "power", {
      title: WORKING_TITLES.heat,
      lanes: [p.lane],
      formula: ["Q = ṁ·c_p·(T_{out} − T_{in})"],
      inputs: heat,
    });
  return efficiencyWorking(analysis, p, lane, {
    now: live ?? false,
    before: [
      input("Q", p.heat, "power", where),
      input("A", p.area, "area", ORIGINS.area(analysis.experiment.settings.areaBasis)),
      sun,
    ],
    heat,
  });
}

/** Of a window at normal incidence, as the curve has it; of the newest minute as the sun stands. */
function efficiencyWorking(
  analysis: Analysis,
  p: EfficiencyPoint,
  { b0 }: Pick<LaneSetup, "b0">,
  { now, before, heat }: { now: boolean; before: Working["inputs"]; heat: Working["inputs"] },
): Working {
  const curve = analysis.reduction.curves.get(p.lane);
  const stream = "Q = ṁ·c_p·(T_{out} − T_{in})";
  if (now)
    return compose(analysis, p.efficiency, "fraction", {
      title: WORKING_TITLES.efficiencyNow,
      lanes: [p.lane],
      formula: ["η = Q / (A·G)", stream],
      inputs: [...before, ...heat],
    });
  const modifier = { symbol: "K", figure: got(p.modifier, "number"), from: ORIGINS.modifier(b0) };
  return compose(analysis, atNormal(p, curve?.eta0), "fraction", {
    title: WORKING_TITLES.efficiency,
    lanes: [p.lane],
    formula: [curve ? "η = Q / (A·G) + η_0·(1 − K)" : "η = Q / (A·G·K)", stream],
    inputs: [...before, modifier, ...(curve ? curveInputs(curve).slice(0, 1) : []), ...heat],
  });
}

function flowWorking(
  p: EfficiencyPoint,
  flow: Analysis["reduction"]["lanes"][number]["flow"],
  input: (symbol: string, u: Uncertain, quantity: QuantityId, from: string) => Working["inputs"][number],
): Pick<Working, "formula" | "inputs"> {
  const density = input("ρ", p.density, "density", ORIGINS.atMeter(flow.meter.at));
  if (flow.kind === "speed") {
    const section = divide(p.massFlow, p.density);
    return {
      formula: ["ṁ = ρ·A_d·k·v"],
      inputs: [
        density,
        {
          symbol: "A_d·k",
          figure: set(section.value / p.indicatedFlow.value, "area"),
          from: ORIGINS.duct(flow.profileFactor),
        },
        input("v", p.indicatedFlow, "speed", ORIGINS.meter("speed", flow.meter.key)),
      ],
    };
  }
  if (flow.kind === "volume")
    return {
      formula: ["ṁ = ρ·V̇"],
      inputs: [density, input("V̇", p.indicatedFlow, "volumeFlow", ORIGINS.meter("flow", flow.meter.key))],
    };
  return {
    formula: ["ṁ as logged or given"],
    inputs: [
      input(
        "ṁ",
        p.indicatedFlow,
        "massFlow",
        flow.kind === "constant" ? ORIGINS.wholeRun : ORIGINS.meter("mass flow", flow.meter.key),
      ),
    ],
  };
}
