import { findSteadyWindows, type SteadyRules, type WindowSearch } from "../log/windows";
import { judge, type Judgement } from "../judge/judge";
import type { CleaningNote } from "../judge/doubts";
import type { CompareInput } from "../judge/pairs";
import type { SourceTable } from "../uncertainty/uncertain";
import { modifierFor, modifierSeries, planeFromHorizontal, type AssembledRun } from "./assemble";
import { fitCurve, type Curve, type FitFailure } from "./curve";
import type { TemperatureBasis } from "./heat";
import { efficiencyPoints, type EfficiencyPoint } from "./points";
import type { LaneSetup, OperatingPoint, RunSeries, RunSetup } from "./setup";
import { placementFindings, type PlacementFindings } from "./placement";
import { clearSkyInPlane } from "../sun/clearSky";

export interface AnalysisSettings {
  rules: SteadyRules;
  basis: TemperatureBasis;
  operatingPoint: OperatingPoint;
  smallestDifference: number;
  stationShare: number;
  curvature: "auto" | "never";
  seed: number;
}

export interface RunInput {
  setup: RunSetup;
  assembled: AssembledRun;
}

export interface RunAnalysis extends WindowSearch {
  setup: RunSetup;
  points: EfficiencyPoint[];
  /** What the run lacks before it can give a point. */
  missing: { lane: string | null; what: "irradiance" | "ambient" | "inlet" | "outlet" | "flow" }[];
  /** What the readings say about how the probes were placed. */
  placement: PlacementFindings;
}

/** Points and curves: all that does not depend on the operating point. */
export interface Reduction {
  runs: RunAnalysis[];
  points: EfficiencyPoint[];
  lanes: LaneSetup[];
  curves: Map<string, Curve>;
  failures: FitFailure[];
  cleaning: CleaningNote[];
  table: SourceTable;
}

export interface ExperimentAnalysis extends Reduction {
  judgement: Judgement;
}

/** From cleaned series to windows, points and curves. */
export function reduceExperiment(
  inputs: readonly RunInput[],
  settings: Pick<AnalysisSettings, "rules" | "basis" | "curvature">,
): Reduction {
  const table: SourceTable = new Map();
  const runs = inputs.map((input) => analyseRun(input, settings, table));
  const points = runs.flatMap((r) => r.points);
  const lanes = [...new Map(inputs.flatMap((i) => i.setup.lanes).map((l) => [l.lane, l])).values()].sort((a, b) =>
    a.lane.localeCompare(b.lane),
  );
  const curves = new Map<string, Curve>();
  const failures: FitFailure[] = [];
  for (const { lane } of lanes) {
    const fit = fitCurve(
      points.filter((p) => p.lane === lane),
      table,
      { curvature: settings.curvature },
    );
    if (fit.ok) curves.set(lane, fit.curve);
    else failures.push({ ...fit.failure, lane });
  }
  return { runs, points, lanes, curves, failures, cleaning: inputs.flatMap(cleaningNotes), table };
}

/** What comparing lanes at an operating point starts from. @param table receives the sources met */
export function compareInput(
  reduction: Reduction,
  settings: Pick<AnalysisSettings, "operatingPoint" | "basis" | "smallestDifference" | "stationShare">,
  table: SourceTable,
): CompareInput {
  const { lanes, curves, points } = reduction;
  return {
    lanes: lanes
      .filter((l) => curves.has(l.lane))
      .map((l) => ({ lane: l.lane, variant: l.variant, fluid: l.fluid, curve: curves.get(l.lane)! })),
    points,
    operatingPoint: settings.operatingPoint,
    basis: settings.basis,
    smallestDifference: settings.smallestDifference,
    stationShare: settings.stationShare,
    table,
  };
}

/** From curves to the verdict at an operating point. */
export function judgeReduction(
  reduction: Reduction,
  settings: Omit<AnalysisSettings, "rules" | "curvature">,
): Judgement {
  const { lanes } = reduction;
  // Judging adds sources of its own; the reduction's table stays as it was, so it can be judged again.
  const table: SourceTable = new Map(reduction.table);
  const opticalLimits = new Map(
    lanes.flatMap((l) => (l.opticalLimit === null ? [] : [[l.lane, l.opticalLimit] as const])),
  );
  return judge({
    ...compareInput(reduction, settings, table),
    seed: settings.seed,
    opticalLimits,
    cleaning: reduction.cleaning,
    placement: reduction.runs.map((r) => r.placement),
    modelledSun: reduction.runs.filter((r) => r.setup.sunSensor.mounting === "modelled").map((r) => r.setup.run),
  });
}

/** A whole experiment from cleaned series to verdict. Deterministic: the same input gives the same answer. */
export function analyseExperiment(inputs: readonly RunInput[], settings: AnalysisSettings): ExperimentAnalysis {
  const reduction = reduceExperiment(inputs, settings);
  const judgement = judgeReduction(reduction, settings);
  return { ...reduction, table: judgement.table, judgement };
}

/** A run without a sun sensor, under the modelled clear sky: the last resort. Clouds are not seen by it, so its uncertainty must be wide and its results carry a doubt. */
function underClearSky(setup: RunSetup, { series }: RunInput["assembled"]): RunSeries {
  const count = series.ambient?.length ?? [...series.lanes.values()].find((l) => l.inlet)?.inlet?.length ?? 0;
  const irradiance = Float64Array.from(
    { length: count },
    (_, i) =>
      clearSkyInPlane(series.startMs + (i + 0.5) * series.stepMs, setup.place, setup.plane, setup.linkeTurbidity).total,
  );
  return { ...series, irradiance };
}

function analyseRun(
  { setup, assembled }: RunInput,
  settings: Pick<AnalysisSettings, "rules" | "basis">,
  table: SourceTable,
): RunAnalysis {
  const { mounting } = setup.sunSensor;
  const series =
    mounting === "horizontal"
      ? inPlane(setup, assembled)
      : mounting === "modelled"
        ? underClearSky(setup, assembled)
        : assembled.series;
  const missing: RunAnalysis["missing"] = [];
  if (!series.irradiance) missing.push({ lane: null, what: "irradiance" });
  if (!series.ambient) missing.push({ lane: null, what: "ambient" });
  const ready = setup.lanes.flatMap((lane) => {
    const own = series.lanes.get(lane.lane);
    if (!own?.inlet) missing.push({ lane: lane.lane, what: "inlet" });
    if (!own?.outlet) missing.push({ lane: lane.lane, what: "outlet" });
    const constant = lane.flow.kind === "constant" ? lane.flow.massFlowKgPerS : null;
    if (!own?.flow && constant === null) missing.push({ lane: lane.lane, what: "flow" });
    if (!own?.inlet || !own.outlet || (!own.flow && constant === null)) return [];
    const flow = constant === null ? own.flow! : new Float64Array(own.inlet.length).fill(constant);
    return [{ lane: lane.lane, inlet: own.inlet, outlet: own.outlet, flow, timeConstantS: lane.timeConstantS }];
  });
  const placement = placementFindings(setup, series);
  if (!series.irradiance || !series.ambient || ready.length === 0)
    return { setup, windows: [], refusals: {}, points: [], missing, placement };
  const count = series.irradiance.length;
  const b0 = Math.max(...setup.lanes.map((l) => l.b0));
  const search = findSteadyWindows(
    {
      startMs: series.startMs,
      stepMs: series.stepMs,
      irradiance: series.irradiance,
      ambient: series.ambient,
      modifier: modifierSeries(setup, series.startMs, series.stepMs, count, b0),
      lanes: ready,
    },
    settings.rules,
  );
  const points = efficiencyPoints(setup, series, search.windows, {
    basis: settings.basis,
    modifierAt: modifierFor(setup),
    table,
  });
  return { setup, ...search, points, missing, placement };
}

function inPlane(setup: RunSetup, { series }: AssembledRun) {
  if (!series.irradiance) return series;
  const irradiance = series.irradiance.map((g, i) =>
    Number.isNaN(g) ? NaN : planeFromHorizontal(g, series.startMs + (i + 0.5) * series.stepMs, setup),
  );
  return { ...series, irradiance };
}

/** Cleaning worth a doubt: faults of instruments, not the odd missing cell. */
function cleaningNotes({ setup, assembled }: RunInput): CleaningNote[] {
  return assembled.cleaning.flatMap(({ channel, findings }) =>
    findings
      .filter(
        (f) =>
          f.reason === "errorCode" ||
          f.reason === "stuck" ||
          f.reason === "outOfRange" ||
          (f.reason === "spike" && f.count > 20),
      )
      .map((f) => ({ run: setup.run, channel: channel.name, lane: channel.lane, ...f })),
  );
}
