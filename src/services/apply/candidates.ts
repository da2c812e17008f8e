import { drawnFigures } from "../../core/collector/drawn";
import { designAreas } from "../../core/collector/content";
import { isBought, type Design } from "../../core/collector/design";
import { billOf, type BillEdits } from "../../core/collector/bill";
import { predict } from "../../core/collector/predict";
import { designProblems } from "../../core/collector/validate";
import { builtArea } from "../../core/experiment/arrange";
import { operatingOf } from "../../core/experiment/operating";
import type { DrawnVariant, Experiment, ExperimentLane } from "../../core/experiment/types";
import type { Slanted } from "../../core/optics/covers";
import { usualSpecificHeat } from "../../core/judge/flowWay";
import { onMeanBasis } from "../../core/season/parts";
import type { Candidate } from "../../core/season/season";
import type { Origin } from "../../core/season/origins";
import { combine, exact, scale, withSource, type Uncertain } from "../../core/uncertainty/uncertain";
import { covariance } from "../judge/results";
import type { Analysis } from "../analysis/analyse";

/** Why a variant cannot enter the season one way or another. */
export type CandidateGap = "sketch" | "noCurve" | "noPoint" | "problems" | "bare" | "inletFlow" | "mirrored";

/** A variant as the season may take it. */
export interface CandidateView {
  key: string;
  letters: string[];
  name: string;
  design: Design;
  /** Ways its curve is known, best first. */
  origins: Candidate[];
  gaps: { origin: Origin; why: CandidateGap }[];
  /** It stands on the bench: its curve can be known by its drawing and by tests. */
  built: boolean;
  currency: string;
  /** Of one box, without mirrors of their own cost apart; null for a sketch, whose bill would be made up. */
  first: number | null;
  repeat: number | null;
  /** kg/s of one box the curve is for. */
  massFlow: number;
  /** Nothing drawn says what the fan takes. */
  fanUnknown: boolean;
  /** Its own flow follows the sun; here it is taken as it was. */
  flowFollows: boolean;
}

interface Curved {
  eta0: Uncertain;
  a1: Uncertain;
  a2: Uncertain | null;
  /** On the experiment's own basis. */
  xRange?: readonly [number, number];
}

/** What the loss of a box's drawing scatters by where only one condition was tested, share, standard (ours: the model's own ± and the build's). */
const LOSS_SPREAD = 0.25;

export function candidatesOf(analysis: Analysis, bills: ReadonlyMap<number, BillEdits>): CandidateView[] {
  const { lanes, drawn } = analysis.experiment;
  const ids = [...new Set(lanes.map((l) => l.variantId))];
  const built = ids.map((id) =>
    ofLanes(
      analysis,
      lanes.filter((l) => l.variantId === id),
      bills,
    ),
  );
  return [...built, ...drawn.map((d) => ofDrawing(analysis, d, bills))];
}

function common(design: Design, letters: string[], name: string, bill: BillEdits | undefined) {
  const cost = design.sketch || designProblems(design).length ? null : billOf(design, bill);
  return {
    key: letters[0],
    letters,
    name,
    design,
    currency: cost?.currency ?? "",
    first: cost?.first ?? null,
    repeat: cost?.repeat ?? null,
    flowFollows: design.drive.kind === "natural" || design.drive.kind === "photovoltaicFan",
  };
}

function ofLanes(
  analysis: Analysis,
  own: readonly ExperimentLane[],
  bills: ReadonlyMap<number, BillEdits>,
): CandidateView {
  const { experiment, reduction, expected } = analysis;
  const { areaBasis, basis } = experiment.settings;
  const [lane] = own;
  const letters = own.map((l) => l.letter);
  const areaM2 = builtArea(lane, areaBasis);
  const points = reduction.compared.filter((p) => letters.includes(p.lane));
  const massFlow =
    points.length > 0
      ? points.reduce((s, p) => s + p.massFlow.value, 0) / points.length
      : experiment.settings.operatingPoint.flowPerArea * builtArea(lane, "gross");
  const drawing = drawingOf(analysis, lane.design, areaM2, massFlow);
  const base: Base = {
    key: lane.letter,
    name: lane.variant,
    areaM2,
    massFlow,
    basis,
    cp: usualSpecificHeat(lane.design.fluid, 25),
    ...incidenceOf(analysis.experiment, lane),
    capacityJM2K: drawing?.capacity ?? fromTimeConstant(analysis, lane, massFlow, areaM2),
    powerW: drawing?.fanW ?? 0,
    limitC: limitOf(lane.design),
  };
  const view: CandidateView = {
    ...common(lane.design, letters, lane.variant, bills.get(lane.variantId)),
    origins: [],
    gaps: [],
    built: true,
    massFlow,
    fanUnknown: drawing === null,
  };
  if (lane.design.mirrors.length > 0) {
    // What was measured holds the mirror's light as it fell in those hours; a year would count it twice.
    view.gaps.push({ origin: "curve", why: "mirrored" }, { origin: "condition", why: "mirrored" });
    if (drawing) take(view, base, "prediction", drawing.curve);
    return view;
  }
  const curves = letters.flatMap((l) => reduction.curves.get(l) ?? []);
  if (points.some((p) => p.bare)) view.gaps.push({ origin: "curve", why: "bare" });
  else if (curves.length) take(view, base, "curve", meanCurve(curves));
  else view.gaps.push({ origin: "curve", why: "noCurve" });
  const found = expected.get(lane.letter);
  if (!points.length) view.gaps.push({ origin: "condition", why: "noPoint" });
  else if (!found || points.some((p) => p.bare))
    view.gaps.push({ origin: "condition", why: lane.design.sketch ? "sketch" : "bare" });
  else take(view, base, "condition", fromCondition(points, found.a1, lane.letter));
  if (drawing) take(view, base, "prediction", drawing.curve);
  else view.gaps.push({ origin: "prediction", why: lane.design.sketch ? "sketch" : "problems" });
  return view;
}

function ofDrawing(analysis: Analysis, d: DrawnVariant, bills: ReadonlyMap<number, BillEdits>): CandidateView {
  const { settings } = analysis.experiment;
  const sound = designProblems(d.design).length === 0;
  const areas = sound ? designAreas(d.design) : null;
  const areaM2 = areas?.[settings.areaBasis] ?? 1;
  const massFlow = settings.operatingPoint.flowPerArea * (areas?.gross ?? 1);
  const drawing = sound ? drawingOf(analysis, d.design, areaM2, massFlow) : null;
  const view: CandidateView = {
    ...common(d.design, [d.letter], d.variant, bills.get(d.variantId)),
    origins: [],
    gaps: [],
    built: false,
    massFlow,
    fanUnknown: drawing === null,
  };
  if (drawing)
    take(
      view,
      {
        key: d.letter,
        name: d.variant,
        areaM2,
        massFlow,
        basis: settings.basis,
        cp: usualSpecificHeat(d.design.fluid, 25),
        ...slantOf(d.design),
        capacityJM2K: drawing.capacity,
        powerW: drawing.fanW,
        limitC: limitOf(d.design),
      },
      "prediction",
      drawing.curve,
    );
  else view.gaps.push({ origin: "prediction", why: d.design.sketch ? "sketch" : "problems" });
  return view;
}

const slantOf = (design: Design): Pick<Base, "b0" | "slanted"> => {
  const { b0, slanted } = drawnFigures(design);
  return { b0, slanted };
};

/** As it was last stated with a run, else as drawn: what its efficiencies were read with. */
function incidenceOf({ runs }: Experiment, { letter, design }: ExperimentLane): Pick<Base, "b0" | "slanted"> {
  const stated = runs.flatMap((r) => r.specimens.filter((s) => s.letter === letter).flatMap((s) => s.setup.b0 ?? []));
  const drawn = slantOf(design);
  return { ...drawn, b0: stated.at(-1) ?? drawn.b0 };
}

interface Base {
  key: string;
  name: string;
  areaM2: number;
  massFlow: number;
  basis: "mean" | "inlet";
  cp: number;
  b0: number;
  slanted: Slanted;
  capacityJM2K: number;
  powerW: number;
  limitC: number | null;
}

/** Adds a way a curve is known, turned to the mean-fluid basis together with its covariance. */
function take(view: CandidateView, base: Base, origin: Origin, { eta0, a1, a2, xRange }: Curved): void {
  const flowWK = (base.massFlow * base.cp) / base.areaM2;
  const numbers = (d: readonly number[]) => ({
    eta0: eta0.value + d[0],
    a1: a1.value + d[1],
    a2: (a2?.value ?? 0) + d[2],
  });
  const turned = (d: readonly number[]) => (base.basis === "mean" ? numbers(d) : onMeanBasis(numbers(d), flowWK));
  const curve = turned([0, 0, 0]);
  if (!curve) {
    view.gaps.push({ origin, why: "inletFlow" });
    return;
  }
  const terms = [eta0, a1, a2 ?? exact(0)];
  const raw = terms.map((s) => terms.map((t) => covariance(s, t)));
  view.origins.push({
    key: base.key,
    name: base.name,
    origin,
    curve,
    covariance: base.basis === "mean" ? raw : moved(raw, turned, curve),
    areaM2: base.areaM2,
    b0: base.b0,
    slanted: base.slanted,
    capacityJM2K: base.capacityJM2K,
    flowWK: base.massFlow * base.cp,
    powerW: base.powerW,
    limitC: base.limitC,
    // Over the inlet the range is that of the inlet: the mean lies half the rise above it, some 0.01 K·m²/W.
    xRange: xRange ?? null,
  });
}

/** A covariance through a change of basis, by its Jacobian. */
function moved(
  raw: readonly (readonly number[])[],
  turned: (d: readonly number[]) => Candidate["curve"] | null,
  at: Candidate["curve"],
): number[][] {
  const list = (c: Candidate["curve"]) => [c.eta0, c.a1, c.a2];
  const steps = [1e-3, 1e-2, 1e-4];
  const jacobian = steps.map((step, k) => {
    const d = [0, 0, 0];
    d[k] = step;
    const there = turned(d);
    return there ? list(there).map((v, i) => (v - list(at)[i]) / step) : [0, 0, 0];
  });
  return [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => {
      let s = 0;
      for (let p = 0; p < 3; p++) for (let q = 0; q < 3; q++) s += jacobian[p][i] * raw[p][q] * jacobian[q][j];
      return s;
    }),
  );
}

/** The curve of all copies of one variant. */
function meanCurve(curves: readonly Curved[]): Curved {
  const mean = (of: (c: Curved) => Uncertain) =>
    combine(
      curves.reduce((s, c) => s + of(c).value, 0) / curves.length,
      curves.map((c) => [1 / curves.length, of(c)] as const),
    );
  const bent = curves.some((c) => c.a2);
  const ranges = curves.flatMap((c) => (c.xRange ? [c.xRange] : []));
  return {
    eta0: mean((c) => c.eta0),
    a1: mean((c) => c.a1),
    a2: bent ? mean((c) => c.a2 ?? exact(0)) : null,
    xRange: ranges.length ? [Math.min(...ranges.map((r) => r[0])), Math.max(...ranges.map((r) => r[1]))] : undefined,
  };
}

/** A curve through the one condition that was tested, with the loss its drawing predicts and a wider ±. */
function fromCondition(points: Analysis["reduction"]["points"], a1: Uncertain, letter: string): Curved {
  const n = points.length;
  const mean = (of: (p: (typeof points)[number]) => Uncertain) =>
    combine(
      points.reduce((s, p) => s + of(p).value, 0) / n,
      points.map((p) => [1 / n, of(p)] as const),
    );
  const x = mean((p) => p.reducedTemperature);
  const loss = combine(a1.value, [
    [1, a1],
    [1, withSource(0, LOSS_SPREAD * a1.value, { kind: "insulation", owner: letter, dof: Infinity })],
  ]);
  const efficiency = mean((p) => scale(p.efficiency, 1 / p.modifier.value));
  return {
    eta0: combine(efficiency.value + loss.value * x.value, [
      [1, efficiency],
      [x.value, loss],
      [loss.value, x],
    ]),
    a1: loss,
    a2: null,
    xRange: [
      Math.min(...points.map((p) => p.reducedTemperature.value)),
      Math.max(...points.map((p) => p.reducedTemperature.value)),
    ],
  };
}

/** What the drawing says: curve, heat held and fan, on the area the lane's heat is divided by. null where there is none to go by. */
function drawingOf(
  { experiment }: Analysis,
  design: Design,
  areaM2: number,
  massFlow: number,
): { curve: Curved; capacity: number; fanW: number } | null {
  if (design.sketch || designProblems(design).length) return null;
  const op = operatingOf(experiment);
  const { figures } = predict(design, op, massFlow);
  const { eta0, a1, a2 } = figures;
  if (!eta0 || !a1) return null;
  const onto = designAreas(design)[op.basis] / areaM2;
  return {
    curve: { eta0: scale(eta0, onto), a1: scale(a1, onto), a2: a2 ? scale(a2, onto) : null },
    capacity: (figures.heatCapacity?.value ?? (isBought(design) ? BOUGHT_HEAT : USUAL_HEAT)) * onto,
    fanW: figures.fanPower?.value ?? 0,
  };
}

/** Heat a module holds, J/(m²·K), where its maker says nothing; and a box of boards (typical values). */
const BOUGHT_HEAT = 7000;
const USUAL_HEAT = 9000;

/** A sketch holds what its time constant says: C = τ·(2·ṁ·cp)/A about its stream. */
function fromTimeConstant({ reduction }: Analysis, lane: ExperimentLane, massFlow: number, areaM2: number): number {
  const setup = reduction.lanes.find((l) => l.lane === lane.letter);
  if (!setup) return USUAL_HEAT;
  return Math.min(100_000, (setup.timeConstantS * 2 * massFlow * usualSpecificHeat(lane.design.fluid, 25)) / areaM2);
}

/** The lowest limit of what lies at the absorber and behind it. */
function limitOf(d: Design): number | null {
  if (d.sketch) return null;
  const at = d.layers.findIndex((l) => l.kind === "absorber");
  const inside = d.layers.slice(Math.max(0, at)).flatMap((l) => {
    const keys = "material" in l ? [l.material, ...("coating" in l && l.coating ? [l.coating] : [])] : [];
    return keys.flatMap((k) => d.materials[k]?.limitC ?? []);
  });
  return inside.length ? Math.min(...inside) : null;
}
