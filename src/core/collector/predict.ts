import { CERTAIN, FACTOR_SPREAD, type FactorName, type ModelFactors } from "./factors";
import { combine, exact, withSource, type Part, type Uncertain } from "../uncertainty/uncertain";
import { type ModelSourceKind, type Source } from "../uncertainty/source";
import { fluidProperties } from "../fluids/fluid";
import { designAreas } from "./content";
import { effectiveCapacity, timeConstant } from "./capacity";
import { absorberLayer, pipeLength, type Design } from "./design";
import { drivenFlow, powerAt } from "./drive";
import { formOf } from "./form/list";
import { buildNetwork, type HeatNetwork } from "./network";
import { pressureLoss } from "./pressure";
import { worstGain } from "./reflector";
import type { EnergyShare, FigureName, Operating, Prediction } from "./prediction";
import { predictStated } from "./stated";
import { INLET_STEPS, STILL } from "./standard";
import { solveNetwork, type Conditions, type Solution } from "./solve";

type Numbers = {
  figures: Partial<Record<FigureName, number>>;
  layers: (number[] | null)[];
  profile: ([number, number] | null)[];
  stillProfile: ([number, number] | null)[];
  points: { x: number; efficiency: number }[];
  shares: Record<EnergyShare, number> | null;
  fanEnough: boolean;
  drivenFlow: number;
  warm: Solution[];
};

/** Least squares of η = η0 − a1·x − a2·G·x² with a1, a2 not negative. */
export function quadraticCurve(
  points: readonly { x: number; efficiency: number }[],
  irradianceWm2: number,
): { eta0: number; a1: number; a2: number } {
  const line = (terms: readonly ((x: number) => number)[]): number[] => {
    const n = terms.length;
    const m = terms.map((f) => [
      ...terms.map((g) => points.reduce((s, p) => s + f(p.x) * g(p.x), 0)),
      points.reduce((s, p) => s + f(p.x) * p.efficiency, 0),
    ]);
    for (let k = 0; k < n; k++)
      for (let i = k + 1; i < n; i++) {
        const q = m[i][k] / m[k][k];
        for (let j = k; j <= n; j++) m[i][j] -= q * m[k][j];
      }
    const b = new Array<number>(n).fill(0);
    for (let i = n - 1; i >= 0; i--)
      b[i] = (m[i][n] - b.reduce((s, v, j) => (j > i ? s + m[i][j] * v : s), 0)) / m[i][i];
    return b;
  };
  // x in hundredths keeps the three columns alike in size.
  const one = () => 1;
  const first = (x: number) => -100 * x;
  const second = (x: number) => -1e4 * x * x;
  const [eta0, b1, b2] = line([one, first, second]);
  if (b1 >= 0 && b2 >= 0) return { eta0, a1: 100 * b1, a2: (1e4 * b2) / irradianceWm2 };
  const [straight, slope] = line([one, first]);
  return slope >= 0 ? { eta0: straight, a1: 100 * slope, a2: 0 } : { eta0: line([one])[0], a1: 0, a2: 0 };
}

function conditionsOf(
  design: Design,
  op: Operating,
  net: HeatNetwork,
  fixedFlow: number | null,
): { c: Conditions; driven: number; drivenPowerW: number } {
  const gain = design.concentration;
  const base = {
    irradianceWm2: op.irradianceWm2 * gain,
    ambientC: op.ambientC,
    inletC: op.inletC,
    windMs: op.windMs,
    tilt: op.tilt,
    pressurePa: op.pressurePa,
  };
  const own = drivenFlow(net, base);
  const itself = design.drive.kind === "natural" || design.drive.kind === "photovoltaicFan";
  const massFlowKgPerS = fixedFlow ?? (itself ? own.massFlow : op.massFluxKgM2S * designAreas(design).gross);
  return { c: { ...base, massFlowKgPerS }, driven: own.massFlow, drivenPowerW: itself ? own.powerW : Number.NaN };
}

/** Inlet of the box when an exchanger stands between it and the store: the air comes back warmer than the store by what ε leaves (DB 10.2, Cmin on the air side). */
function withExchanger(
  net: HeatNetwork,
  c: Conditions,
  effectiveness: number,
  start?: Solution,
): { c: Conditions; solution: Solution } {
  let inletC = c.inletC;
  let solution = solveNetwork(net, c, start);
  for (let k = 0; k < 30; k++) {
    const next = solution.outletC - effectiveness * (solution.outletC - c.inletC);
    if (Math.abs(next - inletC) < 1e-3) break;
    inletC = next;
    solution = solveNetwork(net, { ...c, inletC }, solution);
  }
  return { c: { ...c, inletC }, solution };
}

function numbersOf(
  design: Design,
  factors: ModelFactors,
  op: Operating,
  warm?: Solution[],
  flow?: number | null,
): Numbers {
  const net = buildNetwork(design, factors);
  const { c: asked, driven, drivenPowerW } = conditionsOf(design, op, net, flow ?? null);
  const areas = designAreas(design);
  const areaM2 = areas[op.basis];
  const saved: Solution[] = [];
  let at = 0;
  const solve = (c: Conditions, start?: Solution) => {
    const s = solveNetwork(net, c, warm?.[at] ?? start);
    saved.push(s);
    at++;
    return s;
  };
  const { c, solution: run } =
    design.exchanger === null ? { c: asked, solution: solve(asked) } : withExchanger(net, asked, design.exchanger);
  const figures: Numbers["figures"] = {};
  const flowing = c.massFlowKgPerS > 0;
  const p = fluidProperties(design.fluid, run.outletC, op.pressurePa);
  const meanC = (run.inletC + run.outletC) / 2;
  const plate = run.segments.map((s) => s[net.absorberNode]);
  const plateMean = plate.reduce((a, b) => a + b, 0) / plate.length;
  const loss = pressureLoss(net, c.massFlowKgPerS, meanC, op.pressurePa);
  const power = Number.isNaN(drivenPowerW)
    ? powerAt(net, c.massFlowKgPerS, loss, p.density)
    : { powerW: drivenPowerW, enough: true };
  Object.assign(figures, {
    massFlow: c.massFlowKgPerS,
    inlet: run.inletC,
    outlet: run.outletC,
    rise: run.outletC - run.inletC,
    heat: run.usefulW,
    heatPerArea: run.usefulW / areaM2,
    plateMean,
    plateMax: Math.max(...plate),
    pressure: loss,
    fanPower: power.powerW,
    netHeat: run.usefulW - power.powerW,
    transmittanceAbsorptance: run.absorbedW / (op.irradianceWm2 * design.concentration * areas.aperture || 1),
  } satisfies Numbers["figures"]);
  const metres = pipeLength(design);
  if (metres) figures.heatPerMetre = run.usefulW / metres;

  const points = flowing && op.irradianceWm2 > 0 ? curve(figures, { design, net, op, c, run, areaM2, solve }) : [];
  if (points.length) {
    chain(figures, run, c, areas.aperture, plateMean, meanC);
    array(figures, design, net, c, run);
  }

  const still = (irradianceWm2: number, ambientC: number, start?: Solution) =>
    solve({ ...c, irradianceWm2, ambientC, inletC: ambientC, windMs: STILL.windMs, massFlowKgPerS: 0 }, start);
  const standard = still(STILL.irradianceWm2 * design.concentration, STILL.ambientC);
  const here = still(op.extremeIrradianceWm2 * design.concentration, op.extremeAmbientC, standard);
  const mirror = design.mirrors.length
    ? still(op.extremeIrradianceWm2 * worstGain(design), op.extremeAmbientC, here)
    : here;
  figures.stagnation = standard.segments[0][net.absorberNode];
  figures.stagnationHere = here.segments[0][net.absorberNode];
  if (design.mirrors.length) figures.stagnationMirror = mirror.segments[0][net.absorberNode];
  const absorberAt = design.layers.findIndex((l) => l.kind === "absorber");
  const hottest = (s: Solution, i: number) =>
    i === absorberAt
      ? Math.max(facesHottest(s, i), ...s.segments.map((seg) => seg[net.absorberNode]))
      : facesHottest(s, i);
  const facesHottest = (s: Solution, i: number) =>
    Math.max(...s.segments.flatMap((seg) => [seg[net.faces[i]!.front], seg[net.faces[i]!.back]]));
  const mean = (i: number) => run.segments.reduce((sum, seg) => sum + seg[i], 0) / run.segments.length;
  return {
    figures,
    points,
    shares: sharesOf(run, c.irradianceWm2 * areas.aperture),
    fanEnough: power.enough,
    drivenFlow: driven,
    warm: saved,
    layers: net.faces.map((f, i) =>
      f ? [hottest(run, i), hottest(standard, i), hottest(here, i), hottest(mirror, i)] : null,
    ),
    profile: net.faces.map((f) => (f ? [mean(f.front), mean(f.back)] : null)),
    stillProfile: net.faces.map((f) => (f ? [mirror.segments[0][f.front], mirror.segments[0][f.back]] : null)),
  };
}

/** @param sunW on the opening, W */
const sharesOf = (run: Solution, sunW: number): Numbers["shares"] =>
  sunW > 0
    ? {
        reflected: 1 - run.absorbedW / sunW,
        front: run.frontW / sunW,
        back: run.backW / sunW,
        edge: run.edgeW / sunW,
        useful: run.usefulW / sunW,
      }
    : null;

const modelSource = (kind: ModelSourceKind): Source => ({ kind, owner: "", dof: Infinity });

interface CurveInput {
  design: Design;
  net: HeatNetwork;
  op: Operating;
  c: Conditions;
  run: Solution;
  areaM2: number;
  solve: (c: Conditions, start?: Solution) => Solution;
}

/** Efficiency at five inlets, the curve through them, and the heat capacity between two of them. */
function curve(figures: Numbers["figures"], { design, net, op, c, run, areaM2, solve }: CurveInput): Numbers["points"] {
  const sun = op.irradianceWm2;
  figures.efficiency = run.usefulW / (sun * areaM2);
  const solutions: Solution[] = [];
  // An unglazed face drawing outside air has one inlet: ambient.
  for (const step of net.outsideAir ? [0] : INLET_STEPS[design.fluid.kind])
    solutions.push(solve({ ...c, inletC: op.ambientC + step }, solutions[solutions.length - 1] ?? run));
  const points = solutions.map((s) => ({
    x: ((op.reduced === "mean" ? (s.inletC + s.outletC) / 2 : s.inletC) - op.ambientC) / sun,
    efficiency: s.usefulW / (sun * areaM2),
  }));
  if (!net.outsideAir) {
    Object.assign(figures, quadraticCurve(points, sun));
    figures.heatCapacity = (effectiveCapacity(net, solutions[0], solutions[2]) * net.apertureM2) / areaM2;
  }
  return points;
}

/** The textbook factors that give the same heat (DB 6.7.6, 6.8.4 and 6.9.3): loss over plate minus ambient, heat at the fluid's and at the inlet's temperature. */
function chain(
  figures: Numbers["figures"],
  run: Solution,
  c: Conditions,
  apertureM2: number,
  plateMean: number,
  meanC: number,
): void {
  const lost = run.absorbedW - run.usefulW;
  if (Math.abs(plateMean - c.ambientC) < 1) return;
  const loss = lost / (apertureM2 * (plateMean - c.ambientC));
  figures.collectorLoss = loss;
  const possible = (t: number) => run.absorbedW - apertureM2 * loss * (t - c.ambientC);
  figures.efficiencyFactor = run.usefulW / possible(meanC);
  figures.removalFactor = run.usefulW / possible(run.inletC);
}

/** Boxes one behind the other see the outlet of the one before. */
function array(figures: Numbers["figures"], design: Design, net: HeatNetwork, c: Conditions, run: Solution): void {
  if (design.inSeries * design.inParallel === 1) return;
  let heat = run.usefulW;
  let last = run;
  for (let k = 1; k < design.inSeries; k++) {
    last = solveNetwork(net, { ...c, inletC: last.outletC }, last);
    heat += last.usefulW;
  }
  figures.arrayOutlet = last.outletC;
  figures.arrayHeat = heat * design.inParallel;
}

/** Material data scatter about as much as this in what a box holds, share of 1 (typical value). */
const CAPACITY_SPREAD = 0.1;

/**
 * What a design should do, with the uncertainty of the model itself: each factor the model does not know well is moved by its
 * standard uncertainty in turn (GUM 5.1.3, note 2), and what each figure then moves by is that source's part.
 *
 * The design must be free of problems (see validate.ts). @param flow kg/s through one box instead of the operating flow
 */
export function predict(design: Design, op: Operating, flow?: number): Prediction {
  const absorber = absorberLayer(design);
  const stated = absorber && formOf(absorber).stated?.(absorber.shape);
  if (stated) return predictStated(design, stated, op, flow);
  const base = numbersOf(design, CERTAIN, op, undefined, flow);
  // The same flow for the moved models, unless draught makes it.
  const moved = (Object.keys(FACTOR_SPREAD) as FactorName[]).map((name) => ({
    name,
    numbers: numbersOf(
      design,
      { ...CERTAIN, [name]: CERTAIN[name] + FACTOR_SPREAD[name] },
      op,
      design.drive.kind === "natural" || design.exchanger !== null ? undefined : base.warm,
      flow,
    ),
  }));
  const uncertain = (value: number, of: (n: Numbers) => number): Uncertain => {
    const parts = moved
      .map(({ name, numbers }) => [name, of(numbers) - value] as const)
      .filter(([, standard]) => Math.abs(standard) > 1e-12)
      .map(([name, standard]): [string, Part] => [name, { source: modelSource(name), standard }]);
    return { value, parts: new Map(parts) };
  };
  const figures: Prediction["figures"] = {};
  for (const name of Object.keys(base.figures) as FigureName[]) {
    const value = base.figures[name];
    if (value !== undefined && Number.isFinite(value))
      figures[name] = uncertain(value, (n) => n.figures[name] ?? value);
  }
  const net = buildNetwork(design);
  const { c } = conditionsOf(design, op, net, flow ?? null);
  if (c.massFlowKgPerS > 0 && op.irradianceWm2 > 0)
    Object.assign(figures, timing(net, c, base.warm[0], figures.heatCapacity));
  return {
    figures,
    layers: base.layers.map((l, i) =>
      l
        ? {
            use: uncertain(l[0], (n) => n.layers[i]![0]),
            still: uncertain(l[1], (n) => n.layers[i]![1]),
            here: uncertain(l[2], (n) => n.layers[i]![2]),
            mirror: uncertain(l[3], (n) => n.layers[i]![3]),
          }
        : null,
    ),
    profile: base.profile,
    stillProfile: base.stillProfile,
    points: base.points.map((p, i) => ({
      x: p.x,
      efficiency: uncertain(p.efficiency, (n) => n.points[i]?.efficiency ?? p.efficiency),
    })),
    shares: base.shares && uncertainShares(base.shares, uncertain),
    fanEnough: base.fanEnough,
    drivenFlow: base.drivenFlow,
    areaM2: designAreas(design)[op.basis],
  };
}

const uncertainShares = (
  shares: NonNullable<Numbers["shares"]>,
  uncertain: (value: number, of: (n: Numbers) => number) => Uncertain,
): Prediction["shares"] =>
  Object.fromEntries(
    (Object.keys(shares) as EnergyShare[]).map((s) => [s, uncertain(shares[s], (n) => n.shares?.[s] ?? shares[s])]),
  ) as Prediction["shares"];

/** What a design does by the model's best guess alone, without its ±: a tenth of the work. Not for a bought module. @param flow kg/s through one box */
export const bestFigures = (design: Design, op: Operating, flow: number): Numbers["figures"] =>
  numbersOf(design, CERTAIN, op, undefined, flow).figures;

function timing(
  net: HeatNetwork,
  c: Conditions,
  run: Solution | undefined,
  capacity: Uncertain | undefined,
): Partial<Record<FigureName, Uncertain>> {
  const steady = solveNetwork(net, c, run);
  const seconds = timeConstant(net, c, steady);
  const scattered = (value: number): Uncertain => withSource(value, value * CAPACITY_SPREAD, modelSource("heatHeld"));
  const out: Partial<Record<FigureName, Uncertain>> = {};
  if (capacity)
    out.heatCapacity = combine(capacity.value, [
      [1, capacity],
      [1, scattered(capacity.value)],
    ]);
  if (seconds !== null)
    out.timeConstant = capacity
      ? combine(seconds, [
          [seconds / capacity.value, capacity],
          [1, scattered(seconds)],
        ])
      : combine(seconds, [
          [1, scattered(seconds)],
          [1, exact(seconds)],
        ]);
  return out;
}
